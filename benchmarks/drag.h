// SPDX-License-Identifier: GPL-3.0-or-later
// A hand that drags what stands at a point of the frame, and what it would see: a step is over when
// its patch arrived and every watched widget has painted since.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QThread>
#include <QtTest>
#include <set>

#include "make/canvas/canvas.h"

namespace zl::bench {

class Drag : public QObject {
  public:
    Drag(app::Canvas& canvas, std::set<QWidget*> widgets, RealPoint at)
        : canvas_(canvas), widgets_(std::move(widgets)), from_(canvas.toWidget(at).toPoint()) {
        connect(&canvas, &app::Canvas::stepPainted, this, [this] {
            arrived_ = true;
            waiting_ = widgets_;
        });
        for (QWidget* widget : widgets_) widget->installEventFilter(this);
        QTest::mousePress(&canvas_, Qt::LeftButton, {}, from_);
        QTest::qWait(300);  // what was asked for before is painted: each step waits for its own
    }
    ~Drag() override { QTest::mouseRelease(&canvas_, Qt::LeftButton, {}, from_); }

    void step() {
        arrived_ = false;
        move();
        while (!arrived_ || !waiting_.empty())
            QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    }
    // While the hand moves for two seconds, told of every 8 ms, as a mouse does.
    double framesPerSecond() {
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
        if (event->type() == QEvent::Paint && waiting_.erase(static_cast<QWidget*>(watched)) > 0 &&
            waiting_.empty())
            ++frames_;
        return false;
    }

  private:
    void move() {
        ++steps_;
        const QPoint here = from_ + QPoint(10 + steps_ % 60 * 3, 10 + steps_ % 40 * 2);
        QMouseEvent event(QEvent::MouseMove, here, canvas_.mapToGlobal(here), Qt::NoButton,
                          Qt::LeftButton,
                          Qt::ControlModifier);  // without snapping each step is another place
        QApplication::sendEvent(&canvas_, &event);
    }

    app::Canvas& canvas_;
    std::set<QWidget*> widgets_, waiting_;
    QPoint from_;
    bool arrived_ = false;
    int steps_ = 0, frames_ = 0;
};

}  // namespace zl::bench
