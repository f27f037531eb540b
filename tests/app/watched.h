// SPDX-License-Identifier: GPL-3.0-or-later
// The watchdog: how long the interface thread is away for one event, each with all that it leads to
// at once.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <ctime>
#include <vector>

namespace zl::app {

class Watched : public QApplication {
  public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        if (!watching_ || depth_ > 0) return QApplication::notify(receiver, event);
        // The receiver may be gone afterwards.
        const QString whom =
            QString(receiver->metaObject()->className()) + ' ' + receiver->objectName();
        const QEvent::Type type = event->type();
        QElapsedTimer away;
        away.start();
        const double busy = busyFor();
        ++depth_;
        const bool taken = QApplication::notify(receiver, event);
        --depth_;
        times_.push_back(static_cast<double>(away.nsecsElapsed()) / 1e6);
        const double worked = busyFor() - busy;
        busiest_ = std::max(busiest_, worked);
        if (times_.back() > longest_) {
            longest_ = times_.back();
            busy_ = worked;
            who_ = QString("%1, event %2").arg(whom).arg(static_cast<int>(type));
        }
        return taken;
    }
    // From here on; and the times in ms, shortest first, of what came since.
    void begin() {
        times_.clear();
        longest_ = busiest_ = 0;
        watching_ = true;
    }
    std::vector<double> end() {
        watching_ = false;
        std::sort(times_.begin(), times_.end());
        return std::move(times_);
    }
    // Of the longest of them: whom it went to, and how long its thread had a processor, which a
    // busy machine may take away.
    const QString& who() const { return who_; }
    double busy() const { return busy_; }
    double busiest() const { return busiest_; }  // the most that any of them worked
    static Watched& now() { return *static_cast<Watched*>(qApp); }

  private:
    static double busyFor() {
        timespec now{};
        clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
        return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) / 1e6;
    }
    bool watching_ = false;
    int depth_ = 0;
    double longest_ = 0, busy_ = 0, busiest_ = 0;
    QString who_;
    std::vector<double> times_;
};

}  // namespace zl::app
