// SPDX-License-Identifier: GPL-3.0-or-later
// Waits for what a hand would see: the patch of a step arrived, and every watched widget has painted since.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QThread>
#include <QWidget>
#include <set>

#include "canvas.h"

namespace zl::bench {

class PaintWatch : public QObject {
  public:
    PaintWatch(app::Canvas& canvas, std::set<QWidget*> widgets) : widgets_(std::move(widgets)) {
        connect(&canvas, &app::Canvas::stepPainted, this, [this] {
            arrived_ = true;
            waiting_ = widgets_;
        });
        for (QWidget* widget : widgets_) widget->installEventFilter(this);
    }
    void begin() { arrived_ = false; }
    void wait() {
        while (!arrived_ || !waiting_.empty()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    }
    // Frames a second while a hand moves for two seconds, told of every 8 ms, as a mouse does.
    template <class Move>
    double framesPerSecond(const Move& move) {
        constexpr int every = 8, lasts = 2000;
        frames_ = 0;
        QElapsedTimer time;
        time.start();
        for (int next = 0; time.elapsed() < lasts;) {
            if (time.elapsed() >= next) {
                move();
                next = static_cast<int>(time.elapsed()) / every * every + every;
            }
            QApplication::processEvents(QEventLoop::AllEvents);
            if (time.elapsed() < next) QThread::usleep(200);
        }
        return 1000.0 * frames_ / static_cast<double>(time.elapsed());
    }

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::Paint && waiting_.erase(static_cast<QWidget*>(watched)) > 0 && waiting_.empty()) ++frames_;
        return false;
    }

  private:
    std::set<QWidget*> widgets_, waiting_;
    bool arrived_ = false;
    int frames_ = 0;
};

}  // namespace zl::bench
