// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/jobs.h"

#include <QtGlobal>
#include <new>
#include <utility>

namespace zl::app {
namespace {

// Use cases make an error of memory that runs out; what is left is here, and costs the work, not
// the program.
template <class Work>
void unlessMemoryEnds(const Work& work) {
    try {
        work();
    } catch (const std::bad_alloc&) {
        qWarning("There is too little memory for what was asked for.");
    }
}

}  // namespace

struct LatestJob::Box {
    Box(bool newest, Stands stands) : newestCancels(newest), where(stands) {}
    const bool newestCancels;
    const Stands where;
    Mutex mutex;
    Signal ended;
    Work waiting ZL_GUARDED_BY(mutex);
    std::stop_source stop ZL_GUARDED_BY(mutex);
    bool handed ZL_GUARDED_BY(mutex) = false;  // to the crew, which has not begun yet
    bool running ZL_GUARDED_BY(mutex) = false;
};

LatestJob::LatestJob(bool newestCancels, Stands where)
    : box_(std::make_shared<Box>(newestCancels, where)) {}

LatestJob::~LatestJob() {
    cancel();
    const Lock lock(box_->mutex);
    box_->ended.wait(box_->mutex, [this] {
        box_->mutex.assertHeld();
        return !box_->running;
    });
}

void LatestJob::post(Work work) {
    const Lock lock(box_->mutex);
    if (box_->newestCancels) box_->stop.request_stop();
    box_->waiting = std::move(work);
    if (box_->handed || box_->running) return;
    box_->handed = true;
    hand(box_);
}

void LatestJob::cancel() {
    const Lock lock(box_->mutex);
    box_->stop.request_stop();
    box_->waiting = nullptr;
}

// One work at a time; what came meanwhile queues up again, behind what others want.
void LatestJob::hand(const std::shared_ptr<Box>& box) {
    Crew::of(box->where).run([box] {
        Work work;
        std::stop_token stop;
        {
            const Lock lock(box->mutex);
            box->handed = false;
            if (!box->waiting) return;
            work = std::exchange(box->waiting, nullptr);
            box->stop = std::stop_source();
            stop = box->stop.get_token();
            box->running = true;
        }
        unlessMemoryEnds([&] { work(stop); });
        work = nullptr;  // before its owner goes
        const Lock lock(box->mutex);
        box->running = false;
        box->ended.all();
        if (!box->waiting) return;
        box->handed = true;
        hand(box);
    });
}

struct Jobs::Count {
    mutable Mutex mutex;
    Signal ended;
    int running ZL_GUARDED_BY(mutex) = 0;
    std::stop_source stop;
};

std::shared_ptr<Jobs::Count> Jobs::made() {
    return std::make_shared<Count>();
}

Jobs::~Jobs() {
    stopAll();
    waitForDone();
}

void Jobs::start(std::function<void(std::stop_token)> work) {
    {
        const Lock lock(count_->mutex);
        ++count_->running;
    }
    Crew::of(Stands::back).run([work = std::move(work), count = count_]() mutable {
        unlessMemoryEnds([&] { work(count->stop.get_token()); });
        work = nullptr;
        const Lock lock(count->mutex);
        --count->running;
        count->ended.all();
    });
}

void Jobs::stopAll() {
    count_->stop.request_stop();
}

void Jobs::waitForDone() {
    const Lock lock(count_->mutex);
    count_->ended.wait(count_->mutex, [this] {
        count_->mutex.assertHeld();
        return count_->running == 0;
    });
}

int Jobs::running() const {
    const Lock lock(count_->mutex);
    return count_->running;
}

}  // namespace zl::app
