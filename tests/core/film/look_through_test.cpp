// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts, fades and smears where they were put; what is proposed keeps clear of them.
#include "film/candidates.h"
#include "support/clips.h"
#include "video/video.h"

namespace zl {
namespace {

using test::good;

using test::small;

// Shots of 20 to 60 frames, each another ground that moves at a pace of its own, at times faster
// than a pan of the hand, and flickers as lamps do.
struct ManyShots {
    std::vector<int> firsts;  // of each shot but the first
    int frames = 0;
    Path file;
};
ManyShots manyShots(const test::Folder& folder, unsigned seed, int shots) {
    std::mt19937 random(seed);
    std::uniform_int_distribution<int> length(20, 60);
    std::uniform_real_distribution<double> pace(-5, 5);
    struct Shot {
        test::Ground ground;
        int from;
        double pace;
    };
    std::vector<Shot> all;
    ManyShots made;
    for (int i = 0; i < shots; ++i) {
        if (i > 0) made.firsts.push_back(made.frames);
        all.push_back({{small, seed * 1000 + static_cast<unsigned>(i)}, made.frames, pace(random)});
        made.frames += length(random);
    }
    made.file = test::clipOf(folder / "shots.mp4", small, made.frames, [&](int n) {
        const Shot* now = &all[0];
        for (const Shot& shot : all)
            if (shot.from <= n) now = &shot;
        return now->ground.seen((now->pace < 0 ? 310 : 5) + now->pace * (n - now->from),
                                1 + 0.06 * std::sin(n * 2.1));
    });
    return made;
}

TEST(LookThrough, CutsAreFoundWhereTheyAreAndNowhereElse) {
    constexpr int shots = 25;
    int found = 0, wrong = 0, missed = 0;
    for (const unsigned seed : {11u, 12u}) {
        const test::Folder folder;
        const ManyShots made = manyShots(folder, seed, shots);
        Video video = good(Video::open(made.file));
        const LookedThrough looked = good(lookThrough(video, 0));
        std::set<long long> seen;
        for (const HardCut& cut : looked.cuts) seen.insert(good(firstOfShot(video, cut)));
        for (const int first : made.firsts) seen.erase(first) == 1 ? ++found : ++missed;
        wrong += static_cast<int>(seen.size());
    }
    const double precision = static_cast<double>(found) / (found + wrong),
                 recall = static_cast<double>(found) / (found + missed);
    RecordProperty("precision", std::to_string(precision));
    RecordProperty("recall", std::to_string(recall));
    EXPECT_GE(precision, 0.95) << wrong << " cuts are none";
    EXPECT_GE(recall, 0.95) << missed << " cuts are missed";
}

TEST(LookThrough, AFadeAndAFlashAreNoCuts) {
    const test::Folder folder;
    const test::Ground ground(small, 5);
    const Path file = test::clipOf(folder / "fade.mp4", small, 100, [&](int n) {
        const double light = n == 30 ? 1.6 : n > 60 ? std::max(0.0, (90 - n) / 30.0) : 1;
        return ground.seen(n, light);
    });
    Video video = good(Video::open(file));
    EXPECT_TRUE(good(lookThrough(video, 0)).cuts.empty());
}

TEST(LookThrough, EndsWhenItIsAskedTo) {
    const test::Folder folder;
    const test::Ground ground(small, 6);
    const Path file =
        test::clipOf(folder / "long.mp4", small, 120, [&](int n) { return ground.seen(n); });
    Video video = good(Video::open(file));
    std::stop_source stop;
    const auto looked = lookThrough(video, 0, stop.get_token(), [&](double part) {
        if (part > 0.3) stop.request_stop();
    });
    ASSERT_FALSE(looked);
    EXPECT_EQ(looked.error().code, Code::cancelled);
    EXPECT_TRUE(lookThrough(video, 0)) << "and can be begun anew";
}

// Three shots of 4 s: a still one; one that is smeared but for its last second; one that goes dark
// and stays black. Between the first two there is a fade of a second through black.
struct Faulty {
    Path file;
    static constexpr int second = 100, sharpAgain = 175, third = 200, darkens = 225, black = 250,
                         frames = 300;
    static bool bad(long long n) { return (n >= 92 && n < sharpAgain) || n >= darkens + 5; }
};
Faulty faulty(const test::Folder& folder) {
    const test::Ground one(small, 21), two(small, 22), three(small, 23);
    Faulty made;
    made.file = test::clipOf(folder / "faulty.mp4", small, Faulty::frames, [&](int n) {
        if (n < Faulty::second) return one.seen(0, std::min(1.0, (Faulty::second - n) / 12.0));
        if (n < Faulty::third) {
            const Straight8 sharp =
                two.seen(3.0 * (n - Faulty::second), std::min(1.0, (n - Faulty::second) / 12.0));
            return n < Faulty::sharpAgain ? test::smeared(sharp, 24) : sharp.clone();
        }
        return three.seen(0, n < Faulty::darkens ? 1 : std::max(0.0, (Faulty::black - n) / 25.0));
    });
    return made;
}

// Made once for all of them.
class Candidates : public testing::Test {
  protected:
    static void SetUpTestSuite() {
        folder_ = std::make_unique<test::Folder>();
        file_ = faulty(*folder_).file;
    }
    static void TearDownTestSuite() { folder_.reset(); }
    inline static Path file_;

