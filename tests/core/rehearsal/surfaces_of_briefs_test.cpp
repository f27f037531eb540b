// SPDX-License-Identifier: GPL-3.0-or-later
// Destinations: surfaces of every brief, the player, link regions, slices, pieces laid out for
// other places.
#include <gtest/gtest.h>

#include "brief/player_plan.h"
#include "edit/edits.h"
#include "readings/zones.h"
#include "rehearsal/player.h"
#include "rehearsal/programme.h"
#include "rehearsal/surfaces.h"
#include "support/support.h"

namespace zl::test {
namespace {

CopyOfWidth showing(const Straight8& picture) {
    auto kept = std::make_shared<const Straight8>(picture.clone());
    return [kept](int) { return kept; };
}

// The device windows of data/briefs: 2560 x 423, 1855 x 423, 1546 x 423 px, centred (from memory).
TEST(BannerWindows, AreCentredAndAsLargeAsTheBriefSays) {
    const Brief& brief = *briefs().find("channel-banner");
    for (const auto& [id, width] :
         {std::pair("desktop", 2560.0), std::pair("tablet", 1855.0), std::pair("phone", 1546.0)}) {
        const RealRect r = inFrame(*brief.zone(id), {2560, 1440});
        EXPECT_NEAR(r.width, width, 0.51) << id;
        EXPECT_NEAR(r.height, 423, 0.51) << id;
        EXPECT_NEAR(r.centre().x, 1280, 0.01) << id;
        EXPECT_NEAR(r.centre().y, 720, 0.01) << id;
    }
}

TEST(Sights, EveryBriefWithSurfacesDrawsThemAllAtTheirWidth) {
    int drawn = 0;
    for (const Brief& brief : briefs().all) {
        if (brief.surfaces.empty()) {
            EXPECT_TRUE(brief.id == "free-frame" || brief.id == "photo-mark") << brief.id;
            continue;
        }
        const Straight8 picture = Straight8::cleared(brief.frame, packed(200, 40, 40, 255));
        const auto surfaces = drawSurfaces(brief, picture.size(), showing(picture), {});
        ASSERT_TRUE(surfaces.has_value()) << brief.id;
        std::set<std::string> specs, ids;
        for (const Surface& s : *surfaces) {
            specs.insert(s.spec);
            EXPECT_TRUE(ids.insert(s.id).second) << s.id;
            EXPECT_FALSE(s.pieceRect.empty()) << s.id;
            EXPECT_EQ(s.pieceRect.intersected(PixelRect::of(s.picture.size())), s.pieceRect)
                << s.id;
            // What was handed over is what stands there.
            const int x = (s.pieceRect.left + s.pieceRect.right) / 2,
                      y = (s.pieceRect.top + 2 * s.pieceRect.bottom) / 3;
            EXPECT_EQ(s.picture.row(y)[x], packed(200, 40, 40, 255)) << s.id;
            ++drawn;
        }
        EXPECT_EQ(specs.size(), brief.surfaces.size()) << brief.id;
    }
    EXPECT_GT(drawn, 40);
}

// Hand-worked from data/briefs: 640 wide is 360 high; 360 / 12 = 30; 2.5 % of 360 is 9; 360 - 48 -
// 9 - 30 = 273.
TEST(Player, TheMarkStandsWhereTheBriefSays) {
    const PlayerPlan small = playerPlan(640, {150, 150});
    EXPECT_EQ(small.player, (PixelSize{640, 360}));
    EXPECT_EQ(small.mark, (PixelRect{601, 273, 631, 303}));
    const PlayerPlan large = playerPlan(1280, {150, 150});
    EXPECT_EQ(large.mark, (PixelRect{1202, 594, 1262, 654}));
    // Never lower than 24 px; a button mark keeps its shape.
    EXPECT_EQ(playerPlan(320, {150, 150}).mark.height(), 24);
    EXPECT_EQ(playerPlan(1280, {300, 100}).mark.width(), 180);
}

TEST(Player, ShowsTheMarkThroughoutFromASecondOrWhenItCloses) {
    EXPECT_TRUE(isShown({}, 0, 845));
    const Showing late{Showing::When::from, 30}, closing{Showing::When::closing, 0};
    EXPECT_FALSE(isShown(late, 29.9, 845));
    EXPECT_TRUE(isShown(late, 30, 845));
    EXPECT_FALSE(isShown(closing, 829, 845));
    EXPECT_TRUE(isShown(closing, 830, 845));
    EXPECT_EQ(parseShowing("from:12.5").value(), (Showing{Showing::When::from, 12.5}));
    for (const char* bad : {"", "from:", "from:-1", "from:x", "from:nan", "sometimes", "from:1s"})
        EXPECT_FALSE(parseShowing(bad)) << bad;
    const auto tooLate = checkShowing({Showing::When::from, 900}, 845);
    ASSERT_FALSE(tooLate);
    EXPECT_EQ(tooLate.error().code, Code::badUsage);
    EXPECT_NE(tooLate.error().what.find("14:05"), std::string::npos);
    EXPECT_TRUE(checkShowing({Showing::When::from, 844}, 845));
}

TEST(Player, ReadsAndWritesClocks) {
    EXPECT_EQ(clockWords(845), "14:05");
    EXPECT_EQ(clockWords(3723), "1:02:03");
    EXPECT_EQ(parseClock("14:05").value(), 845);
    EXPECT_EQ(parseClock("1:02:03").value(), 3723);
    EXPECT_EQ(parseClock("90").value(), 90);
    for (const char* bad : {"", "0", "0:00", "1:75", "a", "1:2:3:4", "-5", ":30", "5:"})
        EXPECT_FALSE(parseClock(bad)) << bad;
}

// Over the shipped footage, in double precision from the same two pictures: at most one code value.
TEST(Player, TheMarkIsCompositedAsDoublePrecisionWould) {
    const Brief& brief = *briefs().find("corner-mark");
    Straight8 mark({30, 30});
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 30; ++x)
            mark.row(y)[x] = packed(8 * x, 255 - 8 * y, 90, x * y * 255 / 841);
    Posted posted;
    const auto surfaces = drawSurfaces(brief, {30, 30}, showing(mark), posted);
    ASSERT_TRUE(surfaces);
    int checked = 0;
    for (const Surface& s : *surfaces) {
        if (s.spec != "player-640") continue;
        const std::string footage = s.id.substr(s.id.rfind('-') + 1);
        const auto behind = stillFootage(footage, {640, 360});
        for (int y = 0; y < 30; ++y)
            for (int x = 0; x < 30; ++x) {
                const std::uint32_t m = mark.row(y)[x],
                                    b = behind->row(s.pieceRect.top + y)[s.pieceRect.left + x],
                                    got = s.picture.row(s.pieceRect.top + y)[s.pieceRect.left + x];
                const double a = alphaOf(m) / 255.0;
                EXPECT_NEAR(redOf(got), redOf(m) * a + redOf(b) * (1 - a), 1.0);
                EXPECT_NEAR(greenOf(got), greenOf(m) * a + greenOf(b) * (1 - a), 1.0);
                EXPECT_NEAR(blueOf(got), blueOf(m) * a + blueOf(b) * (1 - a), 1.0);
                ++checked;
            }
    }
    EXPECT_EQ(checked, 3 * 900);
}

TEST(Player, BeforeTheMarkShowsThereIsOnlyFootage) {
    const Brief& brief = *briefs().find("corner-mark");
    const Straight8 mark = Straight8::cleared({150, 150}, packed(255, 0, 0, 255));
    Posted posted;
    posted.showing = {Showing::When::from, 30};
    const auto surfaces = drawSurfaces(brief, mark.size(), showing(mark), posted);
    ASSERT_TRUE(surfaces);
    std::map<std::string, const Surface*> byId;
    for (const Surface& s : *surfaces) byId[s.id] = &s;
    ASSERT_TRUE(byId.contains("player-640-light-before") &&
                byId.contains("player-640-light-after"));
    const PixelRect at = byId["player-640-light-after"]->pieceRect;
    EXPECT_EQ(byId["player-640-light-after"]->picture.row(at.top + 5)[at.left + 5],
              packed(255, 0, 0, 255));
    EXPECT_EQ(byId["player-640-light-before"]->picture.row(at.top + 5)[at.left + 5],
              stillFootage("light", {640, 360})->row(at.top + 5)[at.left + 5]);
}

TEST(Programme, MovesAndIsTheSameEachTime) {
    for (const char* footage : {"desktop", "game", "room"}) {
        const Straight8 one = programmeAt(footage, {320, 180}, 2),
                        same = programmeAt(footage, {320, 180}, 2),
                        later = programmeAt(footage, {320, 180}, 2.6);
        long long moved = 0, differ = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x) {
                moved += one.row(y)[x] != later.row(y)[x];
                differ += one.row(y)[x] != same.row(y)[x];
            }
        EXPECT_EQ(differ, 0) << footage;
        EXPECT_GT(moved, 100) << footage;
    }
    // Slow, fast: how much changes in a tenth of a second.
    const auto changes = [](const char* footage) {
        const Straight8 a = programmeAt(footage, {320, 180}, 3),
                        b = programmeAt(footage, {320, 180}, 3.1);
        long long n = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x)
                n += std::abs(greenOf(a.row(y)[x]) - greenOf(b.row(y)[x]));
        return n;
    };
    EXPECT_GT(changes("game"), 2 * changes("desktop"));
}

