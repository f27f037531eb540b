// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse/rehearse_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStackedWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <set>

#include "film/take_still.h"
#include "links/links.h"
#include "look/style.h"
#include "look/theme.h"
#include "rehearse/host_words.h"
#include "report/report.h"
#include "widgets/pages.h"
#include "widgets/panel.h"
#include "widgets/surface_picture.h"
#include "words/words.h"
#include "work/jobs.h"

namespace zl::app {
namespace {

// The frames of the video that the piece goes with; nothing where none is known or it is gone.
std::function<std::shared_ptr<const Straight8>(double)> filmOf(Session& session) {
    const Piece* piece = session.piece();
    if (!piece || !piece->video || !session.inks()->clips()) return {};
    std::error_code none;
    const Path file = videoAt(piece->video->file, session.files().path());
    if (!std::filesystem::is_regular_file(file, none)) return {};
    return [inks = session.inks(),
            name = piece->video->file](double seconds) -> std::shared_ptr<const Straight8> {
        const auto number = inks->clips()->numberAt(name, seconds);
        if (!number) return nullptr;
        const auto frame = inks->clips()->frame(name, *number, {});
        return frame ? (*frame)->pixels : nullptr;
    };
}

}  // namespace

RehearseView::RehearseView(Session& session, ReadingsDesk& desk, Path hostFolder, QWidget* bench,
                           QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk), hostFolder_(std::move(hostFolder)) {
    setObjectName("rehearseView");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = viewHeadline(column);
    headline_->setObjectName("hostHeadline");
    auto* bar = static_cast<QHBoxLayout*>(headline_->parentWidget()->layout());
    buildModes(bar);
    buildThemes(bar);
    buildSurfaces();
    stack_ = new Pages;
    stack_->addWidget(scroll_);
    stack_->addWidget(wall_ = new WallView(session_, desk_));
    stack_->addWidget(gallery_ = new GalleryView(session_));
    column->addWidget(stack_, 1);

    buildBench(bench);
    listen();
}

void RehearseView::buildModes(QHBoxLayout* bar) {
    onePiece_ = new QToolButton;
    wallButton_ = new QToolButton;
    galleryButton_ = new QToolButton;
    const std::pair<QToolButton*, QString> modes[] = {{onePiece_, tr("This piece")},
                                                      {wallButton_, tr("Wall of the kit")},
                                                      {galleryButton_, tr("Gallery")}};
    for (const auto& [button, words] : modes) {
        button->setText(words);
        button->setCheckable(true);
        button->setChecked(button == onePiece_);
        bar->addWidget(button);
    }
    onePiece_->setObjectName("rehearsePiece");
    wallButton_->setObjectName("rehearseWall");
    galleryButton_->setObjectName("rehearseGallery");
    galleryButton_->setToolTip(tr("The photographs of Stamping as an online gallery shows them"));
    connect(onePiece_, &QToolButton::clicked, this, [this] { showPage(Page::piece); });
    connect(wallButton_, &QToolButton::clicked, this, [this] { showPage(Page::wall); });
    connect(galleryButton_, &QToolButton::clicked, this, [this] { showPage(Page::gallery); });
    bar->addSpacing(12);
    truePixels_ = new QToolButton;
    truePixels_->setObjectName("truePixels");
    truePixels_->setText(tr("True pixels"));
    truePixels_->setCheckable(true);
    truePixels_->setToolTip(
        tr("A px of the surface is a px of this screen; else what is too wide is shown smaller"));
    bar->addWidget(truePixels_);
    connect(truePixels_, &QToolButton::clicked, this, &RehearseView::fill);
    bar->addSpacing(12);
}

void RehearseView::buildThemes(QHBoxLayout* bar) {
    const auto themeButton = [&](const QString& words, const char* objectName, bool on) {
        auto* button = new QToolButton;
        button->setObjectName(objectName);
        button->setText(words);
        button->setCheckable(true);
        button->setChecked(on);
        button->setAccessibleName(tr("Surfaces: %1").arg(words));
        bar->addWidget(button);
        connect(button, &QToolButton::clicked, this, [this, button] {
            light_->setChecked(button == light_);
            dark_->setChecked(button == dark_);
            fill();
        });
        return button;
    };
    light_ = themeButton(tr("Light"), "surfacesLight", true);
    dark_ = themeButton(tr("Dark"), "surfacesDark", false);
}

void RehearseView::buildSurfaces() {
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    scroll_->setFocusPolicy(Qt::StrongFocus);
    scroll_->setAccessibleName(tr("The surfaces"));
    board_ = new QWidget;
    surfaces_ = new QVBoxLayout(board_);
    surfaces_->setContentsMargins(16, 14, 8, 16);
    surfaces_->setSpacing(14);
    empty_ = new QLabel;
    empty_->setObjectName("rehearseEmpty");
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    empty_->setFont(interfaceFont(15, 500));
    surfaces_->addWidget(empty_, 1);
    toRelease_ = new QPushButton(tr("Go to Release"));
    toRelease_->setObjectName("goToRelease");
    surfaces_->addWidget(toRelease_, 0, Qt::AlignHCenter);
    surfaces_->addStretch(1);
    scroll_->setWidget(board_);
    connect(scroll_->verticalScrollBar(), &QScrollBar::valueChanged, this, &RehearseView::restage);
}

void RehearseView::buildBench(QWidget* bench) {
    auto* benchColumn = new QVBoxLayout(bench);
    benchColumn->setContentsMargins(0, 0, 0, 0);
    bench->setFixedWidth(benchWidth);
    auto* benchScroll = new QScrollArea;
    benchScroll->setObjectName("rehearseBench");
    benchScroll->setWidgetResizable(true);
    benchScroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    benchScroll->setFocusPolicy(Qt::NoFocus);
    benchColumn->addWidget(benchScroll);
    auto* both = new QWidget;
    both->setObjectName("bench");
    both->setAttribute(Qt::WA_StyledBackground);
    auto* parts = new QVBoxLayout(both);
    parts->setContentsMargins(0, 0, 0, 0);
    parts->setSpacing(0);
    pieceBench_ = new QWidget;
    auto* kitBench = new QWidget;
    Panel panel(pieceBench_), kitPanel(kitBench);
    for (QWidget* part : {pieceBench_, kitBench}) {
        part->setObjectName("benchPart");
        part->setMinimumWidth(0);
        part->setMaximumWidth(benchWidth);
        parts->addWidget(part);
    }
    parts->addStretch();
    benchScroll->setWidget(both);
    fillBench(panel, kitPanel);
}

void RehearseView::fillBench(Panel& panel, Panel& kitPanel) {
    panel.title(tr("Hand over"));
    file_ = new QLabel;
    file_->setWordWrap(true);
    file_->setObjectName("handedFile");
    panel.whole(tr("File"), file_);
    state_ = new QLabel;
    state_->setObjectName("hostState");
    state_->setFont(interfaceFont(13, 600));
    state_->setWordWrap(true);
    panel.whole(tr("State"), state_);
    handOver_ = panel.button(tr("Hand over"), "handOver", true);
    publish_ = panel.button(tr("Publish the draft"), "publishDraft", false);
    other_ = panel.button(tr("Hand over another file …"), "handOverOther", false);
    cancel_ = panel.button(tr("Cancel"), "cancelHandOver", false);
    panel.seam();
    stage_ = new StagePanel(panel, this);
    panel.seam();
    panel.title(tr("What the host said"));
    said_ = panel.text("hostSaid");
    said_->setTextFormat(Qt::RichText);
    said_->setProperty("soft", false);
    panel.seam();
    kitPanel.title(tr("The whole kit"));
    all_ = kitPanel.button(tr("Release all that is ready"), "wallReleaseAll", false);
    report_ = kitPanel.button(tr("Write a report …"), "writeReport", false);
    report_->setToolTip(tr("One page with every piece, its readings and its surfaces"));
}

void RehearseView::listen() {
    connect(stage_, &StagePanel::changed, this, &RehearseView::restage);
    connect(wall_, &WallView::changed, this, &RehearseView::tellWall);
    connect(wall_, &WallView::pieceAsked, this, &RehearseView::pieceAsked);
    connect(all_, &QPushButton::clicked, this, &RehearseView::allAsked);
    connect(report_, &QPushButton::clicked, this,
            [this] { reporting_ ? static_cast<void>(stopReport_.request_stop()) : reportAsked(); });
    connect(cancel_, &QPushButton::clicked, this, [this] { stop_.request_stop(); });
    connect(handOver_, &QPushButton::clicked, this, [this] {
        if (session_.piece() && releasedFile)
            if (const auto file = releasedFile(session_.piece()->id)) handOver(*file);
    });
    connect(publish_, &QPushButton::clicked, this, &RehearseView::publish);
    connect(other_, &QPushButton::clicked, this, &RehearseView::fileAsked);
    connect(toRelease_, &QPushButton::clicked, this, &RehearseView::releaseAsked);
    connect(&session_, &Session::chosen, this, &RehearseView::refresh);
    connect(&desk_, &ReadingsDesk::changed, this, [this](const QString& id) {
        if (isVisible() && session_.piece() && session_.piece()->id == id.toStdString()) fill();
    });
    connect(&session_, &Session::opened, this, [this] {
        shown_.clear();
        lookedFor_.clear();
        refresh();
    });
}

Path RehearseView::hostOfKit() const {
    return hostFolder_ / fileNameFromTitle(session_.kit().title);
}

const Rehearsed* RehearseView::shown() const {
    const auto found = session_.piece() ? shown_.find(session_.piece()->id) : shown_.end();
    return found == shown_.end() ? nullptr : &found->second;
}

void RehearseView::send(std::optional<Path> file, bool publish) {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || busy_) return;
    busy_ = true;
    stop_ = std::stop_source();
    handOver_->setEnabled(false);
    publish_->setEnabled(false);
    const Trouble trouble = stage_->trouble();
    cancel_->setVisible(file && trouble.what == Trouble::What::slow);
    headline_->setText(heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " + tr("looking at the file …"));
    Errand errand{hostOfKit(), trouble, piece->id, *brief, {}, {}, std::move(file), publish};
    for (const Slice& slice : piece->slices)
        if (const Brief* own = session_.briefs().find(slice.brief))
            errand.slices.emplace_back(slice, *own);
    errand.posted.title = piece->title;
    errand.posted.channel = session_.kit().title;
    stage_->fill(errand.posted);
    errand.posted.film = filmOf(session_);
    const bool keepsSaying = !errand.handOver;
    aside(
        session_.jobs(), this,
        [this, errand, stop = stop_.get_token()] {
            const auto tell = [this](double part) {
                QMetaObject::invokeMethod(
                    this,
                    [this, part] {
                        headline_->setText(heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " +
                                           tr("on its way, %1 %").arg(qRound(part * 100)));
                    },
                    Qt::QueuedConnection);
            };
            auto outcome = rehearse(errand, stop, tell);
            // Whatever the host did, the file on this side is as it was; what the host still has is
            // looked at again.
            const bool nothingThere =
                !outcome && StandInHost(errand.host).state(errand.pieceId) == HostState::nothing;
            return std::pair(std::move(outcome), nothingThere);
        },
        [this, id = piece->id, keepsSaying,
         host = hostOfKit()](std::pair<Result<Rehearsed>, bool> came) {
            auto& [outcome, nothingThere] = came;
            busy_ = false;
            cancel_->hide();
            if (host != hostOfKit()) return refresh();  // another kit was opened meanwhile
            if (outcome) {
                const auto before = shown_.find(id);
                if (keepsSaying && before != shown_.end()) {
                    outcome->answer = before->second.answer;
                    outcome->file = before->second.file;
                }
                shown_[id] = std::move(*outcome);
            } else {
                session_.tell(QString::fromStdString(outcome.error().sentence()), true);
                if (nothingThere) shown_.erase(id);
            }
            refresh();
        });
}

// What moves, at the moment that the clock shows; only what can be seen is drawn.
void RehearseView::restage() {
    const Rehearsed* now = shown();
    const Brief* brief = session_.brief();
    if (!isVisible() || !now || !now->copies || !brief || stack_->currentIndex() != 0) return;
    Posted posted;
    posted.title = session_.piece()->title;
    posted.channel = session_.kit().title;
    stage_->fill(posted);
    posted.film = filmOf(session_);
    std::vector<Sight> due;
    for (Sight& sight : sightsOf(*brief, posted)) {
        const auto found = pictures_.find(sight.id);
        if (sight.spec.plays() && found != pictures_.end() &&
            !found->second->visibleRegion().isEmpty())
            due.push_back(std::move(sight));
    }
    if (due.empty()) return;
    stageJob_.post([this, most = mostWidth(), due = std::move(due), demand = *brief, posted,
                    copies = now->copies](const std::stop_token& stop) {
        auto drawn = std::make_shared<std::vector<std::pair<Surface, QImage>>>();
        for (const Sight& sight : due) {
            if (stop.stop_requested()) return;
            auto surface = drawSurface(
                sight, demand, copies->size(), [&](int width) { return copies->at(width); },
                posted);
            if (!surface) continue;
            QImage picture = SurfacePicture::prepared(*surface, most);
            drawn->emplace_back(std::move(*surface), std::move(picture));
        }
        QMetaObject::invokeMethod(
            this,
            [this, drawn, copies] {
                const Rehearsed* still = shown();
                if (!still || still->copies != copies) return;
                for (const auto& [surface, picture] : *drawn)
                    if (const auto found = pictures_.find(surface.id); found != pictures_.end())
                        found->second->show(surface, picture);
                Q_EMIT stagePainted();
            },
            Qt::QueuedConnection);
    });
}

void RehearseView::showPage(Page page) {
    onePiece_->setChecked(page == Page::piece);
    wallButton_->setChecked(page == Page::wall);
    galleryButton_->setChecked(page == Page::gallery);
    stack_->setCurrentIndex(static_cast<int>(page));
    pieceBench_->setVisible(page == Page::piece);
    if (page != Page::piece) stage_->play(false);
    refresh();
    if (page == Page::wall) wall_->refresh();
}

void RehearseView::tellWall() {
    if (page() != Page::wall) return;
    int fails = 0;
    for (const Piece& piece : session_.kit().pieces)
        if (const PieceState* state = desk_.state(piece.id);
            state && state->verdict == Verdict::fail)
            ++fails;
    const QString surfaces = counted(wall_->tiles(), tr("1 surface"), tr("%1 surfaces"));
    headline_->setText(
        heavy(tr("Wall of the kit")) + "&nbsp;&nbsp; " +
        (wall_->complete()
             ? tr("%1 of %2; %3 fail")
                   .arg(surfaces, counted(static_cast<qsizetype>(session_.kit().pieces.size()),
                                          tr("1 piece"), tr("%1 pieces")))
                   .arg(fails)
             : tr("%1 so far …").arg(surfaces)));
}

void RehearseView::writeReport(const Path& file) {
    if (reporting_) return;
    reporting_ = true;
    stopReport_ = std::stop_source();
    report_->setText(tr("Cancel the report"));
    aside(
        session_.jobs(), this,
        [this, kit = session_.kit(), briefs = session_.briefs(), inks = session_.inks(), file,
         stop = stopReport_.get_token()]() -> Result<void> {
            const auto report = reportOf(kit, briefs, *inks, stop, [this](double part) {
                QMetaObject::invokeMethod(
                    this,
                    [this, part] {
                        report_->setText(tr("Cancel the report (%1 %)").arg(qRound(part * 100)));
                    },
                    Qt::QueuedConnection);
            });
            if (!report) return passOn(report.error());
            const std::string& html = report->html;
            return writeFile(file,
                             {reinterpret_cast<const std::uint8_t*>(html.data()), html.size()},
                             Replace::yes);  // the dialog asked
        },
        [this, file](const Result<void>& done) {
            reporting_ = false;
            report_->setText(tr("Write a report …"));
            if (done)
                session_.tell(
                    tr("The report is %1.").arg(QString::fromStdString(file.filename().string())),
                    false);
            else if (done.error().code == Code::cancelled)
                session_.tell(tr("The report was cancelled; nothing was written."), false);
            else
                session_.tell(QString::fromStdString(done.error().sentence()), true);
        });
}

void RehearseView::hideEvent(QHideEvent* event) {
    stage_->play(false);
    QWidget::hideEvent(event);
}

void RehearseView::handOver(const Path& file) {
    send(file, false);
}

void RehearseView::publish() {
    send({}, true);
}

// A file accepted in an earlier sitting is shown as it lies with the host.
void RehearseView::lookWithHost(const std::string& id) {
    if (!lookedFor_.insert(id).second) return;
    aside(
        session_.jobs(), this,
        [host = hostOfKit(), id] { return StandInHost(host).accepted(id).has_value(); },
        [this, id](bool accepted) {
            const bool canNow =
                isVisible() && !busy_ && session_.piece() && session_.piece()->id == id && !shown();
            if (accepted && canNow) return send({}, false);
            if (accepted) lookedFor_.erase(id);
        });
}

void RehearseView::refresh() {
    const Piece* piece = session_.piece();
    if (isVisible() && piece && !busy_ && !shown()) lookWithHost(piece->id);
    const Rehearsed* now = shown();
    const auto file = piece && releasedFile ? releasedFile(piece->id) : std::nullopt;
    handOver_->setEnabled(file && !busy_);
    handOver_->setToolTip(file ? QString()
                               : tr("Release the piece first; its file is what is handed over."));
    handOver_->setText(now && now->answer.accepted && now->state != HostState::nothing
                           ? tr("Hand over again")
                           : tr("Hand over"));
    const bool draft =
        now && (now->state == HostState::draft || now->state == HostState::draftOverPublished);
    publish_->setEnabled(draft && !busy_);
    publish_->setToolTip(draft ? tr("The audience sees it only then")
                               : tr("There is no draft: hand a file over first."));
    other_->setEnabled(piece && !busy_);
    if (now && now->answer.brokeOffAt) handOver_->setText(tr("Go on with the upload"));
    cancel_->setVisible(cancel_->isVisible() && busy_);
    stage_->setBrief(session_.brief());
    stage_->setVideo(piece ? piece->video : std::nullopt);
    all_->setEnabled(!session_.kit().pieces.empty());
    report_->setEnabled(!session_.kit().pieces.empty());
    toRelease_->setVisible(!now && !file);
    if (!now) {
        file_->setText(file ? QString::fromStdString(file->filename().string())
                            : tr("nothing released yet"));
        empty_->setText(
            !piece ? tr("Start a piece first; then it can be rehearsed.")
            : file ? tr("The file is released. Hand it over, and see how the audience meets it.")
                   : tr("Nothing to rehearse yet.\nRelease the piece; its file is handed to the "
                        "stand-in host and shown as the "
                        "audience meets it."));
    }
    fill();
}

void RehearseView::fill() {
    for (QWidget* row : rows_) {
        row->hide();
        row->deleteLater();
    }
    rows_.clear();
    pictures_.clear();
    const Rehearsed* now = shown();
    const bool wall = page() != Page::piece;
    const bool accepted = now && now->answer.accepted && now->state != HostState::nothing;
    if (page() == Page::wall)
        tellWall();
    else if (page() == Page::gallery)
        headline_->setText(heavy(tr("Gallery")) + "&nbsp;&nbsp; " +
                           tr("photographs at 600 × 800 and 160 × 213 px"));
    else if (!busy_)
        headline_->setText(
            heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " +
            (!now                     ? tr("nothing handed over yet")
             : now->answer.brokeOffAt ? tr("the upload of %1 broke off")
                                            .arg(QString::fromStdString(now->file).toHtmlEscaped())
             : !accepted ? tr("refused %1").arg(QString::fromStdString(now->file).toHtmlEscaped())
             : now->state == HostState::published ? tr("published; recompressed to its own sizes")
                                                  : tr("a draft, not published yet")));
    state_->setText(!now                     ? tr("–")
                    : accepted               ? stateWords(now->state)
                    : now->answer.brokeOffAt ? tr("◧ Broke off")
                                             : tr("◆ Refused"));
    const Verdict verdict = accepted                        ? Verdict::pass
                            : now && now->answer.brokeOffAt ? Verdict::watch
                                                            : Verdict::fail;
    state_->setForegroundRole(now ? roleOf(verdict) : QPalette::WindowText);
    const bool met = now && (!now->surfaces.empty() || !now->slices.empty());
    empty_->setVisible(!met);
    said_->setText(now ? QString() : tr("Nothing yet."));
    bool themed = false;
    if (now)
        for (const Surface& surface : now->surfaces) themed = themed || surface.theme == "dark";
    if (now)
        for (const auto& [slice, surface] : now->slices) themed = themed || surface.theme == "dark";
    for (QToolButton* button : {light_, dark_}) button->setVisible(themed && !wall);
    truePixels_->setVisible(met && !wall);
    if (!now) return;
    say(*now);
    if (!met)
        return empty_->setText(
            accepted ? tr("The host took it. This brief has no surface: it is not met anywhere by "
                          "itself.")
            : now->answer.brokeOffAt
                ? tr("The upload broke off. The file is whole on this side; go on with the upload.")
                : tr("Refused. What the host keeps is unchanged; the reasons stand on the right."));
    flow();
}

void RehearseView::say(const Rehearsed& now) {
    if (!now.file.empty()) file_->setText(QString::fromStdString(now.file));
    said_->setText(now.answer.said.empty() ? tr("It was accepted in an earlier sitting.")
                                           : saidAsTable(now.answer));
}

void RehearseView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (event->oldSize().width() != event->size().width()) fill();
}

}  // namespace zl::app
