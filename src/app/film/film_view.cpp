// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/film_view.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "edit/edits.h"
#include "film/clip_frames.h"
#include "film/film_words.h"
#include "film/take_still.h"
#include "look/theme.h"
#include "widgets/form.h"
#include "widgets/moment_field.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

// The piece as it is met: with its picture and without it, which is what lies over a still.
std::pair<QImage, QImage> seenPiece(const Piece& piece, const Kit& kit, int pictureLayer,
                                    InkStore& inks, const std::stop_token& stop) {
    constexpr int width = 336;  // px: twice a suggestion's, for sharp screens
    const auto seen = [&](const Piece& shown) {
        auto frame = zl::render({shown, kit}, inks, stop);
        if (!frame) return QImage();
        return imageOf(std::make_shared<const Straight8>(std::move(*frame)))
            .scaledToWidth(width, Qt::SmoothTransformation);
    };
    Piece over = piece;
    for (Layer& layer : over.layers)
        if (layer.id == pictureLayer) layer.hidden = true;
    return {seen(over), seen(piece)};
}

}  // namespace

FilmView::FilmView(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), desk_(stripFolder()) {
    setObjectName("filmView");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("A still from a video"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildBar());
    facts_ = named(softLabel({}), "filmFacts");
    facts_->setWordWrap(true);
    facts_->setFont(interfaceFont(11));
    facts_->setContentsMargins(14, 4, 14, 6);
    column->addWidget(facts_);
    column->addWidget(picture_ = named(new LargePicture, "filmPicture"), 1);
    column->addWidget(clock_ = new ClockRow);
    column->addWidget(strip_ = new FilmStrip(desk_));
    column->addWidget(partRow_ = new PartRow);
    column->addWidget(proposals_ = new ProposalRow);
    // Another piece, or another state of it, is what a frame goes into then.
    follow_.setSingleShot(true);
    follow_.setInterval(150);  // ms
    connect(&follow_, &QTimer::timeout, this, &FilmView::followPiece);
    const auto followSoon = [this] {
        if (desk_.facts()) follow_.start();
        showTakes();
    };
    connect(&session_, &Session::kitChanged, this, followSoon);
    connect(&session_, &Session::chosen, this, followSoon);
    listenToDesk();
    listenToShuttle();
    listenToRows();
    // A click leaves the keys with the view.
    for (QAbstractButton* button : findChildren<QAbstractButton*>())
        button->setFocusPolicy(Qt::TabFocus);
}

QWidget* FilmView::buildBar() {
    const auto [bar, row] = viewBar(14, 14);
    row->setSpacing(8);
    name_ = named(new QLabel, "filmName");
    name_->setFont(interfaceFont(12, 600));
    name_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(name_, 1);
    withoutBars_ = named(new QCheckBox(tr("Without its black bars")), "filmWithoutBars");
    withoutBars_->setToolTip(tr("The piece shows what lies between the frame's black bars"));
    withoutBars_->setChecked(true);
    withoutBars_->hide();
    row->addWidget(withoutBars_);
    auto* back = named(new QPushButton(tr("Back to the piece")), "filmBack");
    back->setFixedHeight(26);
    back->setToolTip(tr("Leaves the piece as it is (Escape)"));
    take_ = named(new QPushButton(tr("Take this frame")), "takeStill");
    take_->setProperty("primary", true);
    take_->setFixedHeight(26);
    take_->setToolTip(tr("Makes it the piece's picture (Enter)"));
    remember_ = named(new QPushButton(tr("Only remember it")), "filmRemember");
    remember_->setFixedHeight(26);
    remember_->setToolTip(
        tr("The piece goes with this video and keeps its own picture, which is then looked for in "
           "the video"));
    clip_ = named(new QPushButton(tr("Bring it in as a clip")), "filmClip");
    clip_->setFixedHeight(26);
    clip_->setToolTip(
        tr("The part from In to Out moves in the piece, as a layer; this frame stands "
           "for it where the video is not there"));
    row->addWidget(back);
    row->addWidget(remember_);
    row->addWidget(clip_);
    row->addWidget(take_);
    connect(clip_, &QPushButton::clicked, this, &FilmView::takeClip);
    connect(remember_, &QPushButton::clicked, this, &FilmView::remember);
    connect(back, &QPushButton::clicked, this, &FilmView::closed);
    connect(take_, &QPushButton::clicked, this, &FilmView::take);
    return bar;
}