TEST(Programme, WhatItHidesIsHatchedAndTheRestRunsOn) {
    const Brief& brief = *briefs().find("stream-overlay");
    Straight8 overlay = Straight8::cleared({1280, 720}, 0);
    for (int y = 600; y < 700; ++y)
        for (int x = 0; x < 640; ++x) overlay.row(y)[x] = packed(10, 10, 10, 255);
    Posted posted;
    posted.hides = true;
    const auto surfaces = drawSurfaces(brief, overlay.size(), showing(overlay), posted);
    ASSERT_TRUE(surfaces);
    const Surface& desk = surfaces->front();
    ASSERT_EQ(desk.id, "programme-desktop");
    const Straight8 running = programmeAt("desktop", {1280, 720}, 2);
    EXPECT_EQ(desk.picture.row(300)[300], running.row(300)[300]);
    EXPECT_NE(desk.picture.row(650)[300], running.row(650)[300]);
    EXPECT_NE(desk.picture.row(650)[300], packed(10, 10, 10, 255));
}

TEST(ChannelPage, EachDeviceShowsItsOwnPartOfTheBanner) {
    const Brief& brief = *briefs().find("channel-banner");
    // Blue outside of the phone's window, red inside it.
    Straight8 banner = Straight8::cleared({2560, 1440}, packed(0, 0, 255, 255));
    for (int y = 509; y < 931; ++y)
        for (int x = 508; x < 2052; ++x) banner.row(y)[x] = packed(255, 0, 0, 255);
    const auto surfaces = drawSurfaces(brief, banner.size(), showing(banner), {});
    ASSERT_TRUE(surfaces);
    for (const Surface& s : *surfaces) {
        const int middle = (s.pieceRect.top + s.pieceRect.bottom) / 2;
        const std::uint32_t edge = s.picture.row(middle)[s.pieceRect.left + 4];
        EXPECT_EQ(edge, s.spec == "channel-phone" ? packed(255, 0, 0, 255) : packed(0, 0, 255, 255))
            << s.id;
        EXPECT_EQ(s.picture.row(middle)[s.pieceRect.left + s.pieceRect.width() / 2],
                  packed(255, 0, 0, 255))
            << s.id;
        EXPECT_NEAR(static_cast<double>(s.pieceRect.width()) / s.pieceRect.height(),
                    s.spec == "channel-television" ? 16.0 / 9
                    : s.spec == "channel-desktop"  ? 2560.0 / 423
                    : s.spec == "channel-tablet"   ? 1855.0 / 423
                                                   : 1546.0 / 423,
                    0.04)
            << s.id;
    }
}

TEST(OwnScreen, IsAFrameWhereTheBriefAllowsOne) {
    Piece piece{"o", "O", "stream-overlay", {1680, 1050}, {"o"}, {}};
    Subject subject;
    const Straight8 pixels(piece.frame);
    subject.brief = briefs().find("stream-overlay");
    subject.pixels = &pixels;
    subject.piece = &piece;
    EXPECT_EQ(measureFrame(subject).verdict, Verdict::fail);
    piece.ownScreen = true;
    EXPECT_EQ(measureFrame(subject).verdict, Verdict::pass);
    subject.brief = briefs().find("stream-card");
    EXPECT_EQ(measureFrame(subject).verdict, Verdict::fail);
}

}  // namespace
}  // namespace zl::test
