// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/carry_on.h"

#include <gtest/gtest.h>

#include <cmath>

namespace zl {
namespace {

TEST(CarryOn, KeepsWhatIsKnownAndStandsBetweenItElsewhere) {
    // Known at both ends of a strip: 10 on the left, 30 on the right.
    Plane value({33, 5}), weight({33, 5});
    for (int y = 0; y < 5; ++y)
        for (int x = 0; x < 33; ++x) {
            const bool known = x < 4 || x >= 29;
            value.row(y)[x] = x < 4 ? 10.0f : x >= 29 ? 30.0f : 999.0f;
            weight.row(y)[x] = known ? 1.0f : 0.0f;
        }
    carryOn(value, weight);
    EXPECT_EQ(value.row(2)[0], 10);
    EXPECT_EQ(value.row(4)[32], 30);
    for (int x = 4; x < 29; ++x) {
        EXPECT_GE(value.row(2)[x], 10) << x;
        EXPECT_LE(value.row(2)[x], 30) << x;
    }
    EXPECT_LT(value.row(2)[6], 16) << "near the left it is as there";
    EXPECT_GT(value.row(2)[26], 24);
}

TEST(CarryOn, WeighsHalfOfWhatIsHalfKnownAndMakesNothingOfNothing) {
    Plane value({2, 1}), weight({2, 1});
    value.row(0)[0] = 8;
    value.row(0)[1] = 4;
    weight.row(0)[0] = 0.5f;
    weight.row(0)[1] = 1;
    carryOn(value, weight);
    // The mean of both by their weights is 16 / 3; the half that is not known is of that.
    EXPECT_NEAR(static_cast<double>(value.row(0)[0]), 4 + 8.0 / 3, 1e-5);
    EXPECT_EQ(value.row(0)[1], 4);

    Plane lost({5, 3}), unknown({5, 3});
    lost.row(1)[2] = 7;
    carryOn(lost, unknown);
    for (int y = 0; y < 3; ++y)
        for (int x = 0; x < 5; ++x) EXPECT_EQ(lost.row(y)[x], 0);
}

}  // namespace
}  // namespace zl
