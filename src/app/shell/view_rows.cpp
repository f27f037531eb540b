// SPDX-License-Identifier: GPL-3.0-or-later
// Each view with its bench, and what it asks the window for.
#include <QDesktopServices>
#include <QSettings>
#include <QUrl>
#include <QVBoxLayout>

#include "film/film_view.h"
#include "gauge/gauge_view.h"
#include "make/bench.h"
#include "make/canvas_bar.h"
#include "make/device_strip.h"
#include "make/time_strip.h"
#include "rehearse/rehearse_view.h"
#include "release/release_view.h"
#include "shell/layer_door.h"
#include "shell/main_window.h"
#include "shell/view_row.h"
#include "stamping/stamping_view.h"
#include "stamping/what_form.h"
#include "widgets/pages.h"

namespace zl::app {
namespace {

void listenToBench(MainWindow& window, Canvas* canvas, Bench* bench) {
    LayerDoor& door = window.layerDoor();
    QObject::connect(bench, &Bench::pictureAsked, &door, [&door] { door.addPicture(); });
    QObject::connect(bench, &Bench::stillAsked, &door, &LayerDoor::addStill);
    QObject::connect(bench, &Bench::newClipAsked, &door, &LayerDoor::addClip);
    QObject::connect(bench, &Bench::clipAsked, &door, [&door, bench] {
        door.openVideo([bench](const QString& file) { bench->clipFound(file); });
    });
    QObject::connect(bench, &Bench::referenceAsked, &door, [&door] { door.addPicture(true); });
    QObject::connect(bench, &Bench::fontAsked, &door, &LayerDoor::addFont);
    QObject::connect(bench, &Bench::letteringAsked, &door, &LayerDoor::addLettering);
    QObject::connect(bench, &Bench::barAsked, &door, &LayerDoor::addBar);
    QObject::connect(bench, &Bench::boxAsked, &door, &LayerDoor::addOverlayBox);
    QObject::connect(&door, &LayerDoor::added, &window,
                     [&window] { window.showView(MainWindow::make); });
    QObject::connect(&door, &LayerDoor::letteringAdded, bench, &Bench::editText);
    QObject::connect(bench, &Bench::cropAsked, &window, [&window, canvas](bool on) {
        window.showView(MainWindow::make);
        on ? canvas->startCrop() : canvas->endCrop();
    });
    QObject::connect(bench, &Bench::beforeAsked, canvas, &Canvas::setWithoutTone);
    QObject::connect(bench, &Bench::insideAsked, canvas, &Canvas::setInsideCut);
    QObject::connect(
        bench, &Bench::drawAsked, &window,
        [&window](const std::function<void(PixelRect)>& drawn) { window.drawRegion(drawn); });
    QObject::connect(bench, &Bench::trimAsked, &window.mending(),
                     [&window] { window.mending().mend("trim"); });
    QObject::connect(bench, &Bench::toolAsked, canvas,
                     [canvas](const std::function<void(PictureTool&)>& begin) {
                         begin(canvas->tool());
                         canvas->beginTool();
                     });
    QObject::connect(canvas, &Canvas::cropChanged, bench,
                     [canvas, bench] { bench->setCropping(canvas->cropping()); });
    QObject::connect(canvas, &Canvas::letteringAsked, bench, &Bench::editText);
}

ViewParts makeParts(MainWindow& window) {
    auto* view = new QWidget;
    auto* column = new QVBoxLayout(view);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* canvas = new Canvas(window.session());
    auto* bar = new CanvasBar(window.session(), *canvas);
    column->addWidget(bar);
    column->addWidget(canvas, 1);
    column->addWidget(new TimeStrip(window.session(), *canvas));
    column->addWidget(new DeviceStrip(window.session(), *canvas));
    auto* bench = new Bench(window.session());
    listenToBench(window, canvas, bench);
    QObject::connect(bar, &CanvasBar::briefAsked, &window, &MainWindow::openBriefDialog);
    QObject::connect(canvas, &Canvas::adviceChanged, &window,
                     [&window](const QString& advice) { window.advise(advice); });
    QObject::connect(&window.mending(), &Mending::answered, canvas,
                     [canvas] { canvas->pointAt({}); });
    // Film takes the canvas's place while a still is picked.
    auto* pages = new Pages;
    auto* film = new FilmView(window.session());
    pages->addWidget(view);
    pages->addWidget(film);
    const auto back = [pages, film, canvas] {
        if (pages->currentIndex() == 0) return;
        film->close();
        pages->setCurrentIndex(0);
        canvas->setFocus();
    };
    QObject::connect(&film->desk(), &FilmDesk::lookedThrough, &window.readings(),
                     &ReadingsDesk::measureAgain);
    QObject::connect(film, &FilmView::taken, pages, back);
    QObject::connect(film, &FilmView::closed, pages, back);
    QObject::connect(canvas, &Canvas::needed, pages, back);
    QObject::connect(&window.session(), &Session::opened, pages, back);
    QObject::connect(&window, &MainWindow::filmOpened, pages, [pages, film] {
        pages->setCurrentWidget(film);
        film->setFocus();
    });
    return {
        .view = pages,
        .bench = bench,
        .shown = [pages, film,
                  canvas] { pages->currentIndex() == 1 ? film->setFocus() : canvas->setFocus(); },
        .left = [canvas] { canvas->endTool(); },
        .worn = [canvas] { canvas->repaintAll(); }};
}

ViewParts gaugeParts(MainWindow& window) {
    auto* bench = new QWidget;
    auto* view = new GaugeView(window.session(), window.readings(), bench);
    QObject::connect(view, &GaugeView::placeAsked, &window, &MainWindow::goTo);
    QObject::connect(view, &GaugeView::mendAsked, &window.mending(), &Mending::mend);
    QObject::connect(&window.mending(), &Mending::answered, view, &GaugeView::rememberBefore);
    const auto refresh = [view] { view->refresh(); };
    return {.view = view,
            .bench = bench,
            .shown = refresh,
            .worn = [view, refresh] { view->isVisible() ? refresh() : void(); },
            .goTo = [view](const PixelRect& place) { view->goTo(place); }};
}

ViewParts rehearseParts(MainWindow& window, const Path& hostFolder) {
    auto* bench = new QWidget;
    auto* view = new RehearseView(window.session(), window.readings(), hostFolder, bench);
    QObject::connect(&view->gallery(), &GalleryView::stampingAsked, &window,
                     [&window] { window.showView(MainWindow::stamping); });
    QObject::connect(view, &RehearseView::releaseAsked, &window,
                     [&window] { window.showView(MainWindow::release); });
    QObject::connect(view, &RehearseView::fileAsked, view, [&window, view] {
        window.dialogs().openFile(
            &window, RehearseView::tr("Hand over a file"), RehearseView::tr("All files (*)"),
            [view](const QString& file) { view->handOver(file.toStdString()); });
    });
    QObject::connect(view, &RehearseView::pieceAsked, view, [&window, view](const QString& id) {
        window.session().choice().choosePiece(id.toStdString());
        view->showWall(false);
        window.showView(MainWindow::make);
    });
    QObject::connect(view, &RehearseView::reportAsked, view, [&window, view] {
        const QString suggested =
            QString::fromStdString(fileNameFromTitle(window.session().kit().title)) +
            "-report.html";
        window.dialogs().saveFile(&window, RehearseView::tr("Write a report"), suggested,
                                  RehearseView::tr("Pages (*.html)"), [view](const QString& file) {
                                      view->writeReport(file.toStdString());
                                  });
    });
    return {.view = view, .bench = bench, .shown = [view] { view->refresh(); }};
}

// What is released is handed over in the view before it, which is there already.
ViewParts releaseParts(MainWindow& window) {
    auto* bench = new QWidget;
    auto* view = new ReleaseView(window.session(), window.readings(), bench);
    QObject::connect(view, &ReleaseView::folderAsked, view, [&window, view] {
        window.dialogs().chooseFolder(&window, ReleaseView::tr("Release into"),
                                      QSettings().value("releaseFolder").toString(),
                                      [view](const QString& folder) { view->setFolder(folder); });
    });
    auto* rehearse = window.part<RehearseView>();
    rehearse->releasedFile = [view](const std::string& id) { return view->released(id); };
    QObject::connect(rehearse, &RehearseView::allAsked, view, [&window, view] {
        window.showView(MainWindow::release);
        view->releaseReady();
    });
    QObject::connect(view, &ReleaseView::handOverAsked, rehearse, [&window, view, rehearse] {
        window.showView(MainWindow::rehearse);
        if (const auto file = view->released(window.session().piece()->id))
            rehearse->handOver(*file);
    });
    return {.view = view, .bench = bench};
}

// What stamps that are kept ask the person.
void listenToStamps(MainWindow& window, StampKeeping& keeping) {
    Dialogs& dialogs = window.dialogs();
    QObject::connect(&keeping, &StampKeeping::nameAsked, &window,
                     [&window, &dialogs](const QString& title, const QString& now,
                                         const std::function<void(QString)>& done) {
                         dialogs.askText(&window, title, StampingView::tr("Name"), now, done);
                     });
    QObject::connect(&keeping, &StampKeeping::deleteAsked, &window,
                     [&window, &dialogs](const QString& words, const std::function<void()>& done) {
                         dialogs.confirm(&window, words, StampingView::tr("Delete the stamp"),
                                         done);
                     });
    QObject::connect(&keeping, &StampKeeping::exportAsked, &window,
                     [&window, &dialogs, &keeping](const QString& suggested) {
                         dialogs.saveFile(&window, StampingView::tr("Write the stamp"), suggested,
                                          StampingView::tr("Stamps (*.json)"),
                                          [&keeping](const QString& f) { keeping.exportTo(f); });
                     });
    QObject::connect(&keeping, &StampKeeping::importAsked, &window, [&window, &dialogs, &keeping] {
        dialogs.openFile(&window, StampingView::tr("Read a stamp"),
                         StampingView::tr("Stamps (*.json)"),
                         [&keeping](const QString& file) { keeping.importFrom(file); });
    });
}

// Made when it is first shown: whoever never stamps does not wait for it.
void makeStamping(MainWindow& window, const ViewParts& parts) {
    auto* view = new StampingView(window.session());
    for (const auto& [place, widget] : {std::pair<QWidget*, QWidget*>{parts.view, view},
                                        {parts.bench, view->bench()},
                                        {parts.foot, view->foot()}}) {
        auto* column = new QVBoxLayout(place);
        column->setContentsMargins(0, 0, 0, 0);
        column->addWidget(widget);
        widget->show();  // its place is seen already
    }
    StampDesk& desk = view->desk();
    window.part<GalleryView>()->setDesk(&desk);
    Dialogs& dialogs = window.dialogs();
    QObject::connect(view, &StampingView::filesAsked, view, [&window, &dialogs, &desk] {
        dialogs.openFiles(&window, StampingView::tr("Add photographs"), pictureFilter(),
                          [&desk](const QStringList& files) {
                              std::vector<Path> paths;
                              for (const QString& file : files)
                                  paths.emplace_back(file.toStdString());
                              if (!paths.empty()) desk.add(paths, false);
                          });
    });
    QObject::connect(view, &StampingView::folderAsked, view, [&window, &dialogs, &desk, view] {
        dialogs.chooseFolder(&window, StampingView::tr("Add a folder"), {},
                             [&desk, view](const QString& folder) {
                                 desk.add({Path(folder.toStdString())}, view->withSubfolders());
                             });
    });
    RunFoot* foot = view->foot();
    QObject::connect(foot, &RunFoot::folderAsked, view, [&window, &dialogs, foot] {
        dialogs.chooseFolder(&window, StampingView::tr("Put the marked photographs into"),
                             QSettings().value("stampFolder").toString(),
                             [foot](const QString& folder) { foot->setFolder(folder); });
    });
    QObject::connect(foot, &RunFoot::refused, view,
                     [&window](const QString& sentence) { window.tell(sentence, true); });
    QObject::connect(foot, &RunFoot::reportAsked, view, [](const QString& file) {
        QDesktopServices::openUrl(QUrl::fromLocalFile(file));
    });
    listenToStamps(window, view->bench()->keeping());
    WhatForm& what = view->bench()->what();
    QObject::connect(&what, &WhatForm::pictureAsked, view, [&window, &dialogs, &what](bool twin) {
        dialogs.openFile(&window, StampingView::tr("Choose a mark"), pictureFilter(),
                         [&what, twin](const QString& file) { what.setPicture(file, twin); });
    });
    QObject::connect(view, &StampingView::stamped, &window,
                     [&window] { window.showView(MainWindow::make); });
}

ViewParts stampingParts(MainWindow& window) {
    ViewParts parts{
        .view = new QWidget, .bench = new QWidget, .foot = new QWidget, .ofPiece = false};
    parts.bench->setFixedWidth(benchWidth);
    parts.foot->setFixedHeight(ledgeHeight);
    parts.shown = [&window, parts] {
        if (!parts.view->layout()) makeStamping(window, parts);
        window.part<PhotoGrid>()->setFocus();
    };
    return parts;
}

}  // namespace

std::vector<ViewRow> viewRows(const Path& hostFolder) {
    return {
        {MainWindow::make, MainWindow::tr("Make"), "Alt+1", makeParts},
        {MainWindow::gauge, MainWindow::tr("Gauge"), "Alt+2", gaugeParts},
        {MainWindow::rehearse, MainWindow::tr("Rehearse"), "Alt+3",
         [hostFolder](MainWindow& window) { return rehearseParts(window, hostFolder); }},
        {MainWindow::release, MainWindow::tr("Release"), "Alt+4", releaseParts},
        {MainWindow::stamping, MainWindow::tr("Stamping"), "Alt+5", stampingParts},
    };
}

}  // namespace zl::app
