// SPDX-License-Identifier: GPL-3.0-or-later
#include "main_window.h"

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

#include "base/data_files.h"
#include "device_strip.h"
#include "jobs.h"
#include "kit/edits.h"
#include "kit/kit_file.h"
#include "lettering/lettering.h"
#include "new_piece_dialog.h"
#include "pages.h"
#include "readings/mend.h"
#include "readings/zones.h"
#include "theme.h"
#include "view_tab.h"
#include "wheel_guard.h"

namespace zl::app {
namespace {

QString kitFilter() {
    return MainWindow::tr("Kits (*.zlkit)");
}
}  // namespace

MainWindow::MainWindow(Briefs briefs, Path hostFolder, Dialogs dialogs, QWidget* parent)
    : QMainWindow(parent),
      dialogs_(std::move(dialogs)),
      session_(std::move(briefs)),
      desk_(session_) {
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
    column->addWidget(buildHeader());

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

    notice_ = new QWidget(whole);
    notice_->setObjectName("notice");
    notice_->setAttribute(Qt::WA_StyledBackground);
    notice_->setProperty("onLedge", true);
    auto* noticeRow = new QHBoxLayout(notice_);
    noticeRow->setContentsMargins(14, 8, 8, 8);
    noticeText_ = new QLabel;
    noticeText_->setObjectName("noticeText");
    noticeText_->setWordWrap(true);
    auto* dismiss = new QToolButton;
    dismiss->setIcon(lineIcon("close", "on-ledge"));
    dismiss->setObjectName("closeNotice");
    dismiss->setAccessibleName(tr("Close the message"));
    connect(dismiss, &QToolButton::clicked, this, [this] {
        if (mending_) stopMend_.request_stop();
        notice_->hide();
    });
    noticeRow->addWidget(noticeText_, 1);
    noticeRow->addWidget(dismiss, 0, Qt::AlignTop);
    notice_->hide();

    palette_ = new Palette(session_, this);
    palette_->pickFromPiece = [this](std::function<void(Colour)> picked) {
        showView(make);
        tell(tr("Click the piece where the colour is. Escape ends it."), false);
        canvas_->pickColour(std::move(picked));
    };
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
    connect(bench_, &Bench::trimAsked, this, [this] { mend("trim"); });
    connect(bench_, &Bench::toolAsked, this,
            [this](const std::function<void(PictureTool&)>& begin) {
                begin(canvas_->tool());
                canvas_->beginTool();
            });
    connect(canvas_, &Canvas::adviceChanged, this, [this](const QString& advice) {
        advice.isEmpty() ? notice_->hide() : tell(advice, true);
    });
    connect(gaugeView_, &GaugeView::placeAsked, this, &MainWindow::goTo);
    connect(gaugeView_, &GaugeView::mendAsked, this, &MainWindow::mend);
    connect(canvas_, &Canvas::letteringAsked, bench_, &Bench::editText);
    connect(ledge_, &Ledge::asked, this, &MainWindow::openFindings);
    connect(findings_, &Findings::placeAsked, this, &MainWindow::goTo);
    connect(findings_, &Findings::mendAsked, this, &MainWindow::mend);
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
        session_.choosePiece(id.toStdString());
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
    for (const auto signal :
         {&Session::kitChanged, &Session::chosen, &Session::opened, &Session::saved})
        connect(&session_, signal, this, [this] {
            refreshTitle();
            refreshActions();
            ledgeTurn_.start();
        });
    connect(&session_.history(), &QUndoStack::cleanChanged, this, &MainWindow::refreshTitle);
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
    session_.pool().waitForDone();
    // The widgets go while what they speak to is still there: a field that loses its focus sends
    // what was typed.
    session_.disconnect(this);
    session_.history().disconnect(this);
    desk_.disconnect(this);
    delete takeCentralWidget();
}

QWidget* MainWindow::buildHeader() {
    auto* header = new QWidget;
    header->setObjectName("header");
    header->setAttribute(Qt::WA_StyledBackground);
    header->setFixedHeight(headerHeight);
    auto* row = new QHBoxLayout(header);
    row->setContentsMargins(14, 0, 16, 0);
    row->setSpacing(8);
    crumb_ = new QLabel;
    crumb_->setObjectName("crumb");
    crumb_->setMinimumWidth(120);
    row->addWidget(crumb_, 1);
    tabs_ = new QButtonGroup(this);
    const std::pair<QString, QString> views[] = {{tr("Make"), "Alt+1"},
                                                 {tr("Gauge"), "Alt+2"},
                                                 {tr("Rehearse"), "Alt+3"},
                                                 {tr("Release"), "Alt+4"}};
    for (int i = 0; i < 4; ++i) {
        auto* tab = new ViewTab(views[i].first, views[i].second);
        tab->setObjectName("view-" + QString::number(i));
        tabs_->addButton(tab, i);
        row->addWidget(tab);
    }
    connect(tabs_, &QButtonGroup::idClicked, this,
            [this](int id) { showView(static_cast<View>(id)); });
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    savedWords_ = new QLabel;
    savedWords_->setObjectName("savedWords");
    savedWords_->setProperty("soft", true);
    buttons->addStretch();
    buttons->addWidget(savedWords_);
    const auto button = [&](const QString& words, const char* objectName) {
        auto* made = new QPushButton(words);
        made->setObjectName(objectName);
        buttons->addWidget(made);
        return made;
    };
    auto* undo = button(tr("Undo"), "undo");
    auto* redo = button(tr("Redo"), "redo");
    auto* save = button(tr("Save"), "save");
    row->addLayout(buttons, 1);
    connect(undo, &QPushButton::clicked, &session_.history(), &QUndoStack::undo);
    connect(redo, &QPushButton::clicked, &session_.history(), &QUndoStack::redo);
    connect(save, &QPushButton::clicked, this, [this] { askSave(); });
    const auto follow = [this, undo, redo] {
        undo->setEnabled(session_.history().canUndo());
        redo->setEnabled(session_.history().canRedo());
        undo->setToolTip(session_.history().canUndo()
                             ? tr("Undo: %1 (Ctrl+Z)").arg(session_.history().undoText())
                             : tr("Nothing to undo"));
        redo->setToolTip(session_.history().canRedo()
                             ? tr("Redo: %1 (Ctrl+Shift+Z)").arg(session_.history().redoText())
                             : tr("Nothing to redo"));
    };
    connect(&session_.history(), &QUndoStack::indexChanged, header, follow);
    connect(&session_.history(), &QUndoStack::canUndoChanged, header, follow);
    connect(&session_.history(), &QUndoStack::canRedoChanged, header, follow);
    follow();
    return header;
}

void MainWindow::showView(View view) {
    if (view != centre_->currentIndex() && !noticeBad_)
        notice_->hide();  // good news belongs to where it was told
    centre_->setCurrentIndex(view);
    right_->setCurrentIndex(view);
    tabs_->button(view)->setChecked(true);
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
    const Piece* piece = session_.piece();
    const QString kit = QString::fromStdString(session_.kit().title);
    crumb_->setText(piece ? QString("<span style='color:%1'>%2 &nbsp;▸&nbsp; </span>%3")
                                .arg(Theme::now()["ink-soft"].name(), kit.toHtmlEscaped(),
                                     heavy(QString::fromStdString(piece->title)))
                          : heavy(kit));
    savedWords_->setText(session_.changed() ? tr("not saved")
                         : session_.path()  ? tr("saved")
                                            : QString());
    setWindowTitle(
        tr("%1%2 – Zinc Ledge")
            .arg(session_.changed() ? "• " : "", QString::fromStdString(session_.kit().title)));
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
    if (finding.layer) session_.chooseLayer(*finding.layer);
    if (finding.rect) pointAt(*finding.rect);
}

// A mend may have to render and encode, so it is made aside; it counts only for the kit it was made
// for.
void MainWindow::mend(const QString& id) {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || mending_) return;
    mending_ = true;
    stopMend_ = std::stop_source();
    const QString title = QString::fromStdString(mendTitle(id.toStdString(), *brief, piece->frame));
    constexpr int quick = 300;  // ms; a shorter mend needs no word while it works
    QTimer::singleShot(quick, this, [this, title, mine = stopMend_] {
        if (mending_ && mine == stopMend_) tell(tr("%1 … Close this to cancel.").arg(title), true);
    });
    aside(
        session_.pool(), this,
        [kit = session_.kit(), pieceId = piece->id, demand = *brief, inks = session_.inks(),
         mendId = id.toStdString(), stop = stopMend_.get_token()] {
            return std::pair(kit, mended(mendId, kit, pieceId, demand, *inks, stop));
        },
        [this, title, mendId = id.toStdString()](std::pair<Kit, Result<Kit>> made) {
            mending_ = false;
            notice_->hide();
            if (!made.second && made.second.error().code == Code::cancelled) return;
            if (!(made.first == session_.kit()))
                return tell(tr("The piece was edited meanwhile; ask for the mend again."), true);
            canvas_->pointAt({});
            gaugeView_->rememberBefore(made.first);
            if (!made.second) return tellWhyNot(mendId, made.second.error());
            if (session_.apply(made.second, title))
                tell(tr("%1: done. Ctrl+Z brings it back.").arg(title), false);
        });
}

