// SPDX-License-Identifier: GPL-3.0-or-later
// The watchdog: how long the interface thread is away for one event, each with all that it leads to at once.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <vector>

namespace zl::app {

class Watched : public QApplication {
  public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        if (!watching_ || depth_ > 0) return QApplication::notify(receiver, event);
        // The receiver may be gone afterwards.
        const QString whom = QString(receiver->metaObject()->className()) + ' ' + receiver->objectName();
        const QEvent::Type type = event->type();
        QElapsedTimer away;
        away.start();
        ++depth_;
        const bool taken = QApplication::notify(receiver, event);
        --depth_;
        times_.push_back(static_cast<double>(away.nsecsElapsed()) / 1e6);
        if (times_.back() > longest_) {
            longest_ = times_.back();
            who_ = QString("%1, event %2").arg(whom).arg(static_cast<int>(type));
        }
        return taken;
    }
    // From here on; and the times in ms, shortest first, of what came since.
    void begin() {
        times_.clear();
        longest_ = 0;
        watching_ = true;
    }
    std::vector<double> end() {
        watching_ = false;
        std::sort(times_.begin(), times_.end());
        return std::move(times_);
    }
    const QString& who() const { return who_; }  // whom the longest of them went to
    static Watched& now() { return *static_cast<Watched*>(qApp); }

  private:
    bool watching_ = false;
    int depth_ = 0;
    double longest_ = 0;
    QString who_;
    std::vector<double> times_;
};

}  // namespace zl::app
