// SPDX-License-Identifier: GPL-3.0-or-later
// Work off the interface thread. Results come back on it, in order, through the receiver's event
// loop.
#pragma once

#include <QMetaObject>
#include <QObject>
#include <QThreadPool>
#include <condition_variable>
#include <functional>
#include <mutex>
#include <stop_token>
#include <thread>

#include "base/crew.h"

namespace zl::app {

// One thread with a mailbox for one: the newest work replaces what waits. `newestCancels` also
// stops what runs; without it the running work ends first, so that a drag shows every step it can.
// The destructor stops and joins.
class LatestJob {
  public:
    using Work = std::function<void(std::stop_token)>;
    explicit LatestJob(bool newestCancels, Stands where = Stands::back);
    ~LatestJob();
    LatestJob(const LatestJob&) = delete;
    LatestJob& operator=(const LatestJob&) = delete;

    void post(Work work);
    void cancel();  // what runs and what waits

  private:
    void run(const std::stop_token& end);

    const bool newestCancels_;
    const Stands where_;
    std::mutex mutex_;
    std::condition_variable_any wake_;
    Work waiting_;
    std::stop_source running_;
    std::jthread thread_;  // last: starts when all else is there
};

// Runs `work()` in the pool and `done(result)` in the receiver's thread. The pool must be waited
// for before the receiver goes (the session does).
template <class Work, class Done>
void aside(QThreadPool& pool, QObject* receiver, Work work, Done done) {
    pool.start([receiver, work = std::move(work), done = std::move(done)]() mutable {
        stand(Stands::back);
        auto result = std::make_shared<decltype(work())>(work());
        QMetaObject::invokeMethod(
            receiver, [done = std::move(done), result]() mutable { done(std::move(*result)); },
            Qt::QueuedConnection);
    });
}

}  // namespace zl::app
