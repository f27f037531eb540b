// SPDX-License-Identifier: GPL-3.0-or-later
// Threads that help whoever has work to share. They are made once, when they are first needed, and
// stand as far back as the thread that they help (docs/decisions/016 tells why no library's pool).
#pragma once

#include <deque>
#include <exception>
#include <functional>
#include <memory>
#include <thread>
#include <vector>

#include "base/guarded.h"

namespace zl {

// How far a thread stands back when the processors are busy (setpriority(2)): the interface comes
// first, and what follows the hand with it.
enum class Stands { first, withTheHand, back, farBack };
// The calling thread, and the crew that helps it from now on; it cannot come forward again.
void stand(Stands where);
Stands standing();  // of the calling thread; `first` until it was told otherwise

// At least 1.
int coreCount();

class Crew {
  public:
    // The crew that stands there, and the one that helps the calling thread.
    static Crew& of(Stands where);
    static Crew& mine() { return of(standing()); }

    Crew(int size, Stands where);
    ~Crew();
    Crew(const Crew&) = delete;
    Crew& operator=(const Crew&) = delete;

    // Calls `run` in the caller, and in up to `helpers` threads that are idle meanwhile; returns
    // when all of them have returned. The caller is never kept waiting for a thread that has not
    // begun, so that work may share parts of itself. What `run` throws is thrown here.
    void share(int helpers, const std::function<void()>& run);

    // Does `work`, some time, in a thread of the crew. What it throws ends the program: nobody is
    // there to hear of it.
    void run(std::function<void()> work) {
        begin([work = std::move(work)]() noexcept { work(); });
    }

  private:
    friend class Beside;
    class Task;
    std::shared_ptr<Task> begin(std::function<void()> work);
    struct Batch {
        const std::function<void()>* run = nullptr;
        int running = 0;
        std::exception_ptr thrown;
    };
    void work(const std::stop_token& end);
    void takeOut(const Batch& batch) ZL_REQUIRES(mutex_);
    void help(Batch& batch) ZL_REQUIRES(mutex_);

    const Stands where_;
    Mutex mutex_;
    Signal wake_, done_;
    std::deque<Batch*> waiting_ ZL_GUARDED_BY(mutex_);
    std::deque<std::shared_ptr<Task>> tasks_ ZL_GUARDED_BY(mutex_);
    std::vector<std::jthread> threads_;  // last: they start when all else is there
};

// Work that a thread of the caller's crew begins when it is idle, while the caller does other
// things. Its end is waited for by the destructor at the latest, so it may look at what stands
// round it.
class Beside {
  public:
    explicit Beside(std::function<void()> work);
    ~Beside();
    Beside(const Beside&) = delete;
    Beside& operator=(const Beside&) = delete;
    // Does it here when no thread has begun it, else waits for its end. What it threw is thrown.
    void finish();

  private:
    std::shared_ptr<Crew::Task> task_;
};

}  // namespace zl