// Why a mend cannot help, and what else its reading offers.
void MainWindow::tellWhyNot(const std::string& mendId, const Error& why) {
    QStringList others;
    const Piece* piece = session_.piece();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    for (const Reading& reading : state ? state->readings : std::vector<Reading>{})
        if (std::find(reading.mends.begin(), reading.mends.end(), mendId) != reading.mends.end())
            for (const std::string& other : reading.mends)
                if (other != mendId && session_.brief())
                    others << QString::fromStdString(
                        mendTitle(other, *session_.brief(), piece->frame, &reading));
    const QString sentence = QString::fromStdString(why.sentence());
    tell(others.empty() ? sentence
                        : tr("%1 It offers as well: %2.").arg(sentence, others.join(tr(", "))),
         true);
}

// Over the ledge, in the middle; beside the findings, or above them, when they are open.
void MainWindow::placeNotice() {
    constexpr int apart = 12, widest = 560, narrowest = 300;
    const int all = centralWidget()->width();
    int width = std::min(widest, all - 80), left = (all - width) / 2, bottom = ledge_->y() - apart;
    if (findings_->isVisible()) {
        const QRect panel = findings_->geometry();
        const int before = panel.left() - 2 * apart, after = all - panel.right() - 1 - 2 * apart;
        if (std::max(before, after) >= narrowest) {
            width = std::min(width, std::max(before, after));
            left = after >= before ? panel.right() + 1 + apart : panel.left() - apart - width;
        } else {
            bottom = panel.top() - apart;
        }
    }
    notice_->setFixedWidth(width);
    const int wrapped = notice_->layout()->heightForWidth(width);
    notice_->setFixedHeight(wrapped > 0 ? wrapped : notice_->sizeHint().height());
    notice_->move(left, bottom - notice_->height());
}

