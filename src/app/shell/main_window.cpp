// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/main_window.h"

#include <QApplication>
#include <QBuffer>
#include <QButtonGroup>
#include <QClipboard>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QMimeData>
#include <QPointer>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "ask/new_piece_dialog.h"
#include "base/data_files.h"
#include "edit/edits.h"
#include "lettering/lettering.h"
#include "look/theme.h"
#include "make/device_strip.h"
#include "readings/zones.h"
#include "store/kit_file.h"
#include "widgets/colour_offer.h"
#include "widgets/pages.h"
#include "widgets/wheel_guard.h"
#include "work/jobs.h"
#include "work/kit_colours.h"

namespace zl::app {

MainWindow::MainWindow(Briefs briefs, Path hostFolder, Dialogs dialogs, QWidget* parent)
    : QMainWindow(parent),
      dialogs_(std::move(dialogs)),
      session_(std::move(briefs)),
      desk_(session_),
      mending_(new Mending(session_, desk_, this)),
      door_(new KitDoor(session_, dialogs_, this)) {
    setObjectName("mainWindow");
    // Where it stood last; the first time as large as fits the screen.
    const QRect room = screen() ? screen()->availableGeometry() : QRect(0, 0, 1280, 800);
    resize(std::min(1280, room.width()), std::min(800, room.height()));
    restoreGeometry(QSettings().value("window").toByteArray());
    setWindowIcon(lineIcon("zinc-ledge"));
    new WheelGuard(qApp);
    setMinimumSize(960, 620);
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(header_ = new Header(session_));
    connect(header_, &Header::viewAsked, this, [this](int id) { showView(static_cast<View>(id)); });
    connect(header_, &Header::saveAsked, this, [this] { door_->save(); });

    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(rail_ = new Rail(session_, desk_));
    centre_ = new Pages;
    right_ = new Pages;
    right_->setFixedWidth(benchWidth);

    auto* makeView = new QWidget;
    auto* makeColumn = new QVBoxLayout(makeView);
    makeColumn->setContentsMargins(0, 0, 0, 0);
    makeColumn->setSpacing(0);
    canvas_ = new Canvas(session_);
    makeColumn->addWidget(buildCanvasBar());
    makeColumn->addWidget(canvas_, 1);
    makeColumn->addWidget(new DeviceStrip(session_, *canvas_));
    bench_ = new Bench(session_);
    auto* gaugePanel = new QWidget;
    gaugeView_ = new GaugeView(session_, desk_, gaugePanel);
    auto* rehearsePanel = new QWidget;
    auto* releasePanel = new QWidget;
    rehearseView_ = new RehearseView(session_, desk_, std::move(hostFolder), rehearsePanel);
    releaseView_ = new ReleaseView(session_, desk_, releasePanel);
    for (QWidget* view :
         std::initializer_list<QWidget*>{makeView, gaugeView_, rehearseView_, releaseView_})
        centre_->addWidget(view);
    for (QWidget* panel :
         std::initializer_list<QWidget*>{bench_, gaugePanel, rehearsePanel, releasePanel})
        right_->addWidget(panel);
    middle->addWidget(centre_, 1);
    middle->addWidget(right_);
    column->addLayout(middle, 1);
    column->addWidget(ledge_ = new Ledge);
    setCentralWidget(whole);
    findings_ = new Findings(session_, whole);

    notice_ = new Notice(whole);
    connect(notice_, &Notice::filled, this, &MainWindow::placeNotice);
    connect(notice_, &Notice::closed, mending_, &Mending::cancel);

    auto* colours = new ColourOffer(this);
    colours->colours = [this] { return session_.kit().colours; };
    colours->keep = [this](Colour colour) { keepColour(session_, colour); };
    colours->drop = [this](Colour colour) { dropColour(session_, colour); };
    colours->pickFromPiece = [this](std::function<void(Colour)> picked) {
        showView(make);
        tell(tr("Click the piece where the colour is. Escape ends it."), false);
        canvas_->pickColour(std::move(picked));
    };
    connect(mending_, &Mending::told, this, &MainWindow::tell);
    connect(mending_, &Mending::ended, notice_, &QWidget::hide);
    connect(mending_, &Mending::answered, this, [this](const Kit& before) {
        canvas_->pointAt({});
        gaugeView_->rememberBefore(before);
    });
    buildMenus();
    rehearseView_->releasedFile = [this](const std::string& id) {
        return releaseView_->released(id);
    };
    connect(rail_, &Rail::newPieceAsked, this, &MainWindow::startPiece);
    connect(bench_, &Bench::pictureAsked, this, [this] { addPicture(); });
    connect(bench_, &Bench::referenceAsked, this, [this] { addPicture(true); });
    connect(bench_, &Bench::fontAsked, this, &MainWindow::addFont);
    connect(bench_, &Bench::cropAsked, this, [this](bool on) {
        showView(make);
        on ? canvas_->startCrop() : canvas_->endCrop();
    });
    connect(canvas_, &Canvas::cropChanged, this,
            [this] { bench_->setCropping(canvas_->cropping()); });
    connect(bench_, &Bench::letteringAsked, this, &MainWindow::addLettering);
    connect(bench_, &Bench::barAsked, this, &MainWindow::addBar);
    connect(bench_, &Bench::boxAsked, this, &MainWindow::addBox);
    connect(bench_, &Bench::beforeAsked, canvas_, &Canvas::setWithoutTone);
    connect(bench_, &Bench::insideAsked, canvas_, &Canvas::setInsideCut);
    connect(bench_, &Bench::drawAsked, this, [this](const std::function<void(PixelRect)>& drawn) {
        showView(make);
        canvas_->drawRegion(drawn);
    });
    connect(bench_, &Bench::trimAsked, mending_, [this] { mending_->mend("trim"); });
    connect(bench_, &Bench::toolAsked, this,
            [this](const std::function<void(PictureTool&)>& begin) {
                begin(canvas_->tool());
                canvas_->beginTool();
            });
    connect(canvas_, &Canvas::adviceChanged, this, [this](const QString& advice) {
        advice.isEmpty() ? notice_->hide() : tell(advice, true);
    });
    connect(gaugeView_, &GaugeView::placeAsked, this, &MainWindow::goTo);
    connect(gaugeView_, &GaugeView::mendAsked, mending_, &Mending::mend);
    connect(canvas_, &Canvas::letteringAsked, bench_, &Bench::editText);
    connect(ledge_, &Ledge::asked, this, &MainWindow::openFindings);
    connect(findings_, &Findings::placeAsked, this, &MainWindow::goTo);
    connect(findings_, &Findings::mendAsked, mending_, &Mending::mend);
    connect(findings_, &Findings::closed, this, [this] {
        openReading_.clear();
        allFindings_ = false;
        findings_->hide();
        canvas_->pointAt({});
        ledge_->setOpened("");
    });
    connect(releaseView_, &ReleaseView::handOverAsked, this, [this] {
        showView(rehearse);
        if (const auto file = releaseView_->released(session_.piece()->id))
            rehearseView_->handOver(*file);
    });
    connect(releaseView_, &ReleaseView::folderAsked, this, [this] {
        dialogs_.chooseFolder(this, tr("Release into"),
                              QSettings().value("releaseFolder").toString(),
                              [this](const QString& folder) { releaseView_->setFolder(folder); });
    });
    connect(rehearseView_, &RehearseView::releaseAsked, this, [this] { showView(release); });
    connect(rehearseView_, &RehearseView::fileAsked, this, [this] {
        dialogs_.openFile(
            this, tr("Hand over a file"), tr("All files (*)"),
            [this](const QString& file) { rehearseView_->handOver(file.toStdString()); });
    });
    connect(rehearseView_, &RehearseView::allAsked, this, [this] {
        showView(release);
        releaseView_->releaseReady();
    });
    connect(rehearseView_, &RehearseView::pieceAsked, this, [this](const QString& id) {
        session_.choice().choosePiece(id.toStdString());
        rehearseView_->showWall(false);
        showView(make);
    });
    connect(rehearseView_, &RehearseView::reportAsked, this, [this] {
        const QString suggested =
            QString::fromStdString(fileNameFromTitle(session_.kit().title)) + "-report.html";
        dialogs_.saveFile(
            this, tr("Write a report"), suggested, tr("Pages (*.html)"),
            [this](const QString& file) { rehearseView_->writeReport(file.toStdString()); });
    });
    connect(&session_, &Session::told, this, &MainWindow::tell);
    const auto refresh = [this] {
        refreshTitle();
        refreshActions();
        ledgeTurn_.start();
    };
    for (const auto signal : {&Session::kitChanged, &Session::chosen, &Session::opened})
        connect(&session_, signal, this, refresh);
    connect(&session_.files(), &KitFiles::saved, this, refresh);
    connect(&session_.document().history(), &QUndoStack::cleanChanged, this, &MainWindow::refreshTitle);
    // The ledge follows in a turn of its own: the hand waits for the canvas only, and several
    // numbers at a time are one picture.
    ledgeTurn_.setSingleShot(true);
    connect(&ledgeTurn_, &QTimer::timeout, this, &MainWindow::refreshLedge);
    connect(&desk_, &ReadingsDesk::changed, &ledgeTurn_, qOverload<>(&QTimer::start));
    for (const Error& error : session_.briefs().refused)
        tell(QString::fromStdString(error.sentence()), true);
    refreshTitle();
    refreshActions();
    refreshLedge();
    showView(make);
}

MainWindow::~MainWindow() {
    session_.jobs().stopAll();
    session_.jobs().waitForDone();
    // The widgets go while what they speak to is still there: a field that loses its focus sends
    // what was typed.
    session_.disconnect(this);
    session_.document().history().disconnect(this);
    desk_.disconnect(this);
    delete takeCentralWidget();
}

void MainWindow::showView(View view) {
    if (view != centre_->currentIndex() && !notice_->isBad())
        notice_->hide();  // good news belongs to where it was told
    centre_->setCurrentIndex(view);
    right_->setCurrentIndex(view);
    header_->showView(view);
    if (view == make) canvas_->setFocus();
    if (view != make) canvas_->endTool();
    if (view == gauge) gaugeView_->refresh();
    if (view == rehearse) rehearseView_->refresh();
}

MainWindow::View MainWindow::view() const {
    return static_cast<View>(centre_->currentIndex());
}

// Part by part, so that no event paints all of the window.
void MainWindow::wearTheme(const QString& name) {
    const auto parts = std::make_shared<std::vector<QPointer<QWidget>>>(
        std::vector<QPointer<QWidget>>{ledge_, rail_, right_, centre_});
    for (const auto& part : *parts) part->setUpdatesEnabled(false);
    Theme::wear(*qApp, name);
    QSettings().setValue("theme", name);
    refreshTitle();
    canvas_->repaintAll();
    if (view() == gauge) gaugeView_->refresh();
    auto* turn = new QTimer(this);
    connect(turn, &QTimer::timeout, this, [turn, parts] {
        if (parts->back()) parts->back()->setUpdatesEnabled(true);
        parts->pop_back();
        if (parts->empty()) turn->deleteLater();
    });
    turn->start();
}

void MainWindow::refreshTitle() {
    header_->refresh();
    setWindowTitle(
        tr("%1%2 – Zinc Ledge")
            .arg(session_.document().changed() ? "• " : "", QString::fromStdString(session_.kit().title)));
    setWindowModified(false);
}

void MainWindow::refreshActions() {
    for (QAction* action : pieceActions_) action->setEnabled(session_.piece());
    for (QAction* action : layerActions_) action->setEnabled(session_.layer());
    const Layer* layer = session_.layer();
    reference_->setEnabled(session_.picture());
    reference_->setChecked(layer && layer->isReference());
    essential_->setChecked(layer && isEssential(*layer, session_.piece()->frame));
}

void MainWindow::refreshLedge() {
    const Piece* piece = session_.piece();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    QString words = tr("The readings stand here as soon as there is a piece.");
    if (piece && !session_.brief())
        words = tr("The brief “%1” is not here; nothing can be measured.")
                    .arg(QString::fromStdString(piece->brief));
    if (piece && session_.brief())
        words = state && !state->refusal.isEmpty() ? state->refusal : tr("Measuring …");
    ledge_->show(state ? state->readings : std::vector<Reading>{},
                 piece && desk_.isCurrent(piece->id), words);
    if (openReading_.empty() && !allFindings_) return;
    // The open findings follow the numbers.
    std::vector<Reading> open;
    if (state)
        for (const Reading& reading : state->readings)
            if (allFindings_ || reading.id == openReading_) open.push_back(reading);
    // The focus stays in the panel as long as there is one.
    const bool focused = findings_->isAncestorOf(focusWidget());
    if (open.empty()) {
        if (focused) canvas_->setFocus();
        return findings_->hide();
    }
    findings_->show(open);
    if (focused && !findings_->isAncestorOf(focusWidget())) findings_->focusFirst();
    placeFindings();
}

void MainWindow::openFindings(const QString& readingId) {
    const bool same =
        !readingId.isEmpty() && openReading_ == readingId.toStdString() && findings_->isVisible();
    openReading_ = same ? "" : readingId.toStdString();
    allFindings_ = readingId.isEmpty() && !(allFindings_ && findings_->isVisible());
    ledge_->setOpened(openReading_);
    if (openReading_.empty() && !allFindings_) return findings_->hide();
    refreshLedge();
    showOnlyPlace();
    findings_->focusFirst();
}

// A reading that was opened and has one place points at it by itself.
void MainWindow::showOnlyPlace() {
    const PieceState* state = session_.piece() ? desk_.state(session_.piece()->id) : nullptr;
    if (!state || view() != make) return;
    canvas_->pointAt({});
    for (const Reading& reading : state->readings)
        if (reading.id == openReading_ && reading.findings.size() == 1 &&
            reading.findings.front().rect)
            pointAt(*reading.findings.front().rect);
}

void MainWindow::pointAt(const PixelRect& r) {
    if (!r.empty())
        canvas_->pointAt(RealRect{static_cast<double>(r.left), static_cast<double>(r.top),
                                  static_cast<double>(r.width()), static_cast<double>(r.height())});
}

void MainWindow::placeFindings() {
    const LedgeCell* cell = ledge_->cell(openReading_);
    const int wish = cell ? cell->x() : ledge_->width();
    const int left =
        std::clamp(wish, 0, std::max(0, centralWidget()->width() - findings_->width()));
    findings_->move(left, ledge_->y() - findings_->height() + 1);
    if (notice_->isVisible()) placeNotice();
}

void MainWindow::goTo(const Finding& finding) {
    if (view() == gauge && finding.rect) return gaugeView_->goTo(*finding.rect);
    showView(make);
    if (finding.layer) session_.choice().chooseLayer(*finding.layer);
    if (finding.rect) pointAt(*finding.rect);
}

void MainWindow::placeNotice() {
    notice_->placeOver(
        ledge_->y(), findings_->isVisible() ? std::optional(findings_->geometry()) : std::nullopt);
}

void MainWindow::tell(const QString& sentence, bool bad) {
    notice_->tell(sentence, bad);
}

void MainWindow::startPiece() {
    (new NewPieceDialog(session_, this))->open();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (QWidget* typing = focusWidget()) typing->clearFocus();  // what was typed counts
    QSettings().setValue("window", saveGeometry());
    if (closing_ || !session_.document().changed()) return event->accept();
    event->ignore();
    door_->whenSafe([this] {
        closing_ = true;
        close();
    });
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    QTimer::singleShot(0, this, [this] {
        if (findings_->isVisible()) placeFindings();
    });
}

bool MainWindow::event(QEvent* event) {
    const bool handled = QMainWindow::event(event);
    if (event->type() == QEvent::UpdateRequest && !painted_) {
        painted_ = true;
        Q_EMIT firstPainted();
    }
    return handled;
}

}  // namespace zl::app
