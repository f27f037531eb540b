// SPDX-License-Identifier: GPL-3.0-or-later
// The window's menus: every action with its key, its name and, when it is off, why.
#include <QActionGroup>
#include <QApplication>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QProcess>
#include <QSettings>

#include "ask/frame_dialog.h"
#include "ask/lay_out_dialog.h"
#include "ask/variants_dialog.h"
#include "edit/arrange.h"
#include "edit/edits.h"
#include "look/theme.h"
#include "readings/zones.h"
#include "shell/main_window.h"
#include "work/region_edits.h"

namespace zl::app {

void MainWindow::buildMenus() {
    const auto add = [this](QMenu* menu, const QString& words, const char* objectName,
                            const QKeySequence& key, auto run) {
        QAction* action = menu->addAction(words);
        action->setObjectName(objectName);
        action->setShortcut(key);
        connect(action, &QAction::triggered, this, run);
        return action;
    };
    QMenu* kit = menuBar()->addMenu(tr("&Kit"));
    add(kit, tr("New kit"), "newKit", QKeySequence::New,
        [this] { door_->whenSafe([this] { session_.files().newKit(); }); });
    add(kit, tr("Open …"), "openKit", QKeySequence::Open, [this] { door_->open(); });
    QMenu* recentKits = kit->addMenu(tr("Open recent"));
    const auto fillRecent = [this](QMenu* menu, const char* what, auto run) {
        connect(menu, &QMenu::aboutToShow, this, [this, menu, what, run] {
            menu->clear();
            const QStringList files = recentFiles(what);
            for (const QString& file : files) {
                QAction* action =
                    menu->addAction(QFileInfo(file).fileName(), this, [file, run] { run(file); });
                action->setObjectName("recent");
                action->setToolTip(file);
            }
            if (files.isEmpty()) menu->addAction(tr("Nothing yet"))->setEnabled(false);
        });
    };
    fillRecent(recentKits, "recentKits", [this](const QString& file) {
        door_->whenSafe([this, file] { session_.files().open(file.toStdString()); });
    });
    add(kit, tr("New window"), "newWindow", {}, [this] {
        if (!QProcess::startDetached(QCoreApplication::applicationFilePath(), {"--new"}))
            tell(tr("Another window could not be opened."), true);
    });
    kit->addSeparator();
    add(kit, tr("Save"), "saveKit", QKeySequence::Save, [this] { door_->save(); });
    add(kit, tr("Save as …"), "saveKitAs", QKeySequence("Ctrl+Shift+S"),
        [this] { door_->saveAs(); });
    add(kit, tr("Rename the kit …"), "renameKit", {}, [this] {
        auto* ask = new QInputDialog(this);
        ask->setAttribute(Qt::WA_DeleteOnClose);
        ask->setWindowTitle(tr("Rename the kit"));
        ask->setLabelText(tr("Name of the channel"));
        ask->setTextValue(QString::fromStdString(session_.kit().title));
        connect(ask, &QInputDialog::textValueSelected, this, [this](const QString& name) {
            if (!name.trimmed().isEmpty())
                session_.apply(withTitle(session_.kit(), name.trimmed().toStdString()),
                               tr("Rename the kit"));
        });
        ask->open();
    });
    kit->addSeparator();
    add(kit, tr("Quit"), "quit", QKeySequence("Ctrl+Q"), [this] { close(); });

    QMenu* piece = menuBar()->addMenu(tr("&Piece"));
    // Undo and redo have their buttons in the header; their keys live here.
    add(piece, tr("Undo"), "undoAction", QKeySequence::Undo, [this] { session_.document().history().undo(); });
    add(piece, tr("Redo"), "redoAction", QKeySequence("Ctrl+Shift+Z"),
        [this] { session_.document().history().redo(); });
    piece->addSeparator();
    add(piece, tr("Start a piece …"), "startPieceAction", QKeySequence("Ctrl+Shift+N"),
        [this] { startPiece(); });
    pieceActions_.push_back(add(piece, tr("Remove the piece"), "removePiece", {}, [this] {
        if (session_.piece())
            session_.apply(withoutPiece(session_.kit(), session_.piece()->id),
                           tr("Remove the piece"));
    }));
    pieceActions_.push_back(add(piece, tr("Twice the frame"), "twiceFrame", {}, [this] {
        if (session_.piece())
            session_.apply(withPieceScaled(session_.kit(), session_.piece()->id, 2),
                           tr("Twice the frame"));
    }));
    pieceActions_.push_back(
        add(piece, tr("Frame and size …"), "frameAction", QKeySequence("Ctrl+Alt+F"), [this] {
            if (session_.piece()) (new FrameDialog(session_, this))->open();
        }));
    pieceActions_.push_back(add(piece, tr("Make room for finishes"), "makeRoomAction", {},
                                [this] { mending_->mend("make-room"); }));
    piece->addSeparator();
    const auto doublePiece = [this](bool asVariant) {
        const std::string id = session_.piece()->id;
        if (!session_.apply(withPieceDoubled(session_.kit(), id, asVariant),
                            asVariant ? tr("Start a variant") : tr("Duplicate the piece")))
            return;
        for (std::size_t i = 0; i + 1 < session_.kit().pieces.size(); ++i)
            if (session_.kit().pieces[i].id == id)
                session_.choice().choosePiece(session_.kit().pieces[i + 1].id);
    };
    pieceActions_.push_back(add(piece, tr("Duplicate the piece"), "doublePieceAction", {},
                                [doublePiece] { doublePiece(false); }));
    pieceActions_.push_back(add(piece, tr("Start a variant"), "variantAction",
                                QKeySequence("Ctrl+Alt+V"), [doublePiece] { doublePiece(true); }));
    pieceActions_.push_back(add(piece, tr("Compare variants …"), "compareVariantsAction",
                                QKeySequence("Ctrl+Alt+C"),
                                [this] { (new VariantsDialog(session_, desk_, this))->open(); }));
    piece->addSeparator();
    pieceActions_.push_back(add(piece, tr("Lay out for other places …"), "layOutAction",
                                QKeySequence("Ctrl+Alt+L"),
                                [this] { (new LayOutDialog(session_, this))->open(); }));
    pieceActions_.push_back(add(piece, tr("Carry edits over"), "carryOverAction",
                                QKeySequence("Ctrl+Alt+E"), [this] { carryEditsOver(session_); }));
    pieceActions_.push_back(
        add(piece, tr("Draw a link region"), "drawLinkAction", QKeySequence("Ctrl+Alt+K"), [this] {
            showView(make);
            canvas_->drawRegion([this](PixelRect r) { addLink(session_, r); });
        }));
    pieceActions_.push_back(
        add(piece, tr("Cut a slice"), "drawSliceAction", QKeySequence("Ctrl+Alt+S"), [this] {
            showView(make);
            canvas_->drawRegion([this](PixelRect r) { addSlice(session_, r); });
        }));
    pieceActions_.push_back(add(piece, tr("Cut a header strip"), "headerStripAction", {},
                                [this] { addHeaderStrip(session_); }));
    pieceActions_.push_back(add(piece, tr("A brief of your own …"), "ownBriefAction", {},
                                [this] { openBriefDialog(); }));
    piece->addSeparator();
    const auto step = [this](int by) {
        const auto& pieces = session_.kit().pieces;
        if (!session_.piece()) return;
        const auto n = static_cast<std::ptrdiff_t>(pieces.size()),
                   at = static_cast<std::ptrdiff_t>(pieces.placeOf(session_.piece()));
        session_.choice().choosePiece(pieces[static_cast<std::size_t>((at + by + n) % n)].id);
    };
    pieceActions_.push_back(add(piece, tr("Next piece"), "nextPiece", QKeySequence("Ctrl+PgDown"),
                                [step] { step(1); }));
    pieceActions_.push_back(add(piece, tr("Previous piece"), "previousPiece",
                                QKeySequence("Ctrl+PgUp"), [step] { step(-1); }));
    piece->addSeparator();
    pieceActions_.push_back(
        add(piece, tr("Release"), "releaseAction", QKeySequence("Ctrl+R"), [this] {
            showView(release);
            releaseView_->release();
        }));

    QMenu* layer = menuBar()->addMenu(tr("&Layer"));
    pieceActions_.push_back(add(layer, tr("Add picture …"), "addPictureAction",
                                QKeySequence("Ctrl+I"), [this] { addPicture(); }));
    layerActions_.push_back(
        add(layer, tr("Copy"), "copyLayers", QKeySequence::Copy, [this] { copyLayers(); }));
    pieceActions_.push_back(
        add(layer, tr("Paste"), "paste", QKeySequence::Paste, [this] { paste(); }));
    layerActions_.push_back(
        add(layer, tr("Copy the finish"), "copyFinish", QKeySequence("Ctrl+Shift+C"), [this] {
            copiedFinish_ = session_.layer()->finishes;
            tell(tr("Copied the finish of “%1”.")
                     .arg(QString::fromStdString(session_.layer()->name)),
                 false);
        }));
    layerActions_.push_back(add(
        layer, tr("Put the copied finish on"), "pasteFinish", QKeySequence("Ctrl+Shift+V"), [this] {
            if (!copiedFinish_) return tell(tr("Copy a layer's finish first."), true);
            session_.editLayers(session_.chosenIds(), tr("Put a finish on"), {},
                                [this](Layer& one) { one.finishes = *copiedFinish_; });
        }));
    QMenu* recentPictures = layer->addMenu(tr("Recent pictures"));
    fillRecent(recentPictures, "recentPictures", [this](const QString& file) {
        session_.intake().bringIn(std::vector<Path>{file.toStdString()});
    });
    pieceActions_.push_back(
        add(layer, tr("Add reference …"), "addReferenceAction", {}, [this] { addPicture(true); }));
    pieceActions_.push_back(
        add(layer, tr("Add font file …"), "addFontAction", {}, [this] { addFont(); }));
    pieceActions_.push_back(add(layer, tr("Add lettering"), "addLetteringAction",
                                QKeySequence("Ctrl+T"), [this] { addLettering(); }));
    pieceActions_.push_back(
        add(layer, tr("Add a bar"), "addBarAction", QKeySequence("Ctrl+B"), [this] { addBar(0); }));
    layer->addSeparator();
    layerActions_.push_back(add(layer, tr("Duplicate"), "doubleLayerAction", QKeySequence("Ctrl+D"),
                                [this] { bench_->layers().doubleChosen(); }));
    layerActions_.push_back(add(layer, tr("Delete"), "deleteLayerAction", QKeySequence::Delete,
                                [this] { bench_->layers().removeChosen(); }));
    layerActions_.push_back(add(layer, tr("Hide or show"), "hideLayerAction",
                                QKeySequence("Ctrl+H"), [this] { bench_->layers().hideChosen(); }));
    layerActions_.push_back(add(layer, tr("Raise"), "raiseAction", QKeySequence("Ctrl+Up"),
                                [this] { bench_->layers().raise(1); }));
    layerActions_.push_back(add(layer, tr("Lower"), "lowerAction", QKeySequence("Ctrl+Down"),
                                [this] { bench_->layers().raise(-1); }));

    layerActions_.push_back(
        add(layer, tr("Choose all"), "chooseAllAction", QKeySequence::SelectAll, [this] {
            std::set<int> ids;
            for (const Layer& one : session_.piece()->layers) ids.insert(one.id);
            session_.choice().chooseLayers(ids, session_.layer()->id);
        }));
    layerActions_.push_back(add(layer, tr("Group"), "groupAction", QKeySequence("Ctrl+G"), [this] {
        session_.apply(withGroup(session_.kit(), session_.piece()->id, session_.chosenIds()),
                       tr("Group"));
    }));
    layerActions_.push_back(
        add(layer, tr("Ungroup"), "ungroupAction", QKeySequence("Ctrl+Shift+G"), [this] {
            session_.apply(withoutGroup(session_.kit(), session_.piece()->id,
                                        withGroupMates(*session_.piece(), session_.chosenIds())),
                           tr("Ungroup"));
        }));

    layer->addSeparator();
    layerActions_.push_back(add(layer, tr("Crop"), "cropAction", QKeySequence("Ctrl+K"), [this] {
        if (canvas_->cropping()) return canvas_->endCrop();
        showView(make);
        canvas_->startCrop();
    }));
    const auto change = [this](const QString& what, auto set) {
        if (!session_.layer()) return;
        Layer next = *session_.layer();
        set(next);
        session_.apply(withChangedLayer(session_.kit(), session_.piece()->id, next), what);
    };
    reference_ = add(layer, tr("Reference, not released"), "referenceAction", {}, [change] {
        change(tr("Reference"), [](Layer& l) {
            if (PictureLayer* picture = l.picture()) picture->reference = !picture->reference;
        });
    });
    essential_ = add(layer, tr("Essential in the zones"), "essentialAction", {}, [this, change] {
        change(tr("Essential"),
               [this](Layer& l) { l.essential = !isEssential(l, session_.piece()->frame); });
    });
    for (QAction* action : {reference_, essential_}) {
        action->setCheckable(true);
        layerActions_.push_back(action);
    }

    QMenu* view = menuBar()->addMenu(tr("&View"));
    add(view, tr("Make"), "viewMake", QKeySequence("Alt+1"), [this] { showView(make); });
    add(view, tr("Gauge"), "viewGauge", QKeySequence("Alt+2"), [this] { showView(gauge); });
    add(view, tr("Rehearse"), "viewRehearse", QKeySequence("Alt+3"),
        [this] { showView(rehearse); });
    add(view, tr("Release"), "viewRelease", QKeySequence("Alt+4"), [this] { showView(release); });
    view->addSeparator();
    add(view, tr("All readings"), "allReadings", QKeySequence("Ctrl+L"),
        [this] { openFindings({}); });
    add(view, tr("Fit the frame"), "fitAction", QKeySequence("Ctrl+0"),
        [this] { canvas_->setZoom(0); });
    add(view, tr("100 %"), "zoom100Action", QKeySequence("Ctrl+1"),
        [this] { canvas_->setZoom(1); });
    add(view, tr("200 %"), "zoom200Action", QKeySequence("Ctrl+2"),
        [this] { canvas_->setZoom(2); });
    QAction* thirds =
        add(view, tr("Thirds and centre lines"), "thirdsAction", QKeySequence("Ctrl+'"), [this] {});
    thirds->setCheckable(true);
    connect(thirds, &QAction::toggled, canvas_, &Canvas::setThirdsShown);
    view->addSeparator();
    auto* themes = new QActionGroup(this);
    for (const auto& [words, name] : {std::pair(tr("Zinc sheet"), QString("zinc-sheet")),
                                      std::pair(tr("Night bench"), QString("night-bench"))}) {
        QAction* action = view->addAction(words);
        action->setObjectName("theme-" + name);
        action->setCheckable(true);
        action->setChecked(Theme::name() == name);
        themes->addAction(action);
        connect(action, &QAction::triggered, this, [this, name = name] { wearTheme(name); });
    }

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    add(help, tr("Keys"), "keys", QKeySequence("F1"), [this] {
        auto* box = new QMessageBox(
            QMessageBox::NoIcon, tr("Keys"),
            tr("<table cellpadding='3'>"
               "<tr><td><b>Arrows</b></td><td>move the chosen layer 1 px, with Shift 10 "
               "px</td></tr>"
               "<tr><td><b>Page Up, Page Down</b></td><td>choose the layer above or below</td></tr>"
               "<tr><td><b>Ctrl + a corner</b></td><td>scale without holding the shape</td></tr>"
               "<tr><td><b>Ctrl while moving</b></td><td>let a layer go where the hand goes, "
               "without snapping</td></tr>"
               "<tr><td><b>Shift + click, Ctrl+A</b></td><td>choose several layers; Ctrl+G groups "
               "them</td></tr>"
               "<tr><td><b>The round handle</b></td><td>turns; with Shift in steps of 15°</td></tr>"
               "<tr><td><b>Ctrl+Shift+C, Ctrl+Shift+V</b></td><td>copy a finish, put it on other "
               "layers</td></tr>"
               "<tr><td><b>Ctrl+K</b></td><td>crop the chosen picture; Enter ends it</td></tr>"
               "<tr><td><b>Ctrl + wheel</b></td><td>zoom; the wheel alone scrolls, the middle "
               "button drags</td></tr>"
               "<tr><td><b>F2, Space, Delete</b></td><td>in the layer list: rename, hide, "
               "delete</td></tr>"
               "<tr><td><b>Ctrl+L</b></td><td>all readings with their findings and mends</td></tr>"
               "<tr><td><b>Alt+1 … 4</b></td><td>Make, Gauge, Rehearse, Release</td></tr></table>"),
            QMessageBox::Close, this);
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->open();
    });
    add(help, tr("About Zinc Ledge"), "about", {}, [this] {
        auto* box = new QMessageBox(QMessageBox::NoIcon, tr("About Zinc Ledge"),
                                    tr("<b>Zinc Ledge %1</b><br>Prepares and measures the pictures "
                                       "that surround a video or a stream.<br><br>"
                                       "Free software, GPL-3.0-or-later. Its fonts are under the "
                                       "SIL Open Font License 1.1.")
                                        .arg(ZL_VERSION),
                                    QMessageBox::Close, this);
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->open();
    });
}

}  // namespace zl::app