void FilmView::listenToDesk() {
    connect(&desk_, &FilmDesk::opened, this, &FilmView::tellFacts);
    connect(&desk_, &FilmDesk::arrived, this, &FilmView::showExact);
    connect(&desk_, &FilmDesk::neared, this, [this](const FilmFrame& frame) {
        // The exact one may have come first.
        if (now_ && std::abs(now_->time - at_) < 1e-9 && shuttle_.speed() == 0) return;
        FilmFrame there = frame;
        there.time = at_;
        picture_->show(frame.image, true);
        clock_->say(shuttle_.speed() != 0 ? speedWords(shuttle_.speed())
                                          : nearnessWords(frame.nearness));
    });
    connect(&desk_, &FilmDesk::proposed, this,
            [this](const std::vector<FilmFrame>& frames, const std::vector<Candidate>& reasons) {
                proposals_->show(frames, reasons);
                strip_->mark(proposals_->times());
            });
    connect(&desk_, &FilmDesk::progressed, partRow_, &PartRow::showLooking);
    connect(&desk_, &FilmDesk::refused, this, [this](const QString& sentence) {
        session_.tell(sentence, true);
        if (!desk_.facts()) Q_EMIT closed();
    });
}

void FilmView::listenToShuttle() {
    connect(&shuttle_, &Shuttle::changed, this, [this] {
        clock_->showPlaying(shuttle_.speed() != 0);
        if (shuttle_.speed() == 0) return;
        clock_->say(speedWords(shuttle_.speed()));
        now_.reset();
        showTakes();
    });
    connect(&shuttle_, &Shuttle::moved, this, [this](const FilmFrame& frame) {
        picture_->show(frame.image, true);
        at_ = frame.time;
        clock_->showMoment(at_, frame.number);
        strip_->showTime(at_);
    });
    connect(&shuttle_, &Shuttle::passed, this, [this](double seconds) {
        at_ = seconds;
        clock_->showMoment(at_, static_cast<long long>(at_ * desk_.facts()->fps));
        strip_->showTime(at_);
        desk_.nearAt(at_, room());
    });
    connect(&shuttle_, &Shuttle::halted, this, [this](double seconds, const QString& words) {
        if (!words.isEmpty()) session_.tell(words + ".", false);
        if (desk_.facts()) desk_.askAt(seconds);
    });
}

void FilmView::listenToRows() {
    connect(strip_, &FilmStrip::asked, this, [this](double seconds) {
        shuttle_.forget();
        at_ = seconds;
        now_.reset();
        showTakes();
        clock_->showMoment(at_, static_cast<long long>(at_ * desk_.facts()->fps));
        strip_->showTime(at_);
        desk_.nearAt(at_, room());
    });
    connect(strip_, &FilmStrip::settled, this, &FilmView::goTo);
    connect(clock_, &ClockRow::framesOn, this, &FilmView::step);
    connect(clock_, &ClockRow::secondsOn, this, [this](int by) { goTo(here() + by); });
    connect(clock_, &ClockRow::cutOn, this, [this](bool on) {
        shuttle_.forget();
        desk_.askCut(on);
    });
    connect(clock_, &ClockRow::playPressed, this, &FilmView::playOrPause);
    connect(clock_, &ClockRow::momentTyped, this, &FilmView::goTo);
    connect(clock_, &ClockRow::frameTyped, this, [this](long long number) {
        shuttle_.forget();
        desk_.ask(number);
    });
    connect(clock_, &ClockRow::refused, this,
            [this](const QString& sentence) { session_.tell(sentence, true); });
    // The arrows step again.
    connect(clock_, &ClockRow::left, this,
            [this] { QTimer::singleShot(0, this, qOverload<>(&QWidget::setFocus)); });
    connect(partRow_, &PartRow::inAsked, this, [this] { setPart({here(), part_.to}); });
    connect(partRow_, &PartRow::outAsked, this, [this] { setPart({part_.from, here()}); });
    connect(partRow_, &PartRow::allAsked, this, [this] {
        if (desk_.facts()) setPart({0, desk_.facts()->duration});
    });
    connect(partRow_, &PartRow::stopAsked, &desk_, &FilmDesk::stopLooking);
    connect(proposals_, &ProposalRow::chosen, this, [this](long long number) {
        shuttle_.forget();
        desk_.ask(number);
    });
}

void FilmView::open(const Path& file, std::optional<double> at) {
    shuttle_.forget();
    now_.reset();
    first_ = at;
    at_ = 0;
    take_->setEnabled(false);
    clip_->setEnabled(false);
    remember_->setEnabled(false);
    withoutBars_->hide();
    name_->setText(QString::fromStdString(file.filename().string()));
    name_->setToolTip(QString::fromStdString(file.string()));
    facts_->setText(tr("Opening it …"));
    picture_->clear();
    strip_->mark({});
    strip_->showTime(0);
    strip_->showPart({});
    clock_->say({});
    partRow_->showLooking(0);
    proposals_->clear();
    proposals_->say(tr("The first third, the middle and the last third come first."));
    preparePiece();
    desk_.open(file);
    setFocus();
}

