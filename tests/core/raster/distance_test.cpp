// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "raster/blur.h"
#include "raster/coverage.h"
#include "raster/distance.h"
#include "raster/ink_box.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

// By hand: an edge through the middle covers one half; one at 45 degrees that cuts a corner of legs
// l covers l^2 / 2.
TEST(Coverage, OfAStraightEdgeIsItsArea) {
    EXPECT_FLOAT_EQ(coverageOf(0, 1, 0), 0.5f);
    EXPECT_FLOAT_EQ(coverageOf(0.25f, 0, -1), 0.75f);
    const float d = std::sqrt(0.5f);
    EXPECT_FLOAT_EQ(coverageOf(0, d, d), 0.5f);
    EXPECT_NEAR(coverageOf(-d + 0.3f * d, d, d), 0.3f * 0.3f / 2, 1e-6);  // legs of 0.3 px
    EXPECT_FLOAT_EQ(coverageOf(5, 0.6f, 0.8f), 1);
    EXPECT_FLOAT_EQ(coverageOf(-5, 0.6f, 0.8f), 0);
    for (const float angle : {0.0f, 0.1f, 0.5f, 0.7853982f, 1.2f, 2.5f})
        for (const float cover : {0.01f, 0.1f, 0.37f, 0.5f, 0.77f, 0.99f})
            EXPECT_NEAR(coverageOf(offsetOf(cover, std::cos(angle), std::sin(angle)),
                                   std::cos(angle), std::sin(angle)),
                        cover, 1e-4);
}

TEST(Distance, OfAnUprightEdgeIsExactToItsCoverage) {
    // Ink from x = 10.25 on: the pixel at 10 is covered by three quarters.
    Plane plane({60, 61});
    for (int y = 0; y < 61; ++y)
        for (int x = 10; x < 60; ++x) plane.row(y)[x] = x == 10 ? 0.75f : 1.0f;
    const EdgeDistance measured(plane, 8, std::array{-6.0f, -3.0f, 0.0f, 3.0f, 6.0f});
    const Plane& distance = measured.plane();
    for (const int x : {3, 7, 9, 10, 11, 15, 17})
        EXPECT_NEAR(distance.row(30)[x], 10.25f - (static_cast<float>(x) + 0.5f), 0.01) << x;
    EXPECT_FLOAT_EQ(distance.row(30)[25], -8) << "beyond the band";
    EXPECT_FLOAT_EQ(distance.row(30)[0], 8);
}

TEST(Distance, WithoutAnEdgeThereIsNoneNear) {
    EXPECT_FLOAT_EQ(EdgeDistance(Plane({5, 5}), 7, {}).plane().row(2)[2], 7);
    EXPECT_TRUE(EdgeDistance(Plane(), 7, {}).plane().empty());
    Plane one({1, 1}, 1);
    EXPECT_LT(EdgeDistance(one, 3, {}).plane().row(0)[0], 0)
        << "a single pixel is inside of its own edge";
}

TEST(Distance, IsTheSameOnAnyNumberOfThreads) {
    Plane plane({97, 83});
    for (int y = 0; y < 83; ++y)
        for (int x = 0; x < 97; ++x)
            plane.row(y)[x] = std::clamp(
                30.0f - std::hypot(static_cast<float>(x) - 40.3f, static_cast<float>(y) - 41.7f),
                0.0f, 1.0f);
    const std::array levels{0.0f, 7.0f};
    const EdgeDistance first(plane, 12, levels, 1), fourth(plane, 12, levels, 4);
    const Plane &one = first.plane(), &four = fourth.plane();
    EXPECT_TRUE(std::equal(one.row(0), one.row(0) + 97 * 83, four.row(0)));
}

TEST(Blur, KeepsWhatItBlursAndMovesItInParts) {
    Plane dot({101, 101});
    dot.row(50)[50] = 1;
    for (const double sigma : {0.0, 0.7, 3.0, 9.0}) {
        const Plane soft = blurred(dot, sigma, 2.5, -1);
        double sum = 0, mx = 0, my = 0;
        for (int y = 0; y < 101; ++y)
            for (int x = 0; x < 101; ++x) {
                sum += soft.row(y)[x];
                mx += static_cast<double>(soft.row(y)[x]) * x;
                my += static_cast<double>(soft.row(y)[x]) * y;
            }
        EXPECT_NEAR(sum, 1, 0.002) << sigma;
        EXPECT_NEAR(mx / sum, 52.5, 0.02) << sigma;
        EXPECT_NEAR(my / sum, 49, 0.02) << sigma;
    }
    EXPECT_TRUE(blurred(Plane(), 3).empty());
}

}  // namespace
}  // namespace zl
