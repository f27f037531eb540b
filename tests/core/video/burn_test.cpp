// SPDX-License-Identifier: GPL-3.0-or-later
// A mark burned in: its time and strength, limits, and that nothing is left of what was given up.
#include "video/burn.h"

#include <thread>

#include "support/clips.h"

namespace zl {
namespace {

using test::good;

BurnPlan planFor(const Path& video, double length) {
    BurnPlan plan;
    plan.video = video;
    plan.length = length;
    plan.mark =
        std::make_shared<const Straight8>(Straight8::cleared({32, 16}, packed(250, 40, 30, 255)));
    plan.left = 20;
    plan.top = 10;
    return plan;
}

Path clip(const test::Folder& folder, int frames = 50) {
    return test::clipOf(folder / "c.mp4", {160, 90}, frames, [](int n) {
        return test::textured({160, 90}, 2 + n % 20);
    });
}

std::size_t filesIn(const test::Folder& folder) {
    std::size_t count = 0;
    for ([[maybe_unused]] const auto& one : std::filesystem::directory_iterator(folder.path()))
        ++count;
    return count;
}

TEST(Burn, TheMarkShowsInItsTimeAsStrongAsItFades) {
    const MarkTime time{0.5, 1.5, 0.5, 0.8};
    EXPECT_DOUBLE_EQ(time.weightAt(0.4, 2), 0);
    EXPECT_DOUBLE_EQ(time.weightAt(0.75, 2), 0.4);
    EXPECT_DOUBLE_EQ(time.weightAt(1, 2), 0.8);
    EXPECT_DOUBLE_EQ(time.weightAt(1.25, 2), 0.4);
    EXPECT_DOUBLE_EQ(time.weightAt(1.5, 2), 0);
    EXPECT_TRUE(checkMarkTime(time, 2));
    EXPECT_FALSE(checkMarkTime({3, {}, 0, 1}, 2)) << "after the video's end";
    EXPECT_FALSE(checkMarkTime({1, 0.5, 0, 1}, 2)) << "it goes before it comes";
    EXPECT_FALSE(checkMarkTime({0, 1.0, 0.6, 1}, 2)) << "it cannot fade twice in that time";
    EXPECT_FALSE(checkMarkTime({0, {}, 0, 1.5}, 2));
}

TEST(Burn, WritesEveryFrameAndMarksThoseOfItsTime) {
    const test::Folder folder;
    BurnPlan plan = planFor(clip(folder), 2);
    plan.time = {0.4, 1.2, 0, 1};
    double last = 0;
    const Burnt told = good(burn(plan, folder / "out.mp4", Replace::no, [&](double part) {
        EXPECT_GE(part, last);
        last = part;
    }));
    EXPECT_EQ(told.frames, 50);
    EXPECT_EQ(told.marked, 20);
    EXPECT_EQ(told.codec, "h264");
    EXPECT_EQ(last, 1);
    Video video = good(Video::open(folder / "out.mp4"));
    EXPECT_EQ(video.facts().frames, 50);
    const auto red = [&](long long n) { return redOf(good(video.frame(n)).pixels.row(18)[36]); };
    EXPECT_LT(red(9), 150);
    EXPECT_GT(red(10), 230);
    EXPECT_GT(red(29), 230);
    EXPECT_LT(red(30), 150);
    // What stands there stays, and the video itself is never written.
    EXPECT_EQ(burn(plan, folder / "out.mp4", Replace::no).error().code, Code::unwritable);
    EXPECT_EQ(burn(plan, plan.video, Replace::yes).error().code, Code::unwritable);
}

TEST(Burn, ALimitIsMetOrNothingIsWritten) {
    const test::Folder folder;
    BurnPlan plan = planFor(clip(folder), 2);
    const Burnt free = good(burn(plan, folder / "free.mp4", Replace::no));
    plan.limit = free.bytes * 6 / 10;
    const Burnt under = good(burn(plan, folder / "under.mp4", Replace::no));
    EXPECT_LE(under.bytes, plan.limit);
    EXPECT_GT(under.bytes, plan.limit / 2) << "as good as the limit allows";
    EXPECT_GE(under.passes, 2);
    EXPECT_EQ(static_cast<long long>(std::filesystem::file_size(folder / "under.mp4")),
              under.bytes);
    plan.limit = 2000;
    const std::size_t before = filesIn(folder);
    EXPECT_EQ(burn(plan, folder / "small.mp4", Replace::no).error().code, Code::limitNotMet);
    EXPECT_EQ(filesIn(folder), before);
}

TEST(Burn, CancelledAtAnyMomentItLeavesNothing) {
    const test::Folder folder;
    const BurnPlan plan = planFor(clip(folder, 75), 3);
    const std::size_t before = filesIn(folder);
    for (const double at : {0.0, 0.3, 0.9}) {
        std::stop_source stop;
        const auto done = burn(
            plan, folder / "out.mp4", Replace::no,
            [&](double part) {
                if (part >= at) stop.request_stop();
            },
            stop.get_token());
        ASSERT_FALSE(done);
        EXPECT_EQ(done.error().code, Code::cancelled);
        EXPECT_EQ(filesIn(folder), before);
    }
}

TEST(Burn, WhatIsNoVideoOrCannotBeMarkedIsOneSentence) {
    const test::Folder folder;
    ASSERT_TRUE(writeFile(folder / "words.mp4", test::bytesOf("no video"), Replace::no));
    EXPECT_EQ(burn(planFor(folder / "words.mp4", 2), folder / "o.mp4", Replace::no).error().code,
              Code::unreadable);
    EXPECT_EQ(burn(planFor(folder / "none.mp4", 2), folder / "o.mp4", Replace::no).error().code,
              Code::unreadable);
    EXPECT_EQ(burn(planFor(clip(folder), 2), folder / "nowhere/o.mp4", Replace::no).error().code,
              Code::unwritable);
    EXPECT_EQ(videoContainerBy(".mov"), std::nullopt);
    EXPECT_EQ(videoContainerBy(".webm"), VideoContainer::webm);
}

TEST(NewFile, HasNoNameUntilItIsKept) {
    const test::Folder folder;
    {
        NewFile file = good(NewFile::begin(folder / "a", Replace::no));
        ASSERT_TRUE(file.write(test::bytesOf("half")));
        EXPECT_EQ(test::textOf(good(readFile(file.meanwhile()))), "half");
    }
    EXPECT_EQ(filesIn(folder), 0u) << "given up";
    NewFile file = good(NewFile::begin(folder / "a", Replace::no));
    ASSERT_TRUE(file.write(test::bytesOf("whole")));
    ASSERT_TRUE(file.keep());
    EXPECT_EQ(test::textOf(good(readFile(folder / "a"))), "whole");
    EXPECT_EQ(good(sha256OfFile(folder / "a")), sha256(test::bytesOf("whole")));
    NewFile next = good(NewFile::begin(folder / "a", Replace::yes));
    ASSERT_TRUE(next.write(test::bytesOf("newer")));
    EXPECT_EQ(test::textOf(good(readFile(folder / "a"))), "whole") << "until it is kept";
    ASSERT_TRUE(next.keep());
    EXPECT_EQ(test::textOf(good(readFile(folder / "a"))), "newer");
    EXPECT_EQ(NewFile::begin(folder / "a", Replace::no).error().code, Code::unwritable);
    EXPECT_EQ(filesIn(folder), 1u);
}

}  // namespace
}  // namespace zl