void FilmView::close() {
    shuttle_.forget();
    desk_.close();
    seenIn_ = {};
    seen_ = nullptr;
}

void FilmView::tellFacts() {
    const VideoFacts& facts = *desk_.facts();
    const Piece* piece = session_.piece();
    facts_->setText(factWords(facts, piece ? std::optional(piece->frame) : std::nullopt));
    facts_->setToolTip(colourWords(facts));
    clock_->setFacts(facts);
    part_ = {0, facts.duration};
    showTakes();
    partRow_->showPart(part_, facts.duration);
    partRow_->showLooking(desk_.looking() ? 0 : 1);
    goTo(first_.value_or(facts.duration / 3));
}

void FilmView::showExact(const FilmFrame& frame) {
    if (shuttle_.speed() != 0) return;
    now_ = frame;
    at_ = frame.time;
    picture_->show(frame.image);
    showTakes();
    withoutBars_->setVisible(frame.bars.has_value());
    clock_->say(exactWords(*frame.whole));
    clock_->showMoment(frame.time, frame.number);
    strip_->showTime(frame.time);
}

// A near picture at once, then the exact one.
void FilmView::goTo(double seconds) {
    if (!desk_.facts()) return;
    shuttle_.forget();
    at_ = std::clamp(seconds, 0.0, desk_.facts()->duration);
    strip_->showTime(at_);
    desk_.nearAt(at_, room());
    desk_.askAt(at_);
}

void FilmView::step(long long frames) {
    if (!desk_.facts()) return;
    if (shuttle_.speed() != 0) return shuttle_.halt();
    if (!now_) return;
    const long long to = std::clamp(now_->number + frames, 0ll, desk_.facts()->frames - 1);
    if (to != now_->number) desk_.ask(to);
}

void FilmView::push(int way) {
    if (desk_.facts()) shuttle_.push(way, here(), part_, room());
}

void FilmView::playOrPause() {
    shuttle_.speed() != 0 ? shuttle_.halt() : push(1);
}

void FilmView::setPart(const Span& part) {
    if (!desk_.facts()) return;
    if (part.length() <= 0) return session_.tell(tr("The part would end before it begins."), true);
    part_ = part;
    const bool whole = part == Span{0, desk_.facts()->duration};
    strip_->showPart(whole ? Span{} : part_);
    partRow_->showPart(part_, desk_.facts()->duration);
    desk_.propose(part_);
}

bool FilmView::moveByKey(const QKeyEvent& event) {
    const bool shift = event.modifiers().testFlag(Qt::ShiftModifier);
    switch (event.key()) {
        case Qt::Key_Left:
        case Qt::Key_Right: {
            const int by = event.key() == Qt::Key_Left ? -1 : 1;
            shift ? goTo(here() + by) : step(by);
            return true;
        }
        case Qt::Key_Up:
        case Qt::Key_Down:
            shuttle_.forget();
            desk_.askCut(event.key() == Qt::Key_Down);
            return true;
        case Qt::Key_Home:
            goTo(0);
            return true;
        case Qt::Key_End:
            shuttle_.forget();
            if (desk_.facts()) desk_.ask(desk_.facts()->frames - 1);
            return true;
        default:
            return false;
    }
}

bool FilmView::playByKey(int key) {
    switch (key) {
        case Qt::Key_J:
            push(-1);
            return true;
        case Qt::Key_K:
            shuttle_.halt();
            return true;
        case Qt::Key_L:
            push(1);
            return true;
        case Qt::Key_Space:
            playOrPause();
            return true;
        case Qt::Key_I:
            setPart({here(), part_.to});
            return true;
        case Qt::Key_O:
            setPart({part_.from, here()});
            return true;
        default:
            return false;
    }
}

void FilmView::keyPressEvent(QKeyEvent* event) {
    if (moveByKey(*event) || playByKey(event->key())) return;
    const int nth = event->key() - Qt::Key_1;
    if (nth >= 0 && nth < 9 && proposals_->choose(nth)) return;
    switch (event->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
            // The clock passes its own Enter on.
            return take_->isEnabled() && hasFocus() ? take() : void();
        case Qt::Key_Escape:
            Q_EMIT closed();
            return;
        default:
            QWidget::keyPressEvent(event);
    }
}

int FilmView::layerOfStill() const {
    const Piece* piece = session_.piece();
    return piece ? layerForStill(*piece, session_.layer() ? session_.layer()->id : 0) : 0;
}