  private:
    inline static std::unique_ptr<test::Folder> folder_;
};

TEST_F(Candidates, ThirdsComeFirstWithTheirFaultsTold) {
    Video video = good(Video::open(file_));
    const auto all = good(candidatesOf(video, 8));
    ASSERT_GE(all.size(), 4u);
    EXPECT_EQ(all[0].number, 100);
    EXPECT_EQ(all[1].number, 150);
    EXPECT_EQ(all[2].number, 200);
    EXPECT_EQ(all[0].reasons[0], "the first third");
    EXPECT_EQ(all[1].reasons, (std::vector<std::string>{"the middle", "smeared by motion"}));
    EXPECT_EQ(all[2].reasons, (std::vector<std::string>{"the last third"})) << "nothing is wrong";
}

TEST_F(Candidates, NothingBlackFadedOrSmearedIsProposedForItsMerit) {
    Video video = good(Video::open(file_));
    const auto all = good(candidatesOf(video, 10));
    std::set<std::size_t> shots;
    for (std::size_t i = 3; i < all.size(); ++i) {
        EXPECT_FALSE(Faulty::bad(all[i].number)) << all[i].number;
        shots.insert(all[i].number < Faulty::second ? 0 : all[i].number < Faulty::third ? 1 : 2);
    }
    EXPECT_TRUE(shots.contains(0));
    EXPECT_TRUE(shots.contains(1)) << "its sharp second";
    // A still shot is proposed once: the rest would be the same picture again.
    EXPECT_EQ(
        std::count_if(all.begin() + 3, all.end(), [](const Candidate& c) { return c.number < 88; }),
        1);
}

TEST_F(Candidates, WhereOnePictureShinesThroughAnotherIsAFade) {
    const test::Folder folder;
    const test::Ground one(small, 51), two(small, 52);
    // From 1.8 to 2.8 s; the middle of the video lies in it.
    const Path file = test::clipOf(folder / "dissolve.mp4", small, 115, [&](int n) {
        const double share = std::clamp((n - 45) / 25.0, 0.0, 1.0);
        const Straight8 a = one.seen(20), b = two.seen(30);
        return test::painted(small, [&](int x, int y) {
            const std::uint32_t p = a.row(y)[x], q = b.row(y)[x];
            const auto mix = [share](int from, int to) {
                return static_cast<int>(from + share * (to - from));
            };
            return packed(mix(redOf(p), redOf(q)), mix(greenOf(p), greenOf(q)),
                          mix(blueOf(p), blueOf(q)), 255);
        });
    });
    Video video = good(Video::open(file));
    const auto all = good(candidatesOf(video, 8));
    EXPECT_EQ(all[1].reasons, (std::vector<std::string>{"the middle", "in a fade"}));
    for (std::size_t i = 3; i < all.size(); ++i)
        EXPECT_TRUE(all[i].number <= 48 || all[i].number >= 67) << all[i].number;
}

TEST_F(Candidates, OfAPartComeFromThatPart) {
    Video video = good(Video::open(file_));
    const LookedThrough looked = good(lookThrough(video, 0));
    const Span part{7.2, 8.8};
    const auto all = good(candidatesAmong(looked, video, 6, part));
    ASSERT_FALSE(all.empty());
    for (const Candidate& one : all) EXPECT_TRUE(part.contains(one.time)) << one.time;
}

TEST_F(Candidates, AreTheSameEveryTime) {
    const auto numbers = [&] {
        Video video = good(Video::open(file_));
        std::vector<long long> all;
        for (const Candidate& one : good(candidatesOf(video, 8))) all.push_back(one.number);
        return all;
    };
    EXPECT_EQ(numbers(), numbers());
}

}  // namespace
}  // namespace zl
