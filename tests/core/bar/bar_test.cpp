// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/support/drawing.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(Bars, CoverTheAreaOfTheirShape) {
    const auto area = [](BarShape shape, RealRect place) {
        return inkSum(rendered(withBar(test::kitWith("free-frame", {240, 160}), shape, place)));
    };
    const RealRect place{20, 30, 160, 90};
    constexpr double pi = std::numbers::pi;
    EXPECT_NEAR(area(BarShape::rectangle, place), 160 * 90, 0.5);
    EXPECT_NEAR(area(BarShape::rectangle, {20.25, 30.5, 160, 90}), 160 * 90, 20) << "edges in part";
    EXPECT_NEAR(area(BarShape::rounded, place), 160 * 90 - (4 - pi) * 12 * 12, 20);
    EXPECT_NEAR(area(BarShape::ellipse, place), pi * 80 * 45, 30);
    EXPECT_NEAR(area(BarShape::ring, place), pi * (80 * 45 - 68 * 33), 40);
    EXPECT_NEAR(area(BarShape::line, {20, 30, 160, 10}), 150 * 10 + pi * 25, 10);
    // A head of 0.9 x 90 px and a shaft of 12.
    EXPECT_NEAR(area(BarShape::arrow, place), (160 - 81) * 12 + 81 * 90 / 2.0, 20);
}

TEST(Bars, AreExactlyAsSeeThroughAsTheyAreSaidToBe) {
    Kit kit =
        test::withPicture(test::kitWith("free-frame", {60, 40}),
                          Straight8::cleared({60, 40}, packed(200, 100, 50, 255)), {0, 0, 60, 40});
    kit = withBar(kit, BarShape::rectangle, {10, 10, 30, 20});
    Layer bar = kit.pieces[0].layers[1];
    bar.opacity = 0.8;
    kit = good(withChangedLayer(kit, "p", bar));
    EXPECT_EQ(rendered(kit).row(20)[20], packed(40, 20, 10, 255)) << "a fifth of each is left";
    test::barOf(bar)->fade = Colour{0, 0, 0, 0};
    bar.opacity = 1;
    kit = good(withChangedLayer(kit, "p", bar));
    const Straight8 faded = rendered(kit);
    // At the middle of the gradient half is covered; pixel 24's centre lies 0.5 px before the
    // middle, 15 / 30 - 0.5 / 30.
    EXPECT_NEAR(redOf(faded.row(20)[24]), 200 * (0.5 - 0.5 / 30), 1);
    EXPECT_GT(redOf(faded.row(20)[39]), 190);
    EXPECT_LT(redOf(faded.row(20)[10]), 10);
}

}  // namespace
}  // namespace zl
