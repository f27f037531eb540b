// SPDX-License-Identifier: GPL-3.0-or-later
// A mutex that clang can follow: `ZL_GUARDED_BY(mutex)` behind a member says which mutex guards it,
// `ZL_REQUIRES(mutex)` behind a function that its caller holds it, and clang's -Wthread-safety,
// which scripts/lint.sh asks for, says where that is not so. Other compilers see a mutex.
#pragma once

#include <condition_variable>
#include <mutex>
#include <stop_token>

#if defined(__clang__)
#define ZL_THREADS(x) __attribute__((x))
#else
#define ZL_THREADS(x)
#endif
#define ZL_GUARDED_BY(mutex) ZL_THREADS(guarded_by(mutex))
#define ZL_REQUIRES(mutex) ZL_THREADS(requires_capability(mutex))

namespace zl {

class ZL_THREADS(capability("mutex")) Mutex {
  public:
    void lock() ZL_THREADS(acquire_capability()) { mutex_.lock(); }
    void unlock() ZL_THREADS(release_capability()) { mutex_.unlock(); }
    void assertHeld() const ZL_THREADS(assert_capability(this)) {}  // for lambdas, which clang
                                                                    // does not follow
  private:
    std::mutex mutex_;
};

class ZL_THREADS(scoped_lockable) Lock {
  public:
    explicit Lock(Mutex& mutex) ZL_THREADS(acquire_capability(mutex)) : mutex_(mutex) {
        mutex_.lock();
    }
    ~Lock() ZL_THREADS(release_capability()) { mutex_.unlock(); }
    Lock(const Lock&) = delete;
    Lock& operator=(const Lock&) = delete;

  private:
    Mutex& mutex_;
};

// Waits on a Mutex that the caller holds; it is held again when a wait returns.
class Signal {
  public:
    template <class True>
    void wait(Mutex& mutex, const True& isTrue) ZL_REQUIRES(mutex) {
        signal_.wait(mutex, isTrue);
    }
    // Whether it is true; false when it was stopped before.
    template <class True>
    bool wait(Mutex& mutex, const std::stop_token& stop, const True& isTrue) ZL_REQUIRES(mutex) {
        return signal_.wait(mutex, stop, isTrue);
    }
    void one() { signal_.notify_one(); }
    void all() { signal_.notify_all(); }

  private:
    std::condition_variable_any signal_;
};

}  // namespace zl
