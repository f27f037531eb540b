// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/shuttle.h"

#include <algorithm>

namespace zl::app {

Shuttle::Shuttle(FilmDesk& desk, QObject* parent) : QObject(parent), desk_(desk) {
    constexpr int everyMs = 40;
    timer_.setInterval(everyMs);
    connect(&timer_, &QTimer::timeout, this, &Shuttle::tick);
    connect(&player_, &FilmPlayer::moved, this, [this](const FilmFrame& frame) {
        at_ = frame.time;
        Q_EMIT moved(frame);
    });
    connect(&player_, &FilmPlayer::ended, this, [this](double seconds, int dropped, bool audible) {
        if (speed_ != 1) return;
        speed_ = 0;
        QStringList words;
        if (dropped == 1)
            words << tr("One frame came too late and was left out");
        else if (dropped > 1)
            words << tr("%1 frames came too late and were left out").arg(dropped);
        if (!audible && desk_.facts() && !desk_.facts()->sound.empty())
            words << tr("It played mute, since there is no device for sound");
        Q_EMIT halted(seconds, words.join(". "));
        Q_EMIT changed();
    });
}

void Shuttle::push(int way, double from, const Span& part, QSize room) {
    part_ = part;
    room_ = room;
    if (speed_ == 0) {
        at_ = from;
        if (!part_.contains(at_) || (way > 0 && at_ >= part_.to - 0.001)) at_ = part_.from;
        if (way < 0 && from <= part_.from) at_ = part_.to;
    }
    const bool same = speed_ != 0 && (speed_ > 0) == (way > 0);
    speed_ = same ? std::clamp(2 * speed_, -fastest, fastest) : way;
    run();
    Q_EMIT changed();
}

void Shuttle::run() {
    timer_.stop();
    player_.forget();
    if (speed_ == 1 && desk_.player())
        return player_.start(desk_.player(), desk_.file(), {at_, part_.to}, room_);
    since_.start();
    timer_.start();
}

void Shuttle::tick() {
    at_ += speed_ * static_cast<double>(since_.restart()) / 1000;
    if (at_ <= part_.from || at_ >= part_.to) {
        at_ = std::clamp(at_, part_.from, part_.to);
        return halt();
    }
    Q_EMIT passed(at_);
}

void Shuttle::halt() {
    if (speed_ == 0) return;
    if (player_.playing()) return player_.stop();
    timer_.stop();
    speed_ = 0;
    Q_EMIT halted(at_, {});
    Q_EMIT changed();
}

void Shuttle::forget() {
    timer_.stop();
    player_.forget();
    if (speed_ == 0) return;
    speed_ = 0;
    Q_EMIT changed();
}

}  // namespace zl::app
