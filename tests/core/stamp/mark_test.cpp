// SPDX-License-Identifier: GPL-3.0-or-later
// Where marks come to lie, against geometry by hand: a rectangle w x h turned by a is
// w |cos a| + h |sin a| wide and w |sin a| + h |cos a| high.
#include "stamp/mark.h"

#include <cmath>
#include <numbers>

#include "raster/ink_box.h"
#include "store/kit_file.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

class MarkTest : public testing::Test {
  protected:
    MarkTest() {
        // Ink of 100 x 40 px with an empty rim of 10 px.
        const Straight8 mark = test::painted({120, 60}, [](int x, int y) {
            return x >= 10 && x < 110 && y >= 10 && y < 50 ? packed(200, 30, 30, 255) : 0u;
        });
        if (!writeFile(folder_ / "mark.png", test::png(mark), Replace::yes)) std::abort();
        stamp_.what = StampPicture{"mark.png"};
        stamp_.placing.insetX = stamp_.placing.insetY = {0, false};
    }
    Laid laid(PixelSize photo) {
        const Mark mark =
            good(markOf(stamp_.what, {"p", 7, 1, "2026-11-29"}, {folder_.path(), nullptr}, store_));
        return good(laidOn(photo, stamp_, mark, {}, store_));
    }
    // What is really drawn there.
    static PixelRect drawn(const Laid& laid) { return *inkBoxOf(laid.inks.front(), inkAlpha); }

    test::Folder folder_;
    InkStore store_;
    Stamp stamp_;
};

TEST_F(MarkTest, ItsInkIsAsWideAsIsAsked) {
    stamp_.placing.width = {30, true};
    for (const PixelSize photo : {PixelSize{1000, 600}, {600, 1000}, {800, 800}, {4000, 3000}}) {
        const PixelRect box = drawn(laid(photo));
        const int wanted = static_cast<int>(std::lround(0.3 * std::min(photo.width, photo.height)));
        EXPECT_EQ(box.width(), wanted);
        EXPECT_NEAR(box.height(), wanted * 0.4, 1);
        EXPECT_EQ(box.right, photo.width);
        EXPECT_EQ(box.bottom, photo.height);
    }
    stamp_.placing.of = StampOf::width;
    EXPECT_EQ(drawn(laid({600, 1000})).width(), 180);
    stamp_.placing.of = StampOf::px;
    stamp_.placing.width = {77, false};
    EXPECT_EQ(drawn(laid({600, 1000})).width(), 77);
}

TEST_F(MarkTest, WhatNeedsNoScalingIsTheSamePixels) {
    stamp_.placing.width = {100, false};
    stamp_.placing.at = StampAt::topLeft;
    stamp_.placing.insetX = {13, false};
    stamp_.placing.insetY = {7, false};
    const Laid one = laid({500, 400});
    EXPECT_EQ(drawn(one), (PixelRect{13, 7, 113, 47}));
    EXPECT_TRUE(one.inks.front().eight) << "it was resampled";
}

TEST_F(MarkTest, TheNinePlacesKeepTheirDistance) {
    stamp_.placing.width = {100, false};
    stamp_.placing.insetX = {5, true};
    stamp_.placing.insetY = {20, false};
    for (std::size_t i = 0; i < stampPlaces.size(); ++i) {
        stamp_.placing.at = static_cast<StampAt>(i);
        const PixelRect box = drawn(laid({900, 400}));  // 5 % of 400 px are 20
        const int column = static_cast<int>(i % 3), row = static_cast<int>(i / 3);
        EXPECT_EQ(box.left, column == 0 ? 20 : column == 1 ? 400 : 780) << stampPlaces[i];
        EXPECT_EQ(box.top, row == 0 ? 20 : row == 1 ? 180 : 340) << stampPlaces[i];
    }
    stamp_.placing.centre = RealPoint{0.25, 0.75};
    const PixelRect box = drawn(laid({900, 400}));
    EXPECT_NEAR((box.left + box.right) / 2.0, 225, 0.6);
    EXPECT_NEAR((box.top + box.bottom) / 2.0, 300, 0.6);
}

TEST_F(MarkTest, TheTurnedInkKeepsItsDistance) {
    stamp_.placing.width = {200, false};
    stamp_.placing.insetX = stamp_.placing.insetY = {30, false};
    for (const double turn : {0.0, 17.0, 45.0, 90.0, 135.0, 180.0, 270.0, -30.0}) {
        stamp_.turn = turn;
        const double a = turn * std::numbers::pi / 180;
        const double w = 200 * std::abs(std::cos(a)) + 80 * std::abs(std::sin(a)),
                     h = 200 * std::abs(std::sin(a)) + 80 * std::abs(std::cos(a));
        const PixelRect box = drawn(laid({1000, 800}));
        EXPECT_NEAR(box.width(), w, 1.6) << turn;
        EXPECT_NEAR(box.height(), h, 1.6) << turn;
        EXPECT_EQ(box.right, 970) << turn;
        EXPECT_EQ(box.bottom, 770) << turn;
    }
}

TEST_F(MarkTest, BoundsHold) {
    stamp_.placing.width = {10, true};
    stamp_.least = 80;
    EXPECT_EQ(drawn(laid({300, 300})).width(), 80);
    stamp_.least = 0;
    stamp_.most = 90;
    EXPECT_EQ(drawn(laid({3000, 3000})).width(), 90);
}

