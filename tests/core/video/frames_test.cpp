// SPDX-License-Identifier: GPL-3.0-or-later
// Frames of a video: whichever way one comes to a frame, it is that frame; near pictures are near.
#include "film/glimpses.h"
#include "support/clips.h"

namespace zl {
namespace {

using test::good;

using test::small;
constexpr int frames = 130, bits = 8;

// Each frame says its number: a column of the frame is light for each bit that is set.
class Numbered : public testing::Test {
  protected:
    static void SetUpTestSuite() {
        folder_ = std::make_unique<test::Folder>();
        const test::Ground ground(small, 61);
        file_ = test::clipOf(*folder_ / "numbered.mp4", small, frames, [&](int n) {
            Straight8 frame = ground.seen(2.0 * n);
            for (int bit = 0; bit < bits; ++bit)
                for (int y = 0; y < 40; ++y)
                    std::fill_n(
                        frame.row(y) + bit * 40, 40,
                        n >> bit & 1 ? packed(235, 235, 235, 255) : packed(16, 16, 16, 255));
            return frame;
        });
    }
    static void TearDownTestSuite() { folder_.reset(); }
    static long long numberIn(const Straight8& pixels) {
        long long number = 0;
        for (int bit = 0; bit < bits; ++bit)
            number |= static_cast<long long>(
                          greenOf(pixels.row(pixels.height() /
                                             9)[(2 * bit + 1) * pixels.width() / (2 * bits)]) > 128)
                      << bit;
        return number;
    }
    Video video_ = good(Video::open(file_));
    inline static Path file_;

