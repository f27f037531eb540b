// SPDX-License-Identifier: GPL-3.0-or-later
// Distances, blurs and finishes on small made shapes, worked out by hand.
// tests/reference/finish_test.cpp has the outside ones.
#include <cmath>

#include "finish/finish.h"
#include "finish/finish_canvas.h"
#include "raster/blur.h"
#include "raster/coverage.h"
#include "raster/ink_box.h"
#include "support/support.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;

Ink inkOf(Straight8 raster, int x = 0, int y = 0) {
    Ink ink;
    ink.box = PixelRect::of(raster.size()).moved(x, y);
    ink.eight = std::make_shared<const Straight8>(std::move(raster));
    return ink;
}

Ink square(int side, int alpha = 255) {
    return inkOf(Straight8::cleared({side, side}, packed(200, 40, 10, alpha)), 50, 50);
}

constexpr PixelRect everything{-1000, -1000, 2000, 2000};

int alphaAt(const Ink& ink, int x, int y) {
    x -= ink.box.left;
    y -= ink.box.top;
    if (x < 0 || y < 0 || x >= ink.box.width() || y >= ink.box.height()) return 0;
    return ink.sixteen->row(3, y)[x] / 257;
}
std::array<int, 3> colourAt(const Ink& ink, int x, int y) {
    const auto code = [&](int c) {
        return (ink.sixteen->row(c, y - ink.box.top)[x - ink.box.left] + 128) / 257;
    };
    return {code(0), code(1), code(2)};
}

Finish finish(const char* kind, std::initializer_list<std::pair<const char*, double>> values,
              Colour colour = {0, 0, 0, 255}) {
    Finish made = makeFinish(kind);
    made.colour = colour;
    for (const auto& [field, value] : values) made.set(field, value);
    return made;
}

TEST(Finishes, AnOutlineLiesBesideTheInkAndCoversWhatItSays) {
    const Ink outside =
        finished(square(40), std::vector{outlineOf(6, {0, 0, 255, 255})}, everything);
    EXPECT_EQ(inkBoxOf(outside, 1), (PixelRect{44, 44, 96, 96}));
    EXPECT_EQ(colourAt(outside, 47, 70), (std::array{0, 0, 255}));
    EXPECT_EQ(alphaAt(outside, 47, 70), 255);
    EXPECT_EQ(colourAt(outside, 51, 70), (std::array{200, 40, 10})) << "the ink itself stays";
    const Ink inside = finished(
        square(40), std::vector{finish("outline", {{"px", 6}, {"side", 2}}, {0, 0, 255, 255})},
        everything);
    EXPECT_EQ(inkBoxOf(inside, 1), (PixelRect{50, 50, 90, 90}));
    EXPECT_EQ(colourAt(inside, 53, 70), (std::array{0, 0, 255}));
    EXPECT_EQ(colourAt(inside, 57, 70), (std::array{200, 40, 10}));
    const Ink centred = finished(
        square(40), std::vector{finish("outline", {{"px", 6}, {"side", 1}}, {0, 0, 255, 255})},
        everything);
    EXPECT_EQ(inkBoxOf(centred, 8), (PixelRect{47, 47, 93, 93}));
    EXPECT_EQ(colourAt(centred, 52, 70), (std::array{0, 0, 255}));
    EXPECT_EQ(colourAt(centred, 54, 70), (std::array{200, 40, 10}));
}

TEST(Finishes, ASecondOutlineGoesRoundTheFirst) {
    const Ink ink = finished(
        square(40), std::vector{outlineOf(4, {255, 255, 255, 255}), outlineOf(3, {0, 0, 0, 255})},
        everything);
    EXPECT_EQ(inkBoxOf(ink, 8), (PixelRect{43, 43, 97, 97}));
    EXPECT_EQ(colourAt(ink, 48, 70), (std::array{255, 255, 255}));
    EXPECT_EQ(colourAt(ink, 44, 70), (std::array{0, 0, 0}));
}

TEST(Finishes, AnOutlineOfSeeThroughInkStaysOutOfIt) {
    const Ink ink =
        finished(square(40, 128), std::vector{outlineOf(5, {0, 0, 0, 255})}, everything);
    EXPECT_EQ(alphaAt(ink, 70, 70), 128) << "the inside is as see-through as it was";
    EXPECT_EQ(alphaAt(ink, 47, 70), 255);
}

