// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QPointer>
#include <QSettings>
#include <QTimer>
#include <QVBoxLayout>

#include "ask/brief_dialog.h"
#include "ask/new_piece_dialog.h"
#include "film/film_view.h"
#include "look/theme.h"
#include "shell/drop_door.h"
#include "widgets/colour_offer.h"
#include "widgets/fields.h"
#include "widgets/wheel_guard.h"
#include "work/kit_colours.h"

namespace zl::app {

MainWindow::MainWindow(Briefs briefs, std::vector<ViewRow> views, Dialogs dialogs, QWidget* parent)
    : QMainWindow(parent),
      dialogs_(std::move(dialogs)),
      session_(std::move(briefs)),
      desk_(session_),
      mending_(new Mending(session_, desk_, this)),
      door_(new KitDoor(session_, dialogs_, this)),
      layerDoor_(new LayerDoor(session_, dialogs_, this)),
      views_(std::move(views)) {
    setObjectName("mainWindow");
    // Where it stood last; the first time as large as fits the screen.
    const QRect room = screen() ? screen()->availableGeometry() : QRect(0, 0, 1280, 800);
    resize(std::min(1280, room.width()), std::min(800, room.height()));
    restoreGeometry(QSettings().value("window").toByteArray());
    setWindowIcon(lineIcon("zinc-ledge"));
    new WheelGuard(qApp);
    new DropDoor(*this);
    setMinimumSize(960, 620);
    QWidget* whole = build();
    views_.make(*this);
    foot_ = new ReadingsFoot(session_, desk_, whole);
    whole->layout()->addWidget(foot_->ledge());
    for (QWidget* foot : views_.feet()) {
        whole->layout()->addWidget(foot);
        foot->hide();
    }
    notice_ = new Notice(whole);
    offerColours();
    actions_ = new Actions(*this);
    header_->nameKeys(actions_->keyOf("undoAction"), actions_->keyOf("redoAction"));
    listen();
    for (const Error& error : session_.briefs().refused)
        tell(QString::fromStdString(error.sentence()), true);
    refresh();
    foot_->refresh();
    showView(views_.idAt(0));
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

QWidget* MainWindow::build() {
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(header_ = new Header(session_, views_.titles(), views_.keys()));
    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(rail_ = new Rail(session_, desk_));
    middle->addWidget(views_.centre(), 1);
    middle->addWidget(views_.benches());
    column->addLayout(middle, 1);
    setCentralWidget(whole);
    return whole;
}

void MainWindow::listen() {
    connect(header_, &Header::viewAsked, this, [this](int at) { showView(views_.idAt(at)); });
    connect(header_, &Header::saveAsked, this, [this] {
        sendTyped(*this);
        door_->save();
    });
    connect(rail_, &Rail::newPieceAsked, this, [this] { startPiece(); });
    connect(notice_, &Notice::closed, mending_, &Mending::cancel);
    const auto placeNotice = [this] {
        const QWidget* panel = foot_->findings();
        notice_->placeOver(centralWidget()->height() - ledgeHeight,
                           panel->isVisible() ? std::optional(panel->geometry()) : std::nullopt);
    };
    connect(notice_, &Notice::filled, this, placeNotice);
    connect(foot_, &ReadingsFoot::placed, this, [this, placeNotice] {
        if (notice_->isVisible()) placeNotice();
    });
    connect(foot_, &ReadingsFoot::opened, this, [this](const std::optional<PixelRect>& place) {
        if (view() == make) pointAt(place.value_or(PixelRect{}));
    });
    connect(foot_, &ReadingsFoot::closed, this, [this] { pointAt({}); });
    connect(foot_, &ReadingsFoot::emptied, this, [this] { canvas().setFocus(); });
    connect(foot_->findings(), &Findings::placeAsked, this, &MainWindow::goTo);
    connect(foot_->findings(), &Findings::mendAsked, mending_, &Mending::mend);
    connect(mending_, &Mending::told, this, &MainWindow::tell);
    connect(mending_, &Mending::ended, notice_, &QWidget::hide);
    connect(&session_, &Session::told, this, &MainWindow::tell);
    connect(&session_.choice(), &Choice::leaving, this, [this] { leaveTyped(*this); });
    connect(&session_.intake(), &Intake::videoBrought, this,
            [this](const QString& file) { session_.piece() ? openFilm(file) : startPiece(file); });
    for (const auto signal : {&Session::kitChanged, &Session::chosen, &Session::opened})
        connect(&session_, signal, this, &MainWindow::refresh);
    connect(&session_.files(), &KitFiles::saved, this, &MainWindow::refresh);
    connect(&session_.document().history(), &QUndoStack::cleanChanged, this, &MainWindow::refresh);
}

// Every colour field of the window offers the kit's colours, and takes one from the piece.
void MainWindow::offerColours() {
    auto* colours = new ColourOffer(this);
    colours->colours = [this] { return session_.kit().colours; };
    colours->keep = [this](Colour colour) { keepColour(session_, colour); };
    colours->drop = [this](Colour colour) { dropColour(session_, colour); };
    colours->pickFromPiece = [this](std::function<void(Colour)> picked) {
        showView(make);
        tell(tr("Click the piece where the colour is. Escape ends it."), false);
        canvas().pickColour(std::move(picked));
    };
}

void MainWindow::showView(std::string_view id) {
    const bool another = views_.show(id);
    if (another && !notice_->isBad()) notice_->hide();  // good news belongs to where it was told
    header_->showView(views_.at());
    const ViewParts& parts = views_.parts();
    rail_->setVisible(parts.ofPiece);
    foot_->ledge()->setVisible(!parts.foot);
    if (parts.foot) foot_->findings()->hide();
    for (QWidget* foot : views_.feet()) foot->setVisible(foot == parts.foot);
    actions_->refresh();
}

// Part by part, so that no event paints all of the window.
void MainWindow::wearTheme(const QString& name) {
    const auto parts = std::make_shared<std::vector<QPointer<QWidget>>>(
        std::vector<QPointer<QWidget>>{foot_->ledge(), rail_, views_.benches(), views_.centre()});
    for (const auto& part : *parts) part->setUpdatesEnabled(false);
    Theme::wear(*qApp, name);
    QSettings().setValue("theme", name);
    refresh();
    views_.wear();
    auto* turn = new QTimer(this);
    connect(turn, &QTimer::timeout, this, [turn, parts] {
        if (parts->back()) parts->back()->setUpdatesEnabled(true);
        parts->pop_back();
        if (!parts->empty()) return;
        turn->stop();  // it may go later than its next turn
        turn->deleteLater();
    });
    turn->start();
}

void MainWindow::refresh() {
    header_->refresh();
    const QString title = QString::fromStdString(session_.kit().title);
    setWindowTitle(tr("%1%2 – Zinc Ledge").arg(session_.document().changed() ? "• " : "", title));
    setWindowModified(false);
    actions_->refresh();
    foot_->refreshSoon();
}

void MainWindow::goTo(const Finding& finding) {
    if (finding.rect && views_.goTo(*finding.rect)) return;
    showView(make);
    if (finding.layer) session_.choice().chooseLayer(*finding.layer);
    if (finding.rect) pointAt(*finding.rect);
}

void MainWindow::pointAt(const PixelRect& place) {
    canvas().pointAt(place.empty() ? std::nullopt : std::optional(RealRect::ofPixels(place)));
}

void MainWindow::openFilm(const QString& file, std::optional<double> at) {
    showView(make);
    part<FilmView>()->open(file.toStdString(), at);
    Q_EMIT filmOpened();
}

void MainWindow::drawRegion(const std::function<void(PixelRect)>& drawn) {
    showView(make);
    canvas().drawRegion(drawn);
}

void MainWindow::advise(const QString& advice) {
    advice.isEmpty() ? notice_->hide() : tell(advice, true);
}

void MainWindow::startPiece(const QString& video) {
    auto* dialog = new NewPieceDialog(session_, this);
    if (!video.isEmpty())
        connect(dialog, &QDialog::accepted, this, [this, video] { openFilm(video); });
    dialog->open();
}

void MainWindow::openBriefDialog() {
    const auto draw = [this](auto drawn, auto ended) {
        canvas().drawRegion(std::move(drawn), std::move(ended));
    };
    (new BriefDialog(session_, draw, this))->open();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    sendTyped(*this);
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
    QTimer::singleShot(0, foot_, &ReadingsFoot::place);
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
