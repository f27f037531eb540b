// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "readings/alpha_sum.h"
#include "readings/zones.h"
#include "render/ink_store.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(AlphaSum, CountsAPixelThatIsPartlyInsideInPart) {
    const AlphaSum sum(
        painted({4, 3}, [](int x, int y) { return packed(0, 0, 0, x == 1 && y == 1 ? 255 : 0); }));
    EXPECT_NEAR(sum.all(), 1, 1e-12);
    EXPECT_NEAR(sum.in({0, 0, 4, 3}), 1, 1e-12);
    EXPECT_NEAR(sum.in({1.5, 1, 2, 1}), 0.5, 1e-12);
    EXPECT_NEAR(sum.in({1.25, 1.25, 0.5, 0.5}), 0.25, 1e-12);
    EXPECT_NEAR(sum.in({2, 0, 2, 3}), 0, 1e-12);
    EXPECT_EQ(sum.in({3, 3, -1, 1}), 0);
    EXPECT_NEAR(sum.in({-50, -50, 100, 100}), 1, 1e-12);
    EXPECT_EQ(AlphaSum(Ink{}).all(), 0);
}

TEST(AlphaSum, OfAnInkThatOnlyMovedIsNotMeasuredAgain) {
    Kit kit = kitWith("stream-card", {1920, 1080});
    kit = withPicture(kit, textured({200, 100}, 0), {300, 300, 200, 100}, "badge.png");
    InkStore store;
    int made = 0;
    const auto measure = [&](const Layer& layer) {
        const Ink ink = good(store.ink(layer, kit, {1920, 1080}));
        return store.measured<AlphaSum>(ink, [&] {
            ++made;
            return std::make_shared<const AlphaSum>(ink);
        });
    };
    const Layer& layer = kit.pieces[0].layers[0];
    const auto first = measure(layer);
    EXPECT_EQ(measure(moved(layer, 40, 17)), first);
    EXPECT_EQ(made, 1);
    Layer larger = scaled(layer, 1.5, 1.5, {300, 300});
    EXPECT_NE(measure(larger), first);
    EXPECT_EQ(made, 2);
    // And what is known gives the shares that measuring anew gives.
    const Ink ink = good(store.ink(moved(layer, -250, 0), kit, {1920, 1080}));
    const std::vector<RealRect> places{{0, 0, 100.5, 1080}, {150, 350, 50, 25}};
    EXPECT_EQ(sharesWithin(ink, places, first), sharesWithin(ink, places));
}

}  // namespace
}  // namespace zl::test
