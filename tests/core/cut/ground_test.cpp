// SPDX-License-Identifier: GPL-3.0-or-later
// Grounds that are nearly flat, as cameras take them. Invented values; photographs' own grounds are
// keyed in tests/truth/key_test.cpp.
#include "cut/ground.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "cut/cut.h"
#include "support/walls.h"

namespace zl {
namespace {

using test::wallSize;

// The most that the mean of a square of 5 px is from the ground's middle, where there is no disc.
double farthest(const Straight8& level, const Ground& ground) {
    double most = 0;
    for (int y = 2; y + 2 < wallSize.height; ++y)
        for (int x = 2; x + 2 < wallSize.width; ++x) {
            if (std::hypot(x - 150, y - 100) < 44) continue;
            std::array<double, 3> sum{};
            for (int v = y - 2; v <= y + 2; ++v)
                for (int u = x - 2; u <= x + 2; ++u) {
                    const std::uint32_t p = level.row(v)[u];
                    sum[0] += redOf(p) / 25.0;
                    sum[1] += greenOf(p) / 25.0;
                    sum[2] += blueOf(p) / 25.0;
                }
            for (std::size_t c = 0; c < 3; ++c)
                most = std::max(most, std::abs(sum[c] - ground.middle[c]));
        }
    return most;
}

TEST(Ground, WhatAQuadraticLeavesOfCloudsIsFollowedFromTheRim) {
    const Straight8 picture = test::onWall(1, test::discOnWall);
    const auto plain = groundOf(picture);
    ASSERT_TRUE(plain);
    EXPECT_GT(farthest(levelled(picture, *plain), *plain), 6) << "no quadratic has such clouds";
    const Ground whole = withWhatIsLeft(picture, *plain);
    EXPECT_LT(farthest(levelled(picture, whole), whole), 3);
}

TEST(Ground, FlatInkNearItsColourIsSteppedOver) {
    // Lighter by eight code values, with an edge; as flat as the ground.
    const PixelRect sheet{100, 60, 180, 140};
    const Straight8 picture = test::onWall(0.8, [&](int x, int y) {
        if (!sheet.contains(x, y)) return std::uint32_t{0};
        return test::wallColour(x, y, 8);
    });
    const Ground whole = withWhatIsLeft(picture, *groundOf(picture));
    const Straight8 level = levelled(picture, whole);
    for (const auto& [x, y] : {std::pair{140, 100}, {110, 70}, {170, 130}})
        EXPECT_GE(redOf(level.row(y)[x]) - whole.middle[0], 5) << x << ", " << y;
}

TEST(Ground, AKeyTakesCloudsOffAndKeepsTheDisc) {
    const Straight8 picture = test::onWall(1, test::discOnWall);
    EXPECT_FALSE(reportOf(picture, {}).trouble);
    const Straight8 cut = keyed(picture, {});
    double left = 0, kept = 0;
    for (int y = 0; y < wallSize.height; ++y)
        for (int x = 0; x < wallSize.width; ++x) {
            const double away = std::hypot(x - 150, y - 100);
            if (away > 44) left += alphaOf(cut.row(y)[x]) / 255.0;
            if (away < 38) kept += alphaOf(cut.row(y)[x]) == 255;
        }
    EXPECT_LT(left / static_cast<double>(wallSize.count()), 0.0005);
    EXPECT_GT(kept, 0.99 * 38 * 38 * 3.14);
}

TEST(Ground, ASmallPictureHasTheQuadraticAlone) {
    std::mt19937 random(3);
    std::normal_distribution<double> normal(0, 1);
    const Straight8 picture = test::painted({23, 40}, [&](int, int y) {
        const int v = static_cast<int>(std::lround(150 + y / 2.0 + normal(random)));
        return packed(v, v, v, 255);
    });
    const auto ground = groundOf(picture);
    ASSERT_TRUE(ground);
    EXPECT_TRUE(withWhatIsLeft(picture, *ground).left.empty());
}

// Light spots with an edge may be the ground's or ink: they stay, and are told.
TEST(Ground, SpotsThatStandAloneAreTold) {
    EXPECT_EQ(reportOf(test::spottedWall(0), {}).spots, 0);
    const auto has = [](const std::vector<Message>& notes, const char* id) {
        return std::ranges::any_of(notes, [&](const Message& m) { return m.id == id; });
    };
    const KeyReport one = reportOf(test::spottedWall(1), {}),
                    three = reportOf(test::spottedWall(3), {});
    EXPECT_EQ(one.spots, 1);
    EXPECT_TRUE(has(notesOf(one, {}), "key.spot"));
    EXPECT_EQ(three.spots, 3);
    EXPECT_TRUE(has(notesOf(three, {}), "key.spots"));
    // What the note says to do helps.
    KeyCut raised;
    raised.tolerance = 24;
    EXPECT_EQ(reportOf(test::spottedWall(3), raised).spots, 0);
}

}  // namespace
}  // namespace zl
