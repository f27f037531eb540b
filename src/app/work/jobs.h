// SPDX-License-Identifier: GPL-3.0-or-later
// Work off the interface thread, done by the crews (base/crew.h): no thread is made for it. Results
// come back on the interface thread, in order, through the receiver's event loop.
#pragma once

#include <QMetaObject>
#include <QObject>
#include <functional>
#include <memory>
#include <stop_token>

#include "base/crew.h"
#include "base/guarded.h"

namespace zl::app {

// A mailbox for one: the newest work replaces what waits. `newestCancels` also stops what runs;
// without it the running work ends first, so that a drag shows every step it can. The destructor
// stops what runs and waits for its end.
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
    struct Box;
    static void hand(const std::shared_ptr<Box>& box);
    const std::shared_ptr<Box> box_;
};

// Work of which all is done, not only the newest. The destructor asks it to stop and waits for it.
class Jobs {
  public:
    Jobs() = default;
    ~Jobs();
    Jobs(const Jobs&) = delete;
    Jobs& operator=(const Jobs&) = delete;

    void start(std::function<void(std::stop_token)> work);
    // From now on: what looks at its stop token ends soon, what writes a file ends as it would.
    void stopAll();
    void waitForDone();
    int running() const;

  private:
    struct Count;
    const std::shared_ptr<Count> count_ = made();
    static std::shared_ptr<Count> made();
};

// Runs `work()`, or `work(stop)`, aside, and `done(result)` in the receiver's thread. The jobs must
// be waited for before the receiver goes (the session does).
template <class Work, class Done>
void aside(Jobs& jobs, QObject* receiver, Work work, Done done) {
    jobs.start([receiver, work = std::move(work),
                done = std::move(done)](const std::stop_token& stop) mutable {
        const auto run = [&] {
            if constexpr (std::is_invocable_v<Work&, std::stop_token>)
                return work(stop);
            else
                return work();
        };
        auto result = std::make_shared<decltype(run())>(run());
        QMetaObject::invokeMethod(
            receiver, [done = std::move(done), result]() mutable { done(std::move(*result)); },
            Qt::QueuedConnection);
    });
}

}  // namespace zl::app