TEST(Finishes, AShadowFallsWhereItIsSentUnderTheInkAndItsOutline) {
    const Ink hard = finished(
        square(20),
        std::vector{finish("shadow", {{"dx", 30}, {"dy", 0}, {"blur", 0}, {"opacity", 50}})},
        everything);
    EXPECT_EQ(alphaAt(hard, 60, 60), 255);
    EXPECT_NEAR(alphaAt(hard, 90, 60), 128, 1);
    EXPECT_EQ(alphaAt(hard, 75, 60), 0) << "between the two";
    const Ink cast = finished(
        square(20),
        std::vector{outlineOf(4, {}), finish("shadow", {{"dx", 30}, {"blur", 0}, {"dy", 0}})},
        everything);
    EXPECT_GT(alphaAt(cast, 102, 60), 0) << "the outline casts it, too";
    const Ink spread =
        finished(square(20),
                 std::vector{finish("shadow", {{"dx", 0}, {"dy", 0}, {"blur", 0}, {"spread", 5}})},
                 everything);
    EXPECT_EQ(inkBoxOf(spread, 1), (PixelRect{45, 45, 75, 75}));
}

TEST(Finishes, AGlowIsStrongAtTheEdgeAndGoneFarOut) {
    const Ink ink = finished(
        square(60), std::vector{finish("glow", {{"px", 12}, {"opacity", 100}}, {255, 255, 0, 255})},
        everything);
    EXPECT_GT(alphaAt(ink, 49, 80), 230);
    EXPECT_GT(alphaAt(ink, 44, 80), 60);
    EXPECT_EQ(alphaAt(ink, 22, 80), 0);
}

TEST(Finishes, ABevelIsLightWhereTheLightComesFrom) {
    const Ink ink =
        finished(square(60),
                 std::vector{finish("bevel", {{"size", 8}, {"depth", 80}, {"light", 225}},
                                    {255, 255, 255, 255})},
                 everything);
    EXPECT_GT(colourAt(ink, 52, 80)[1], 80) << "left";
    EXPECT_LT(colourAt(ink, 107, 80)[0], 150) << "right";
    EXPECT_EQ(colourAt(ink, 80, 80), (std::array{200, 40, 10})) << "the middle is left alone";
    EXPECT_EQ(alphaAt(ink, 52, 80), 255);
    EXPECT_EQ(inkBoxOf(ink, 1), (PixelRect{50, 50, 110, 110}));
}

TEST(Finishes, WhatIsOffOrEmptyChangesNothing) {
    Finish off = outlineOf(6, {});
    off.off = true;
    const Ink plain = finished(square(10), std::vector{off}, everything);
    EXPECT_EQ(inkBoxOf(plain, 1), (PixelRect{50, 50, 60, 60}));
    EXPECT_TRUE(finished(Ink{}, std::vector{outlineOf(6, {})}, everything).box.empty());
    EXPECT_EQ(reachOf({}), 0);
}

// The part that is asked for is the part of the whole.
TEST(Finishes, APartComesOutAsTheWhole) {
    const std::vector finishes{
        outlineOf(5, {10, 20, 30, 255}),
        finish("shadow", {{"dx", 4}, {"dy", 7}, {"blur", 9}, {"opacity", 70}})};
    const Ink whole = finished(square(50), finishes, everything),
              part = finished(square(50), finishes, {60, 70, 112, 130});
    int worst = 0;
    for (int y = part.box.top; y < part.box.bottom; ++y)
        for (int x = part.box.left; x < part.box.right; ++x)
            worst = std::max(worst, std::abs(alphaAt(part, x, y) - alphaAt(whole, x, y)));
    EXPECT_LE(worst, 1);
}

// One table: every kind has a painter, a title for itself and for its fields, and usual values that
// are allowed.
TEST(Finishes, EveryKindHasItsPainterAndItsWords) {
    for (const FinishKind& kind : allFinishKinds()) {
        EXPECT_TRUE(painterOf(kind.id)) << kind.id;
        EXPECT_TRUE(checkFinish(makeFinish(kind.id))) << kind.id;
        EXPECT_LE(kind.fields.size(), mostFinishFields);
        EXPECT_NE(english({"finish." + std::string(kind.id), {}}),
                  "finish." + std::string(kind.id));
        for (const FinishField& field : kind.fields)
            EXPECT_NE(english({"finish." + std::string(field.id), {}}),
                      "finish." + std::string(field.id))
                << field.id;
    }
    EXPECT_FALSE(painterOf("sparkle"));
}

TEST(Finishes, NumbersThatCannotBeAreRefused) {
    EXPECT_FALSE(checkFinish(finish("outline", {{"px", 401}})));
    EXPECT_FALSE(checkFinish(finish("outline", {{"px", std::nan("")}})));
    EXPECT_FALSE(checkFinish(finish("shadow", {{"opacity", -1}})));
    Finish unknown;
    unknown.kind = "sparkle";
    EXPECT_FALSE(checkFinish(unknown));
    EXPECT_EQ(scaled(outlineOf(6, {}), 2).value("px"), 12);
    EXPECT_EQ(scaled(outlineOf(300, {}), 2).value("px"), 400) << "never beyond what is allowed";
}

}  // namespace
}  // namespace zl