  private:
    inline static std::unique_ptr<test::Folder> folder_;
};

TEST_F(Numbered, StepsAndLeapsEndAtTheFrameThatWasAskedFor) {
    std::mt19937 random(7);
    std::uniform_int_distribution<int> leap(-60, 60), kind(0, 9);
    long long at = 50;
    for (int turn = 0; turn < 150; ++turn) {
        const int which = kind(random);
        at += which < 4 ? 1 : which < 8 ? -1 : leap(random);
        at = std::clamp(at, 0ll, static_cast<long long>(frames) - 1);
        const VideoFrame frame = good(video_.frame(at));
        ASSERT_EQ(numberIn(frame.pixels), at) << "turn " << turn;
        ASSERT_EQ(frame.number, at);
        ASSERT_DOUBLE_EQ(frame.time, static_cast<double>(at) / 25);
    }
}

TEST_F(Numbered, TheSamePixelsComeEachWay) {
    const VideoFrame fresh = good(video_.frame(77));
    Video other = good(video_.again());
    for (long long n = 70; n <= 90; ++n) static_cast<void>(good(other.frame(n)));
    const VideoFrame back = good(other.frame(77));
    EXPECT_TRUE(std::ranges::equal(fresh.pixels.pixels(), back.pixels.pixels()));
}

TEST_F(Numbered, AKeyFrameIsTheOneBeforeAndAsSmallAsItsRoom) {
    long long last = -1;
    for (const long long asked : {0ll, 20ll, 60ll, 129ll}) {
        const SeenFrame near = good(video_.keyFrame(asked, {160, 160}));
        EXPECT_LE(near.number, asked);
        EXPECT_EQ(near.pixels.size(), (PixelSize{160, 90})) << "in its own shape";
        EXPECT_EQ(numberIn(near.pixels), near.number);
        EXPECT_GE(near.number, last);
        last = near.number;
    }
}

TEST_F(Numbered, PlayingTellsEachFrameInItsOrder) {
    std::vector<long long> told;
    std::vector<double> times;
    ASSERT_TRUE(video_.play(40, {160, 90}, [&](long long number, double time, const auto& make) {
        told.push_back(number);
        times.push_back(time);
        // One in three comes too late to be shown.
        if (number % 3 != 0) {
            const Straight8 pixels = good(make());
            EXPECT_EQ(pixels.size(), (PixelSize{160, 90}));
            EXPECT_EQ(numberIn(pixels), number);
        }
        return number < 90;
    }));
    ASSERT_EQ(told.size(), 51u);
    for (std::size_t i = 0; i < told.size(); ++i) {
        EXPECT_EQ(told[i], 40 + static_cast<long long>(i));
        EXPECT_NEAR(times[i], static_cast<double>(told[i]) / 25, 1e-9);
    }
}

TEST_F(Numbered, PlayingBeginsAnywhereAndAsOftenAsOneLikes) {
    const auto played = [this](long long from) {
        std::vector<long long> told;
        EXPECT_TRUE(video_.play(from, {80, 45}, [&](long long number, double, const auto&) {
            told.push_back(number);
            return true;
        }));
        return told;
    };
    // To the end, again from the same frame, and from one that stands decoded beside it.
    for (const long long from : {0ll, 0ll, 60ll, 60ll, 58ll, 129ll, 0ll}) {
        static_cast<void>(good(video_.frame(from)));
        const auto told = played(from);
        ASSERT_EQ(told.size(), static_cast<std::size_t>(frames - from)) << from;
        for (std::size_t i = 0; i < told.size(); ++i)
            ASSERT_EQ(told[i], from + static_cast<long long>(i));
    }
}

TEST_F(Numbered, LookingThroughMeetsAFrameEachQuarterOfASecondFromTheFirstOn) {
    std::vector<long long> due;
    ASSERT_TRUE(video_.each(0.25, 160, [&](const Passing& passing) {
        if (passing.luma.empty()) return true;
        due.push_back(passing.glance.number);
        EXPECT_EQ(numberIn(passing.picture), passing.glance.number);
        EXPECT_EQ(passing.luma.size(), static_cast<std::size_t>(passing.width * passing.height));
        return true;
    }));
    ASSERT_GE(due.size(), 18u);
    EXPECT_EQ(due.front(), 0);
    for (std::size_t i = 1; i < due.size(); ++i) EXPECT_LE(due[i] - due[i - 1], 9);
    EXPECT_GE(due.back(), frames - 9);
}

TEST_F(Numbered, SecondsAreThoseOfTheFrameThatIsShownThen) {
    EXPECT_EQ(good(video_.numberAt(0)), 0);
    EXPECT_EQ(good(video_.numberAt(1.039)), 25);
    EXPECT_EQ(good(video_.numberAt(1.04)), 26);
    EXPECT_FALSE(video_.numberAt(-0.1));
    EXPECT_FALSE(video_.numberAt(60));
    EXPECT_FALSE(video_.frame(frames));
}

TEST_F(Numbered, WhatIsChangedWhileItIsOpenIsToldOrStaysAsItWas) {
    const test::Folder folder;
    const Path file = folder / "changing.mp4";
    std::filesystem::copy_file(file_, file);
    Video video = good(Video::open(file));
    EXPECT_EQ(numberIn(good(video.frame(10)).pixels), 10);
    // Removed: it is still open.
    std::filesystem::remove(file);
    EXPECT_EQ(numberIn(good(video.frame(100)).pixels), 100);
    // Replaced by something else under its name: nothing of that is read.
    ASSERT_TRUE(writeFile(file, test::bytesOf("no video any more"), Replace::no));
    EXPECT_EQ(numberIn(good(video.frame(64)).pixels), 64);
    // Cut off in its place: one sentence, no crash.
    const Path cut = folder / "cut.mp4";
    std::filesystem::copy_file(file_, cut);
    Video shrinking = good(Video::open(cut));
    std::filesystem::resize_file(cut, 2000);
    const auto gone = shrinking.frame(120);
    if (!gone) {
        EXPECT_EQ(gone.error().code, Code::unreadable);
        EXPECT_FALSE(gone.error().sentence().empty());
    } else {
        EXPECT_EQ(numberIn(gone->pixels), 120) << "what was read before is right";
    }
}

}  // namespace
}  // namespace zl