TEST_F(MarkTest, InsideAndCovering) {
    stamp_.placing.size = StampSize::inside;
    stamp_.placing.insetX = stamp_.placing.insetY = {50, false};
    stamp_.placing.at = StampAt::centre;
    EXPECT_EQ(drawn(laid({600, 600})).width(), 500);
    stamp_.placing.size = StampSize::covers;
    const PixelRect box = drawn(laid({600, 600}));
    EXPECT_NEAR(box.height(), 600, 1);
    EXPECT_NEAR(box.width(), 1500, 2);
}

TEST_F(MarkTest, AMarkThatWouldNotFitIsMadeSmallerAndSaysSo) {
    stamp_.placing.width = {500, false};
    const Laid one = laid({200, 100});
    EXPECT_TRUE(one.madeSmaller);
    EXPECT_LE(drawn(one).width(), 200);
    EXPECT_LE(drawn(one).height(), 100);
    EXPECT_FALSE(laid({2000, 1000}).madeSmaller);
}

TEST_F(MarkTest, APhotographOfOnePixelTakesNone) {
    const Mark mark = good(markOf(stamp_.what, {}, {folder_.path(), nullptr}, store_));
    const auto one = laidOn({1, 1}, stamp_, mark, {}, store_);
    ASSERT_FALSE(one);
    EXPECT_EQ(one.error().code, Code::limitNotMet);
}

TEST_F(MarkTest, UprightPhotographsMayHaveAPlaceOfTheirOwn) {
    stamp_.placing.width = {100, false};
    stamp_.upright = stamp_.placing;
    stamp_.upright->at = StampAt::top;
    EXPECT_EQ(drawn(laid({500, 400})).bottom, 400);
    EXPECT_EQ(drawn(laid({400, 500})).top, 0);
}

TEST_F(MarkTest, TilesFillThePhotographAndDoNotMeet) {
    stamp_.placing.width = {100, false};
    stamp_.placing.at = StampAt::centre;
    stamp_.tiled = Length{50, true};
    stamp_.turn = -30;
    const Laid one = laid({800, 600});
    EXPECT_GT(one.inks.size(), 20u);
    Straight8 sum = Straight8::cleared({800, 600});
    std::vector<int> covered(800 * 600);
    for (const Ink& ink : one.inks)
        for (int y = std::max(0, ink.box.top); y < std::min(600, ink.box.bottom); ++y)
            for (int x = std::max(0, ink.box.left); x < std::min(800, ink.box.right); ++x)
                if (ink.sixteen->row(3, y - ink.box.top)[x - ink.box.left] > 20000)
                    ++covered[static_cast<std::size_t>(y * 800 + x)];
    EXPECT_EQ(*std::max_element(covered.begin(), covered.end()), 1) << "two marks meet";
    for (const PixelRect quarter : {PixelRect{0, 0, 200, 150},
                                    {600, 0, 800, 150},
                                    {0, 450, 200, 600},
                                    {600, 450, 800, 600}}) {
        int ink = 0;
        for (int y = quarter.top; y < quarter.bottom; ++y)
            for (int x = quarter.left; x < quarter.right; ++x)
                ink += covered[static_cast<std::size_t>(y * 800 + x)];
        EXPECT_GT(ink, 1000) << "a corner is empty";
    }
}

TEST_F(MarkTest, CapitalsAreAtLeastAsHighAsAsked) {
    StampText text;
    text.letters.text = "HOUSE SIGNALS";
    stamp_.what = text;
    stamp_.placing.width = {5, true};
    const double before = laid({400, 300}).capitals;
    stamp_.leastCapitals = 11;
    EXPECT_LT(before, 11);
    EXPECT_NEAR(laid({400, 300}).capitals, 11, 0.01);
}

TEST_F(MarkTest, APieceOfAKitIsDrawnAtItsNewSize) {
    Kit kit;
    Piece piece;
    piece.id = piece.title = piece.release.name = "logo";
    piece.frame = {300, 100};
    piece.brief = "free-frame";
    Layer bar, letters;
    bar.id = 1;
    bar.what = BarLayer{BarShape::rectangle, {20, 10, 200, 80}};
    letters.id = 2;
    letters.what = LetteringLayer{{40, 20}, "AB"};
    piece.layers = {bar, letters};
    kit.pieces.push_back(piece);
    ASSERT_TRUE(saveKit(kit, folder_ / "house.zlkit", Replace::no));
    stamp_.what = StampPiece{"house.zlkit", "logo"};
    stamp_.placing.width = {400, false};
    const PixelRect box = drawn(laid({1000, 800}));
    EXPECT_EQ(box, (PixelRect{600, 640, 1000, 800}));
    stamp_.what = StampPiece{"house.zlkit", "none"};
    const auto none = markOf(stamp_.what, {}, {folder_.path(), nullptr}, store_);
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, Code::badUsage);
}

TEST(StampFields, ArePutIn) {
    const StampFields fields{"IMG_7", 3, 3, "2026-11-29"};
    EXPECT_EQ(good(withFields("{file}-{n} {date} © {year} {{x}}", fields)),
              "IMG_7-003 2026-11-29 © 2026 {x}");
    EXPECT_FALSE(withFields("{place}", fields));
    EXPECT_FALSE(withFields("{year", fields));
    EXPECT_TRUE(hasFields("a {n}"));
    EXPECT_FALSE(hasFields("a {{n}}"));
}

}  // namespace
}  // namespace zl
