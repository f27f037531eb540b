// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a mark stands out for the whole of a video, and what is proposed where it does not.
#include "measure/legible.h"

#include "film/moments.h"
#include "measure/measure.h"
#include "support/clips.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;

// A white disc with a clear rim.
std::shared_ptr<const Straight8> roundMark(int side = 48, int grey = 255) {
    return std::make_shared<const Straight8>(test::painted({side, side}, [&](int x, int y) {
        const double r = std::hypot(x - side / 2.0 + 0.5, y - side / 2.0 + 0.5);
        const int a = std::clamp(static_cast<int>((side / 2.0 - 3 - r) * 255), 0, 255);
        return a == 0 ? 0u : packed(grey, grey, grey, a);
    }));
}

// Light in its first quarter, dark after it; the right half of the frame stays light throughout.
Path clip(const test::Folder& folder) {
    return test::clipOf(folder / "c.mp4", {320, 180}, 100, [](int n) {
        return test::painted({320, 180}, [n](int x, int) {
            return n < 25 || x >= 160 ? packed(244, 244, 244, 255) : packed(20, 30, 60, 255);
        });
    });
}

LegibleQuestion asked(StampAt at) {
    LegibleQuestion question;
    question.mark = roundMark();
    question.placing = {at, {8, 8}, 0};
    return question;
}

TEST(Legible, TheCurveTellsWhenItIsLost) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder)));
    const Legibility told = good(legibilityOver(video, asked(StampAt::bottomLeft)));
    ASSERT_GT(told.curve.samples.size(), 12u) << "four times a second";
    for (const LegibleSample& sample : told.curve.samples)
        EXPECT_NEAR(sample.share, sample.time < 0.99 ? 0 : 1, 0.01) << sample.time;
    EXPECT_NEAR(told.curve.lost(), 0.25, 0.06);
    EXPECT_EQ(told.curve.verdict(), Verdict::fail);
    EXPECT_LT(told.curve.worst()->time, 1);
    EXPECT_EQ(told.curve.worst()->share, 0);
}

TEST(Legible, AnOutlineALaterStartAndNoWorseCornerAreProposed) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder)));
    const Legibility told = good(legibilityOver(video, asked(StampAt::bottomLeft)));
    std::set<LegibleProposal::Kind> kinds;
    for (const LegibleProposal& one : told.proposals) {
        kinds.insert(one.kind);
        EXPECT_LT(one.lost, told.curve.lost());
        EXPECT_FALSE(english(one.says).empty());
        if (one.kind == LegibleProposal::Kind::start) {
            EXPECT_NEAR(one.from, 1, 0.3);
        }
    }
    EXPECT_TRUE(kinds.contains(LegibleProposal::Kind::outline));
    EXPECT_TRUE(kinds.contains(LegibleProposal::Kind::start));
    EXPECT_FALSE(kinds.contains(LegibleProposal::Kind::corner)) << "none is better";
    // On the light side the other one is.
    const Legibility right = good(legibilityOver(video, asked(StampAt::bottomRight)));
    EXPECT_EQ(right.curve.lost(), 1);
    ASSERT_FALSE(right.proposals.empty());
    bool corner = false;
    for (const LegibleProposal& one : right.proposals)
        corner = corner || (one.kind == LegibleProposal::Kind::corner &&
                            (one.at == StampAt::bottomLeft || one.at == StampAt::topLeft));
    EXPECT_TRUE(corner);
}

TEST(Legible, WhatPassesNeedsNothing) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder)));
    LegibleQuestion later = asked(StampAt::topLeft);
    later.from = 1.1;
    const Legibility told = good(legibilityOver(video, later));
    EXPECT_EQ(told.curve.verdict(), Verdict::pass);
    EXPECT_TRUE(told.proposals.empty());
    for (const LegibleSample& sample : told.curve.samples) EXPECT_GE(sample.time, 1.1);
    later.from = 90;
    EXPECT_EQ(legibilityOver(video, later).error().code, Code::badUsage) << "after its end";
    LegibleQuestion large = asked(StampAt::centre);
    large.placing.widthShare = 1.5;
    EXPECT_EQ(legibilityOver(video, large).error().code, Code::badUsage) << "larger than the video";
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(legibilityOver(video, asked(StampAt::left), {}, stop.get_token()).error().code,
              Code::cancelled);
}

TEST(Legible, TheStripTellsNearlyTheSame) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder)));
    const auto strip = good(Strip::make(video, folder.path(), "id"));
    const Legibility quick =
                         good(legibilityOver(*strip, video.facts(), asked(StampAt::bottomLeft))),
                     whole = good(legibilityOver(video, asked(StampAt::bottomLeft)));
    EXPECT_NEAR(quick.curve.lost(), whole.curve.lost(), 0.02);
    EXPECT_EQ(quick.curve.verdict(), whole.curve.verdict());
}

TEST(Legible, WhatItHidesIsTheDetailUnderIt) {
    // All the detail lies in the upper left quarter.
    const Straight8 frame = test::painted({160, 90}, [](int x, int y) {
        const bool busy = x < 80 && y < 45 && (x + y) % 2 == 0;
        return busy ? packed(250, 250, 250, 255) : packed(20, 20, 20, 255);
    });
    const auto solid =
        std::make_shared<const Straight8>(Straight8::cleared({80, 45}, packed(9, 9, 9, 255)));
    EXPECT_GT(MarkInFrame(solid, {0, 0, 80, 45}, {160, 90}).hides(frame), 0.97);
    EXPECT_LT(MarkInFrame(solid, {80, 45, 80, 45}, {160, 90}).hides(frame), 0.01);
    EXPECT_NEAR(MarkInFrame(solid, {0, 0, 80, 45}, {160, 90}, 0.5).hides(frame), 0.5, 0.02);
}

TEST(StandingOutOverAVideo, IsTheShareOfTheTime) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder)));
    const auto moments = good(momentsOf(video, "c.mp4"));
    ASSERT_GT(moments->all.size(), 10u);
    const Brief& brief = test::brief("corner-mark");
    const Bytes mark = test::png(*roundMark(150));
    // On the player a mark stands at the right, where this video stays light.
    const auto over = good(readPictureFile(mark, "mark.png", brief, moments));
    const Reading reading = test::one(over.readings, "standing-out");
    EXPECT_EQ(reading.verdict, Verdict::fail);
    EXPECT_NE(english(reading.says).find("c.mp4"), std::string::npos);
    EXPECT_EQ(reading.mends, (std::vector<std::string>{"outline-contrast"}));
    const auto dark =
        good(readPictureFile(test::png(*roundMark(150, 10)), "mark.png", brief, moments));
    EXPECT_EQ(test::one(dark.readings, "standing-out").verdict, Verdict::pass);
}

}  // namespace
}  // namespace zl
