// SPDX-License-Identifier: GPL-3.0-or-later
// Plays a video at its own rate, with its sound where there is a device: frames that are late are
// dropped, and how many is told. It has a thread of its own, since it runs for as long as somebody
// looks.
#pragma once

#include <QObject>
#include <QSize>
#include <atomic>
#include <memory>
#include <thread>

#include "video/sound.h"
#include "work/film_desk.h"

namespace zl::app {

class FilmPlayer : public QObject {
    Q_OBJECT
  public:
    explicit FilmPlayer(QObject* parent = nullptr) : QObject(parent) {}
    ~FilmPlayer() override { thread_ = {}; }

    // From one second to the other; `room` is as large as its pictures are made.
    void start(std::function<Result<Video>(const std::stop_token&)> open, const Path& file,
               const Span& span, QSize room);
    void stop();    // ended() follows
    void forget();  // without a word
    bool playing() const { return playing_; }

  Q_SIGNALS:
    void moved(const zl::app::FilmFrame& frame);
    // At its end, or where it was stopped.
    void ended(double seconds, int dropped, bool audible);

  private:
    bool playing_ = false;
    int serial_ = 0;
    std::shared_ptr<std::atomic<bool>> seen_ = std::make_shared<std::atomic<bool>>(true);
    Path soundOf_;
    std::shared_ptr<SoundSource> sound_;  // nothing: mute
    std::jthread thread_;
};

}  // namespace zl::app
