// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/film_player.h"

#include <algorithm>
#include <chrono>

namespace zl::app {
namespace {

using Clock = std::chrono::steady_clock;

// What is heard is the time; without sound, or once it has ended, the clock on the wall.
class PlayClock {
  public:
    PlayClock(SoundSource* sound, double from) : sound_(sound), from_(from) {
        if (sound_) sound_->start(from);
    }
    ~PlayClock() {
        if (sound_) sound_->stop();
    }
    bool audible() const { return heard_; }
    double now() {
        const Clock::time_point here = Clock::now();
        if (sound_) {
            constexpr std::chrono::milliseconds patience(500);
            const auto position = sound_->position();
            if (position && *position != last_) {
                last_ = *position;
                heard_ = true;
                moved_ = here;
                from_ = last_;
                since_ = here;
                return last_;
            }
            if (position && here - moved_ < patience) return std::max(last_, from_);
            sound_->stop();
            sound_ = nullptr;
            since_ = here;
        }
        return from_ + std::chrono::duration<double>(here - since_).count();
    }

  private:
    SoundSource* sound_;
    double from_, last_ = -1;
    bool heard_ = false;
    Clock::time_point since_ = Clock::now(), moved_ = Clock::now();
};

}  // namespace

void FilmPlayer::start(std::function<Result<Video>(const std::stop_token&)> open, const Path& file,
                       const Span& span, QSize room) {
    thread_ = {};
    playing_ = true;
    const int serial = ++serial_;
    *seen_ = true;
    if (soundOf_ != file) sound_.reset();
    const bool openSound = soundOf_ != file;
    soundOf_ = file;
    thread_ = std::jthread([this, open = std::move(open), file, span, room, serial, openSound,
                            seen = seen_](const std::stop_token& stop) {
        if (openSound)
            if (auto sound = zl::openSound(file, stop)) sound_ = std::move(*sound);
        std::unique_ptr<PlayClock> clock;
        int dropped = 0;
        double at = span.from;
        auto video = open(stop);
        if (const auto number = video ? video->numberAt(span.from) : passOn(video.error()))
            static_cast<void>(video->play(
                *number, {room.width(), room.height()},
                [&](long long frame, double time, const std::function<Result<Straight8>()>& make) {
                    if (time > span.to) return false;
                    if (!clock) clock = std::make_unique<PlayClock>(sound_.get(), time);
                    constexpr double late = 0.02;  // s
                    at = time;
                    if (time < clock->now() - late) {
                        ++dropped;
                        return true;
                    }
                    auto pixels = make();
                    if (!pixels) return true;
                    while (!stop.stop_requested()) {
                        const double left = time - clock->now();
                        if (left <= 0) break;
                        std::this_thread::sleep_for(
                            std::chrono::duration<double>(std::min(left, 0.01)));
                    }
                    // Whoever looks is not done with the last one.
                    if (!seen->exchange(false)) {
                        ++dropped;
                        return true;
                    }
                    FilmFrame shown{frame, time,
                                    imageOf(std::make_shared<const Straight8>(std::move(*pixels))),
                                    Nearness::key};
                    QMetaObject::invokeMethod(
                        this,
                        [this, shown = std::move(shown), serial, seen] {
                            *seen = true;
                            if (serial == serial_ && playing_) Q_EMIT moved(shown);
                        },
                        Qt::QueuedConnection);
                    return true;
                },
                stop));
        const bool audible = clock && clock->audible();
        clock.reset();
        QMetaObject::invokeMethod(
            this,
            [this, serial, at, dropped, audible] {
                if (serial != serial_) return;
                playing_ = false;
                Q_EMIT ended(at, dropped, audible);
            },
            Qt::QueuedConnection);
    });
}

void FilmPlayer::stop() {
    thread_.request_stop();
}

void FilmPlayer::forget() {
    ++serial_;
    playing_ = false;
    thread_ = {};
}

}  // namespace zl::app
