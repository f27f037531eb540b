// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/crew.h"

#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <mutex>

namespace zl {
namespace {

thread_local Stands mine = Stands::first;

}  // namespace

void stand(Stands where) {
    mine = where;
    constexpr std::array<int, 4> nice{0, 1, 3, 5};
    // A thread's own number, which Linux takes for a process here: only this thread stands back.
    // Refused, it runs as it did.
    if (where != Stands::first)
        static_cast<void>(setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()),
                                      nice[static_cast<std::size_t>(where)]));
}

Stands standing() {
    return mine;
}

int coreCount() {
    static const int cores = std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
    return cores;
}

class Crew::Task {
  public:
    explicit Task(std::function<void()> work) : work_(std::move(work)) {}
    void run() {
        std::call_once(once_, [this] {
            try {
                work_();
            } catch (...) {
                thrown_ = std::current_exception();
            }
            work_ = nullptr;
        });
    }
    const std::exception_ptr& thrown() const { return thrown_; }

  private:
    std::function<void()> work_;
    std::once_flag once_;
    std::exception_ptr thrown_;
};

Beside::Beside(std::function<void()> work) : task_(Crew::mine().begin(std::move(work))) {}

Beside::~Beside() {
    task_->run();
}

void Beside::finish() {
    task_->run();
    if (task_->thrown()) std::rethrow_exception(task_->thrown());
}

Crew& Crew::of(Stands where) {
    // As many as there are processors: a thread that does a job of its own is no helper meanwhile.
    // Made when it is first needed.
    const auto made = [](Stands stands) { return std::make_unique<Crew>(coreCount(), stands); };
    switch (where) {
        case Stands::first: {
            static const auto crew = made(Stands::first);
            return *crew;
        }
        case Stands::withTheHand: {
            static const auto crew = made(Stands::withTheHand);
            return *crew;
        }
        case Stands::back: {
            static const auto crew = made(Stands::back);
            return *crew;
        }
        case Stands::farBack:
            break;
    }
    static const auto crew = made(Stands::farBack);
    return *crew;
}

Crew::Crew(int size, Stands where) : where_(where) {
    for (int i = 0; i < size; ++i)
        threads_.emplace_back([this](const std::stop_token& end) { work(end); });
}

Crew::~Crew() {
    for (std::jthread& thread : threads_) thread.request_stop();
    threads_.clear();
}

void Crew::takeOut(const Batch& batch) {
    std::erase(waiting_, &batch);
}

void Crew::share(int helpers, const std::function<void()>& run) {
    Batch batch{&run, 0, {}};
    helpers = std::min(helpers, static_cast<int>(threads_.size()));
    if (helpers > 0) {
        const Lock lock(mutex_);
        waiting_.insert(waiting_.end(), static_cast<std::size_t>(helpers), &batch);
        helpers == 1 ? wake_.one() : wake_.all();
    }
    std::exception_ptr own;
    try {
        run();
    } catch (...) {
        own = std::current_exception();
    }
    if (helpers > 0) {
        const Lock lock(mutex_);
        takeOut(batch);
        done_.wait(mutex_, [&] { return batch.running == 0; });
    }
    if (own || batch.thrown) std::rethrow_exception(own ? own : batch.thrown);
}

std::shared_ptr<Crew::Task> Crew::begin(std::function<void()> work) {
    auto task = std::make_shared<Task>(std::move(work));
    const Lock lock(mutex_);
    tasks_.push_back(task);
    wake_.one();
    return task;
}

// Helps without the lock, and holds it again afterwards.
void Crew::help(Batch& batch) {
    ++batch.running;
    mutex_.unlock();
    std::exception_ptr thrown;
    try {
        (*batch.run)();
    } catch (...) {
        thrown = std::current_exception();
    }
    mutex_.lock();
    if (thrown && !batch.thrown) batch.thrown = thrown;
    if (--batch.running == 0) done_.all();
}

void Crew::work(const std::stop_token& end) {
    stand(where_);
    const Lock lock(mutex_);
    const auto asked = [this] {
        mutex_.assertHeld();
        return !waiting_.empty() || !tasks_.empty();
    };
    while (wake_.wait(mutex_, end, asked)) {
        if (waiting_.empty()) {
            const auto task = std::move(tasks_.front());
            tasks_.pop_front();
            mutex_.unlock();
            task->run();
            mutex_.lock();
            continue;
        }
        Batch* batch = waiting_.front();
        waiting_.pop_front();
        help(*batch);
    }
}

}  // namespace zl