// So that proposals are seen as they would be met.
void FilmView::preparePiece() {
    const Piece* piece = session_.piece();
    const int layer = layerOfStill();
    seenIn_ = session_.kit();
    seen_ = piece;
    seenLayer_ = layer;
    if (!piece || piece->layers.empty()) return proposals_->setPiece({}, {});
    aside(
        session_.jobs(), this,
        [kit = session_.kit(), piece = *piece, inks = session_.inks(),
         layer](const std::stop_token& stop) { return seenPiece(piece, kit, layer, *inks, stop); },
        [this, piece, layer](const std::pair<QImage, QImage>& seen) {
            if (piece == seen_ && layer == seenLayer_)
                proposals_->setPiece(seen.first, seen.second);
        });
}

void FilmView::followPiece() {
    if (!desk_.facts()) return;
    const Piece* piece = session_.piece();
    if (piece == seen_ && layerOfStill() == seenLayer_) return;
    facts_->setText(factWords(*desk_.facts(), piece ? std::optional(piece->frame) : std::nullopt));
    preparePiece();
}

void FilmView::showTakes() {
    const bool piece = session_.piece() && desk_.facts();
    take_->setEnabled(piece && now_);
    clip_->setEnabled(piece && now_);
    remember_->setEnabled(piece);
}

PieceVideo FilmView::remembered() const {
    return {rememberedAs(desk_.file(), session_.files().path()), desk_.facts()->duration};
}

void FilmView::remember() {
    if (!desk_.facts() || !session_.piece()) return;
    session_.apply(withPieceVideo(session_.kit(), session_.piece()->id, remembered()),
                   tr("Remember the video"));
    session_.tell(tr("The piece goes with this video now; “From the video” on the ledge says "
                     "whether its picture is found there."),
                  false);
    Q_EMIT closed();
}

void FilmView::takeClip() {
    if (!now_ || !session_.piece() || !desk_.facts()) return;
    AsideEdit edit{.what = tr("Bring in a clip")};
    const PieceVideo video = remembered();
    const VideoFacts facts = *desk_.facts();
    Clip clip;
    clip.file = video.file;
    clip.length = facts.duration;
    clip.fps = facts.fps;
    clip.sounds = !facts.sound.empty();
    clip.in = part_.from;
    clip.out = part_.to >= facts.duration - 1e-6 ? 0 : part_.to;
    edit.make = [frame = now_->whole, file = desk_.file(), clip, id = session_.piece()->id](
                    const Kit& kit, const std::stop_token&) -> Result<Kit> {
        auto poster = stillOf(*frame, file.filename().string());
        if (!poster) return passOn(poster.error());
        Clip known = clip;
        known.identity = contentOf(file);
        return withClip(kit, id, std::move(*poster), frame->pixels, std::move(known));
    };
    edit.applied = [this, clip] {
        if (const Piece* piece = session_.piece())
            for (const Layer& layer : piece->layers)
                if (layer.picture() && layer.picture()->clip &&
                    layer.picture()->clip->file == clip.file)
                    session_.choice().chooseLayer(layer.id);
        session_.tell(tr("The clip moves in the piece now: its length and its clock are under it."),
                      false);
        Q_EMIT taken();
    };
    session_.applyAside(std::move(edit));
}

// The exact frame is encoded and put in aside; the piece may be edited meanwhile, and then it is
// asked for again.
void FilmView::take() {
    if (!now_ || !session_.piece()) return;
    AsideEdit edit{.what = tr("Take a still")};
    const PieceVideo video = remembered();
    StillFrom from{video.file, now_->time, now_->number, now_->whole->pixels.size()};
    edit.make = [frame = now_->whole, video, name = desk_.file().filename().string(), from,
                 part = withoutBars_->isChecked() ? now_->bars : std::nullopt,
                 id = session_.piece()->id, chosen = session_.layer() ? session_.layer()->id : 0](
                    const Kit& kit, const std::stop_token&) -> Result<Kit> {
        const Piece* piece = kit.piece(id);
        auto still = stillOf(*frame, name);
        if (!still) return passOn(still.error());
        const auto taken = withStill(kit, id, piece ? layerForStill(*piece, chosen) : 0,
                                     std::move(*still), frame->pixels, from, part);
        return taken ? withPieceVideo(*taken, id, video) : taken;
    };
    edit.applied = [this, from, at = now_->time] {
        if (const Piece* piece = session_.piece())
            for (const Layer& layer : piece->layers)
                if (layer.picture() && layer.picture()->still == from)
                    session_.choice().chooseLayer(layer.id);
        session_.tell(tr("The frame at %1 is the piece's picture. Ctrl+Z brings the old one back.")
                          .arg(momentWords(at)),
                      false);
        Q_EMIT taken();
    };
    session_.applyAside(std::move(edit));
}

}  // namespace zl::app
