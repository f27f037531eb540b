// SPDX-License-Identifier: GPL-3.0-or-later
// Runs along a video, both ways and at several speeds. At its own rate it plays with sound; else
// near pictures are shown as fast as the hand needs them.
#pragma once

#include <QElapsedTimer>
#include <QTimer>

#include "work/film_desk.h"
#include "work/film_player.h"

namespace zl::app {

class Shuttle : public QObject {
    Q_OBJECT
  public:
    static constexpr int fastest = 8;

    explicit Shuttle(FilmDesk& desk, QObject* parent = nullptr);
    // On or back from that second inside the part; the same way again doubles the speed.
    void push(int way, double from, const Span& part, QSize room);
    void halt();                          // where it is: halted() says where
    void forget();                        // without a word
    int speed() const { return speed_; }  // times the video's own; below 0: back; 0: it stands

  Q_SIGNALS:
    void changed();  // of speed
    void moved(const zl::app::FilmFrame& frame);
    void passed(double seconds);  // near pictures come from the desk
    // At an end of the part, or where it was halted. `words` say what was dropped, or why it was
    // mute; empty mostly.
    void halted(double seconds, const QString& words);

  private:
    void run();
    void tick();
    FilmDesk& desk_;
    FilmPlayer player_;
    QTimer timer_;
    QElapsedTimer since_;
    int speed_ = 0;
    double at_ = 0;  // s
    Span part_;
    QSize room_;
};

}  // namespace zl::app
