// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/jobs.h"

namespace zl::app {

LatestJob::LatestJob(bool newestCancels, Stands where)
    : newestCancels_(newestCancels),
      where_(where),
      thread_([this](const std::stop_token& end) { run(end); }) {}

LatestJob::~LatestJob() {
    cancel();
    thread_.request_stop();
    wake_.notify_all();
}

void LatestJob::post(Work work) {
    const std::scoped_lock lock(mutex_);
    if (newestCancels_) running_.request_stop();
    waiting_ = std::move(work);
    wake_.notify_all();
}

void LatestJob::cancel() {
    const std::scoped_lock lock(mutex_);
    running_.request_stop();
    waiting_ = nullptr;
}

void LatestJob::run(const std::stop_token& end) {
    stand(where_);
    while (true) {
        Work work;
        std::stop_token stop;
        {
            std::unique_lock lock(mutex_);
            if (!wake_.wait(lock, end, [this] { return static_cast<bool>(waiting_); })) return;
            work = std::exchange(waiting_, nullptr);
            running_ = std::stop_source();
            stop = running_.get_token();
        }
        work(stop);
    }
}

}  // namespace zl::app
