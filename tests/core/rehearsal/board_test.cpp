// SPDX-License-Identifier: GPL-3.0-or-later
// What surfaces are drawn with, briefs of one's own, the sum of an ink: small made pictures,
// numbers worked out by hand.
#include <gtest/gtest.h>

#include "edit/edits.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "readings/alpha_sum.h"
#include "rehearsal/board.h"
#include "rehearsal/wall.h"
#include "support/support.h"

namespace zl::test {
namespace {

std::shared_ptr<const Straight8> flat(PixelSize size, std::uint32_t colour) {
    return std::make_shared<const Straight8>(Straight8::cleared(size, colour));
}

TEST(Board, LaysASeeThroughPictureOverWhatStandsThere) {
    Board board({20, 10}, {0, 0, 200, 255});
    board.fill({0, 0, 10, 10}, {200, 0, 0, 255});
    board.place({5, 2, 15, 8}, flat({10, 6}, packed(0, 100, 0, 128)), {});
    const Straight8 taken = board.taken();
    // a = 128 / 255: 200 (1 - a) = 99.6 and 100 a = 50.2.
    EXPECT_EQ(taken.row(5)[7], packed(100, 50, 0, 255));
    EXPECT_EQ(taken.row(5)[12], packed(0, 50, 100, 255));
    EXPECT_EQ(taken.row(1)[7], packed(200, 0, 0, 255));
    board.place({5, 2, 15, 8}, flat({10, 6}, packed(0, 100, 0, 128)), Colour{40, 40, 40, 255});
    EXPECT_EQ(board.taken().row(5)[7], packed(20, 70, 20, 255));
}

TEST(Board, PlacesAPartOfAPicture) {
    // Left half red, right half blue; only the right half is placed.
    const auto picture = std::make_shared<const Straight8>(painted({40, 20}, [](int x, int) {
        return x < 20 ? packed(255, 0, 0, 255) : packed(0, 0, 255, 255);
    }));
    Board board({20, 20}, {0, 0, 0, 255});
    board.place({0, 0, 20, 20}, picture, {}, RealRect{20, 0, 20, 20});
    const Straight8 taken = board.taken();
    for (int x : {6, 10, 19}) EXPECT_EQ(taken.row(10)[x], packed(0, 0, 255, 255)) << x;
}

TEST(Board, ARoundPictureKeepsItsCornersFree) {
    Board board({40, 40}, {10, 20, 30, 255});
    board.placeRound({0, 0, 40, 40}, flat({40, 40}, packed(250, 250, 250, 255)), {0, 0, 0, 255});
    const Straight8 taken = board.taken();
    EXPECT_EQ(taken.row(0)[0], packed(10, 20, 30, 255));
    EXPECT_EQ(taken.row(39)[39], packed(10, 20, 30, 255));
    EXPECT_EQ(taken.row(20)[20], packed(250, 250, 250, 255));
    // The disc's area, counted: pi 20^2 of 1600.
    double covered = 0;
    for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 40; ++x) covered += (redOf(taken.row(y)[x]) - 10) / 240.0;
    EXPECT_NEAR(covered, 1256.6, 3);
}

TEST(Board, PutsAPictureThatReachesPastItsEdges) {
    Board board({10, 10}, {0, 0, 0, 255});
    board.put(-5, 8, *flat({8, 8}, packed(9, 8, 7, 255)));
    const Straight8 taken = board.taken();
    EXPECT_EQ(taken.row(8)[0], packed(9, 8, 7, 255));
    EXPECT_EQ(taken.row(9)[2], packed(9, 8, 7, 255));
    EXPECT_EQ(taken.row(8)[3], packed(0, 0, 0, 255));
    EXPECT_EQ(taken.row(7)[0], packed(0, 0, 0, 255));
}

TEST(CopyWidth, IsWhatTheHostShowsThere) {
    const auto widthOn = [](const char* briefId, const char* surface, PixelSize picture) {
        for (const SurfaceSpec& spec : brief(briefId).surfaces)
            if (spec.id == surface) return copyWidth(spec, brief(briefId), picture);
        return -1;
    };
    EXPECT_EQ(widthOn("video-thumbnail", "suggestion", {1280, 720}), 168);
    EXPECT_EQ(widthOn("corner-mark", "player-640", {150, 150}), 30);
    EXPECT_EQ(widthOn("corner-mark", "hover-card", {50, 50}), 50);
    EXPECT_EQ(widthOn("channel-banner", "channel-desktop", {2560, 1440}), 1280);
    // The phone shows 1546 of 2560 px on 412: the whole would be 682 wide.
    EXPECT_NEAR(widthOn("channel-banner", "channel-phone", {2560, 1440}), 412 * 2560.0 / 1546, 1.5);
    EXPECT_EQ(widthOn("channel-banner", "channel-phone", {600, 338}), 600)
        << "never larger than it is";
}

TEST(Scale, OfASurfaceIsPxOfItForAPxOfTheFrame) {
    const Brief& banner = brief("channel-banner");
    for (const SurfaceSpec& spec : banner.surfaces) {
        const double scale = banner.scaleOn(spec, {2560, 1440});
        EXPECT_NEAR(scale,
                    spec.id == "channel-phone"    ? 412 / 1546.0
                    : spec.id == "channel-tablet" ? 768 / 1855.0
                                                  : 0.5,
                    2e-3)
            << spec.id;
    }
    const Brief& mark = brief("corner-mark");
    for (const SurfaceSpec& spec : mark.surfaces)
        EXPECT_EQ(mark.scaleOn(spec, {150, 150}), 0) << spec.id;
    const Brief& header = brief("page-header");
    EXPECT_EQ(header.scaleOn(header.surfaces.front(), {970, 150}), 1);
}

TEST(Notes, TellWhatADeviceDoesNotShow) {
    const Brief& banner = brief("channel-banner");
    Kit kit = kitWith("channel-banner", {2560, 1440});
    kit = withPicture(kit, textured({2560, 1440}, 0), {0, 0, 2560, 1440});
    // Half of it lies outside the phone's window, which begins at 507 px.
    kit = withPicture(kit, *flat({100, 100}, packed(255, 255, 255, 255)), {457, 700, 100, 100},
                      "badge.png");
    InkStore store;
    const auto read = good(readPiece({kit.pieces[0], kit}, banner, store, Weighing::quickBound));
    int lost = 0;
    for (const SurfaceNote& note : read.notes) {
        const bool phone = note.surface == "channel-phone";
        EXPECT_EQ(note.covered.id, phone ? "note.lost" : "note.clear") << note.surface;
        if (phone) {
            EXPECT_NEAR(std::get<double>(note.covered.with[1]), 50, 0.5);
            EXPECT_EQ(note.verdict, Verdict::fail);
        }
        lost += phone ? 1 : 0;
    }
    EXPECT_EQ(lost, 1);
}

TEST(Within, MakesSmallerAndNeverLarger) {
    EXPECT_EQ(within(*flat({400, 100}, packed(1, 2, 3, 255)), {200, 200}).size(),
              (PixelSize{200, 50}));
    EXPECT_EQ(within(*flat({400, 100}, packed(1, 2, 3, 255)), {800, 25}).size(),
              (PixelSize{100, 25}));
    const Straight8 same = within(*flat({40, 10}, packed(1, 2, 3, 255)), {200, 200});
    EXPECT_EQ(same.size(), (PixelSize{40, 10}));
    EXPECT_EQ(same.row(3)[3], packed(1, 2, 3, 255));
}

TEST(Regions, GoAlongWithAFrameThatIsCroppedByAMend) {
    Kit kit = kitWith("video-thumbnail", {1920, 1200});
    kit = withPicture(kit, textured({1920, 1200}, 0), {0, 0, 1920, 1200});
    Piece piece = kit.pieces[0];
    piece.links = {{{960, 600, 1060, 700}, "https://example.org", "middle"}};
    piece.slices = {{"middle", {960, 600, 1060, 700}}};
    kit = good(withChangedPiece(kit, piece));
    InkStore store;
    const Kit cropped = good(mended("crop-to-frame", kit, "p", brief("video-thumbnail"), store));
    const Piece& after = cropped.pieces[0];
    ASSERT_EQ(after.frame, (PixelSize{1280, 720}));
    // The middle stays the middle: 2/3 as large, 40 px cut off above and below.
    EXPECT_EQ(after.links[0].place, (PixelRect{640, 360, 707, 427}));
    EXPECT_EQ(after.slices[0].place, after.links[0].place);
}

}  // namespace
}  // namespace zl::test
