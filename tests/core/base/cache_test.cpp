// SPDX-License-Identifier: GPL-3.0-or-later
// What is kept is made once, whoever asks; and crews of threads that help.
#include <gtest/gtest.h>
#include <thread>

#include "base/cache.h"
#include "base/parallel.h"
#include "render/ink_store.h"
#include "support/support.h"

namespace zl {
namespace {

using Numbers = Cache<int, int>;
const auto unit = [](int) { return std::size_t{1}; };

TEST(Cache, KeepsWhatWasMadeAndForgetsTheLongestUnasked) {
    Numbers cache(3);
    int made = 0;
    const auto ask = [&](int key) {
        return cache
            .get(
                key, "A number", {}, [&]() -> Result<int> { return ++made, key * key; }, unit)
            .value();
    };
    EXPECT_EQ(ask(2), 4);
    EXPECT_EQ(ask(2), 4);
    EXPECT_EQ(made, 1);
    ask(3), ask(4);
    ask(2);  // asked for again: 3 is the oldest now
    ask(5);
    EXPECT_EQ(cache.count(), 3u);
    EXPECT_EQ(cache.bytes(), 3u);
    EXPECT_FALSE(cache.kept(3));
    EXPECT_EQ(cache.kept(2), 4);
    cache.forgetIf([](int key, int) { return key == 2; });
    EXPECT_FALSE(cache.kept(2));
    EXPECT_EQ(cache.bytes(), 2u);
    cache.clear();
    EXPECT_EQ(cache.count(), 0u);
}

TEST(Cache, OneThatWeighsMoreThanTheRoomIsKeptAlone) {
    Numbers cache(10);
    const auto heavy = [](int) { return std::size_t{100}; };
    for (int key = 0; key < 3; ++key)
        ASSERT_TRUE(cache.get(
            key, "A number", {}, [&]() -> Result<int> { return key; }, heavy));
    EXPECT_EQ(cache.count(), 1u);
    EXPECT_TRUE(cache.kept(2));
}

TEST(Cache, AnErrorIsTheAnswerAndIsNotKept) {
    Numbers cache(10);
    const auto bad = cache.get(
        1, "A number", {}, [&]() -> Result<int> { return fail(Code::unreadable, "No."); }, unit);
    EXPECT_EQ(bad.error().what, "No.");
    EXPECT_EQ(cache
                  .get(
                      1, "A number", {}, [&]() -> Result<int> { return 7; }, unit)
                  .value(),
              7);
}

TEST(Cache, MemoryThatRunsOutIsAnErrorThatNamesTheThing) {
    Numbers cache(10);
    const auto none = cache.get(
        1, "sunset.png", {}, []() -> Result<int> { throw std::bad_alloc(); }, unit);
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, Code::limitNotMet);
    EXPECT_NE(none.error().what.find("sunset.png is too large"), std::string::npos);
    EXPECT_FALSE(cache.kept(1));
}

TEST(Cache, EightThreadsMakeEachThingOnce) {
    Numbers cache(1000);
    std::array<std::atomic<int>, 20> made{};
    {
        std::vector<std::jthread> threads;
        for (int t = 0; t < 8; ++t)
            threads.emplace_back([&, t] {
                for (int i = 0; i < 200; ++i) {
                    const int key = (i * 7 + t) % 20;
                    const auto value = cache.get(
                        key, "A number", {},
                        [&]() -> Result<int> {
                            ++made[static_cast<std::size_t>(key)];
                            std::this_thread::yield();
                            return key + 1;
                        },
                        unit);
                    ASSERT_EQ(value.value(), key + 1);
                }
            });
    }
    for (const auto& count : made) EXPECT_EQ(count, 1);
}

// Whoever waits may leave; when the one who makes is stopped, another makes it.
TEST(Cache, AWaiterLeavesWhenItIsStoppedAndTakesOverWhenTheMakerIs) {
    Numbers cache(10);
    std::atomic<bool> begun = false, let = false;
    std::jthread maker([&] {
        const auto value = cache.get(
            1, "A number", {},
            [&]() -> Result<int> {
                begun = true;
                begun.notify_all();
                let.wait(false);
                return fail(Code::cancelled, "Cancelled.");
            },
            unit);
        EXPECT_FALSE(value);
    });
    begun.wait(false);
    std::stop_source stop;
    stop.request_stop();
    const auto left = cache.get(
        1, "A number", stop.get_token(), []() -> Result<int> { return 1; }, unit);
    ASSERT_FALSE(left);
    EXPECT_EQ(left.error().code, Code::cancelled);
    std::jthread other([&] {
        EXPECT_EQ(cache
                      .get(
                          1, "A number", {}, []() -> Result<int> { return 5; }, unit)
                      .value(),
                  5);
    });
    let = true;
    let.notify_all();
}

TEST(Crew, SharesEveryPartOnceAndThrowsInTheCaller) {
    for (const int threads : {1, 2, 8}) {
        std::vector<std::atomic<int>> done(1000);
        overRows(1000, 7, threads, [&](int from, int to) {
            for (int i = from; i < to; ++i) ++done[static_cast<std::size_t>(i)];
        });
        for (const auto& one : done) ASSERT_EQ(one, 1);
        EXPECT_THROW(overRows(1000, 7, threads,
                              [&](int from, int) {
                                  if (from == 497) throw std::bad_alloc();
                              }),
                     std::bad_alloc);
    }
}

// Parts that share parts of their own come to an end, however many threads there are.
TEST(Crew, SharesWithinShares) {
    std::atomic<int> parts = 0;
    overRows(16, 1, 4, [&](int, int) { overRows(50, 1, 4, [&](int, int) { ++parts; }); });
    EXPECT_EQ(parts, 800);
}

TEST(Crew, MakesNoThreadForEachShare) {
    const auto threads = [] {
        std::size_t count = 0;
        for ([[maybe_unused]] const auto& entry :
             std::filesystem::directory_iterator("/proc/self/task"))
            ++count;
        return count;
    };
    overRows(100, 1, 8, [](int, int) {});
    const std::size_t before = threads();
    for (int i = 0; i < 200; ++i)
        overRows(100, 1, 8, [&](int, int) {
            if (i % 50 == 0) {
                EXPECT_EQ(threads(), before);
            }
        });
    EXPECT_EQ(threads(), before);
}

TEST(Beside, IsDoneByTheEndAndThrowsWhenItIsAskedFor) {
    int value = 0;
    {
        Beside work([&] { value = 5; });
    }
    EXPECT_EQ(value, 5);
    Beside bad([] { throw std::bad_alloc(); });
    EXPECT_THROW(bad.finish(), std::bad_alloc);
}

}  // namespace
}  // namespace zl
