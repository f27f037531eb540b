// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/piece_clock.h"

#include <algorithm>
#include <cmath>

#include "film/piece_sound.h"
#include "kit/moving.h"

namespace zl::app {

PieceClock::PieceClock(Document& document, Choice& choice, KitFiles& files, Jobs& jobs,
                       QObject* parent)
    : QObject(parent), document_(document), choice_(choice), files_(files), jobs_(jobs) {
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &PieceClock::tick);
    connect(&choice_, &Choice::chosen, this, &PieceClock::follow);
    connect(&document_, &Document::kitChanged, this, &PieceClock::follow);
}

bool PieceClock::runs() const {
    const Piece* piece = choice_.piece();
    return piece && moves(*piece);
}

double PieceClock::length() const {
    return runs() ? lengthOf(*choice_.piece()) : 0;
}

std::optional<double> PieceClock::moment() const {
    if (!runs()) return {};
    if (choice_.pieceId() != pieceId_) return tellingMoment(*choice_.piece());
    return std::clamp(moment_, 0.0, length());
}

// Another piece is looked at where it tells most; an edit leaves the clock where it is.
void PieceClock::follow() {
    if (choice_.pieceId() == pieceId_) {
        if (!runs() && playing()) pause();
        return;
    }
    pause();
    pieceId_ = choice_.pieceId();
    moment_ = runs() ? tellingMoment(*choice_.piece()) : 0;
    Q_EMIT changed();
}

void PieceClock::goTo(double seconds) {
    follow();
    if (!runs()) return;
    const bool played = playing();
    pause();
    moment_ = std::clamp(seconds, 0.0, length());
    Q_EMIT moved();
    if (played)
        play();
    else
        Q_EMIT settled();
}

void PieceClock::stepBy(int frames) {
    follow();
    if (!runs()) return;
    pause();
    const double rate = rateOf(*choice_.piece()).perSecond();
    const auto last = static_cast<double>(frameCountOf(*choice_.piece()) - 1);
    goTo(std::clamp(std::round(moment_ * rate) + frames, 0.0, last) / rate);
}

void PieceClock::play() {
    follow();
    if (!runs() || playing()) return;
    const double rate = rateOf(*choice_.piece()).perSecond();
    if (moment_ >= length() - 1 / rate) moment_ = 0;
    from_ = moment_;
    dropped_ = 0;
    asked_ = -1;
    seen_ = true;
    sound_.reset();
    since_.start();
    timer_.start(std::max(1, static_cast<int>(500 / rate)));
    const int serial = ++serial_;
    // Devices take their time: the pictures begin at once, and the sound joins them.
    aside(
        jobs_, this,
        [piece = *choice_.piece(),
         kit = files_.path()]() -> Result<std::shared_ptr<std::unique_ptr<SoundSource>>> {
            auto reader = soundOf(piece, kit);
            if (!reader) return fail(Code::unreadable, "Nothing of it is heard.");
            auto sound = openSound(std::move(reader));
            if (!sound) return passOn(sound.error());
            return std::make_shared<std::unique_ptr<SoundSource>>(std::move(*sound));
        },
        [this, serial](const Result<std::shared_ptr<std::unique_ptr<SoundSource>>>& sound) {
            if (serial != serial_ || !playing() || !sound) return;
            sound_ = std::move(**sound);
            from_ = heard();
            since_.restart();
            sound_->start(from_);
        });
    Q_EMIT changed();
}

void PieceClock::pause() {
    if (!playing()) return;
    timer_.stop();
    ++serial_;
    if (sound_) sound_->stop();
    sound_.reset();
    Q_EMIT moved();  // to the exact frame of the moment
    Q_EMIT changed();
    Q_EMIT settled();
}

double PieceClock::heard() const {
    const double wall = from_ + static_cast<double>(since_.nsecsElapsed()) / 1e9;
    // A device that does not move is not waited for.
    constexpr double patience = 0.5;
    if (sound_)
        if (const auto at = sound_->position(); at && std::abs(*at - wall) < patience) return *at;
    return wall;
}

void PieceClock::tick() {
    if (!runs()) return pause();
    double now = heard();
    if (now >= length()) {
        if (!loops_) {
            moment_ = length();
            pause();
            Q_EMIT moved();
            return;
        }
        const int dropped = dropped_;
        timer_.stop();
        ++serial_;
        if (sound_) sound_->stop();
        sound_.reset();
        moment_ = 0;
        play();
        dropped_ = dropped;
        now = 0;
    }
    const double rate = rateOf(*choice_.piece()).perSecond();
    const auto frame = static_cast<long long>(std::floor(now * rate + 1e-6));
    if (frame == asked_) return;
    // Whoever draws is not done with the last one: this one is late.
    if (!seen_) return;
    if (asked_ >= 0 && frame > asked_ + 1) dropped_ += static_cast<int>(frame - asked_ - 1);
    asked_ = frame;
    seen_ = false;
    moment_ = static_cast<double>(frame) / rate;
    Q_EMIT moved();
}

void PieceClock::painted() {
    seen_ = true;
}

}  // namespace zl::app
