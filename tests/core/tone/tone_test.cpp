// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "support/support.h"
#include "tone/tone.h"

namespace zl {
namespace {

using test::good;

TEST(Tones, NeutralChangesNoPixelAndEachDoesWhatItSays) {
    const Straight8 picture = test::textured({120, 80});
    const Straight8 same = toned(picture, {});
    EXPECT_TRUE(
        std::equal(picture.pixels().begin(), picture.pixels().end(), same.pixels().begin()));
    const auto means = [&](const Tone& tone) {
        std::array<double, 3> sum{};
        const Straight8 out = toned(picture, tone);
        for (const std::uint32_t p : out.pixels()) {
            sum[0] += redOf(p);
            sum[1] += greenOf(p);
            sum[2] += blueOf(p);
        }
        return sum;
    };
    const auto plain = means({});
    EXPECT_GT(means({40, 0, 0, 0, 0, 0})[1], plain[1]);
    EXPECT_LT(means({-40, 0, 0, 0, 0, 0})[1], plain[1]);
    EXPECT_GT(means({0, 0, 0, 50, 0, 0})[0], plain[0]) << "warm is red";
    EXPECT_LT(means({0, 0, 0, 50, 0, 0})[2], plain[2]) << "and not blue";
    EXPECT_LT(means({0, 0, 0, 0, 50, 0})[1], plain[1]) << "tint takes green away";
    const Straight8 grey = toned(picture, {0, 0, -100, 0, 0, 0});
    for (const std::uint32_t p : grey.pixels())
        ASSERT_TRUE(redOf(p) == greenOf(p) && greenOf(p) == blueOf(p));
    // Black, white and alpha stay under brightness and contrast.
    Straight8 ends({2, 1});
    ends.row(0)[0] = packed(0, 0, 0, 7);
    ends.row(0)[1] = packed(255, 255, 255, 255);
    const Straight8 pushed = toned(ends, {60, 80, 0, 0, 0, 0});
    EXPECT_EQ(pushed.row(0)[0], ends.row(0)[0]);
    EXPECT_EQ(pushed.row(0)[1], ends.row(0)[1]);
}

// By hand: 64 of 255 brightened by 100 is its square root, 128; contrast 100 squares (2v), so 64
// becomes 32.1.
TEST(Tones, FollowTheirFormulas) {
    const auto of = [](const Tone& tone) {
        return redOf(toned(Straight8::cleared({1, 1}, packed(64, 64, 64, 255)), tone).row(0)[0]);
    };
    EXPECT_NEAR(of({100, 0, 0, 0, 0, 0}), 255 * std::sqrt(64 / 255.0), 0.51);
    EXPECT_NEAR(of({0, 100, 0, 0, 0, 0}), 255 * 0.5 * std::pow(2 * 64 / 255.0, 2), 0.51);
    EXPECT_EQ(of({0, 0, 0, 0, 0, 100}), 64) << "nothing round it differs";
}

TEST(Tones, ClarityLiftsAnEdgeOnBothSides) {
    const Straight8 edge = test::painted({200, 40}, [](int x, int) {
        return x < 100 ? packed(90, 90, 90, 255) : packed(160, 160, 160, 255);
    });
    const Straight8 clear = toned(edge, {0, 0, 0, 0, 0, 80});
    EXPECT_LT(redOf(clear.row(20)[98]), 88);
    EXPECT_GT(redOf(clear.row(20)[101]), 162);
    EXPECT_NEAR(redOf(clear.row(20)[20]), 90, 1);
}

TEST(Veils, NothingUnderThemCanBeRead) {
    const Straight8 picture = test::noisy({64, 48});
    const Veil coarse{Veil::Kind::coarse, {8, 8, 32, 16}, 16},
        soft{Veil::Kind::blur, {8, 8, 32, 16}, 24};
    const Straight8 squares = veiled(picture, std::vector{coarse});
    for (int y = 8; y < 24; ++y)
        for (int x = 8; x < 24; ++x) EXPECT_EQ(squares.row(y)[x], squares.row(8)[8]);
    EXPECT_EQ(squares.row(7)[8], picture.row(7)[8]);
    EXPECT_EQ(squares.row(30)[50], picture.row(30)[50]);
    const Straight8 blurredOut = veiled(picture, std::vector{soft});
    int most = 0;
    for (int y = 10; y < 22; ++y)
        for (int x = 10; x < 37; ++x)
            most = std::max(
                most, std::abs(redOf(blurredOut.row(y)[x]) - redOf(blurredOut.row(y)[x + 1])));
    EXPECT_LT(most, 12) << "noise of 255 is gone";
}

TEST(Tones, TheHistogramCountsInkAndItsClippedEnds) {
    Straight8 picture = Straight8::cleared({10, 10}, packed(100, 100, 100, 255));
    for (int x = 0; x < 10; ++x) {
        picture.row(0)[x] = packed(255, 100, 100, 255);
        picture.row(1)[x] = packed(0, 0, 0, 255);
        picture.row(2)[x] = 0;
    }
    const Histogram h = histogramOf(picture);
    EXPECT_EQ(h.pixels, 90);
    EXPECT_EQ(h.counts[0][255], 10);
    EXPECT_EQ(h.counts[3][100], 70);
    EXPECT_NEAR(h.clippedLow, 10 / 90.0, 1e-9);
    EXPECT_NEAR(h.clippedHigh, 10 / 90.0, 1e-9);
}

}  // namespace
}  // namespace zl