void MainWindow::tell(const QString& sentence, bool bad) {
    noticeBad_ = bad;
    noticeText_->setText(sentence);
    noticeText_->setAccessibleDescription(bad ? tr("refused") : tr("done"));
    placeNotice();
    notice_->show();
    notice_->raise();
    // Good news leaves by itself; a refusal stays until it is read.
    if (!bad)
        QTimer::singleShot(4000, notice_, [this, sentence] {
            if (noticeText_->text() == sentence) notice_->hide();
        });
}

void MainWindow::askSave(std::function<void(bool)> done) {
    if (!session_.path()) return askSaveAs(std::move(done));
    session_.save(*session_.path(), Replace::yes, std::move(done));
}

void MainWindow::askSaveAs(std::function<void(bool)> done) {
    const QString suggested =
        QString::fromStdString(fileNameFromTitle(session_.kit().title)) + ".zlkit";
    dialogs_.saveFile(this, tr("Save the kit"), suggested, kitFilter(),
                      [this, done = std::move(done)](QString file) {
                          if (!file.endsWith(".zlkit")) file += ".zlkit";
                          session_.save(file.toStdString(), Replace::yes,
                                        done);  // the dialog asked about a file that stands there
                      });
}

void MainWindow::whenSafe(std::function<void()> then) {
    if (!session_.changed()) return then();
    dialogs_.unsaved(this, QString::fromStdString(session_.kit().title),
                     [this, then = std::move(then)](Unsaved answer) {
                         if (answer == Unsaved::discard) return then();
                         if (answer == Unsaved::save)
                             askSave([then](bool good) {
                                 if (good) then();
                             });
                     });
}

void MainWindow::openKit() {
    whenSafe([this] {
        dialogs_.openFile(this, tr("Open a kit"), kitFilter(),
                          [this](const QString& file) { session_.open(file.toStdString()); });
    });
}

// A rectangle begins as a dark bar over the frame's foot, where a desktop has its task bar; the
// rest in the middle. The chosen layers as a small kit of their own, with the pictures they show.
void MainWindow::startPiece() {
    (new NewPieceDialog(session_, this))->open();
}

void MainWindow::offerRecovery() {
    const std::vector<Path> lost = session_.lostJournals();
    if (lost.empty()) return;
    const Path journal = lost.front();
    // Its name is looked up aside: the journal may hold large originals.
    aside(
        session_.pool(), this, [journal] { return lostKit(journal); },
        [this, journal](const std::pair<QString, QString>& lostOne) {
            askToRecover(journal, lostOne.first, lostOne.second);
        });
}

void MainWindow::askToRecover(const Path& journal, const QString& title, const QString& when) {
    auto* ask = new QMessageBox(QMessageBox::NoIcon, tr("Unsaved edits were found"),
                                tr("A window ended without saving \"%1\"; its last edit is from "
                                   "%2. It can be brought back; the kit as it was saved stays "
                                   "untouched until you save.")
                                    .arg(title, when),
                                QMessageBox::NoButton, this);
    ask->setObjectName("recoveryQuestion");
    ask->setAttribute(Qt::WA_DeleteOnClose);
    auto* back = ask->addButton(tr("Bring the edits back"), QMessageBox::AcceptRole);
    auto* away = ask->addButton(tr("Throw them away"), QMessageBox::DestructiveRole);
    ask->addButton(tr("Later"), QMessageBox::RejectRole)->setObjectName("recoverLater");
    back->setObjectName("recover");
    away->setObjectName("throwAway");
    ask->setDefaultButton(back);
    connect(ask, &QMessageBox::buttonClicked, this,
            [this, journal, back, away](QAbstractButton* pressed) {
                if (pressed == back)
                    whenSafe([this, journal] { session_.recover(journal); });
                else if (pressed == away)
                    session_.forget(journal);
            });
    ask->open();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (QWidget* typing = focusWidget()) typing->clearFocus();  // what was typed counts
    QSettings().setValue("window", saveGeometry());
    if (closing_ || !session_.changed()) return event->accept();
    event->ignore();
    whenSafe([this] {
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
