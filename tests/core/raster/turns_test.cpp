// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/support/drawing.h"
#include "raster/turn.h"
#include "render/render.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(Turns, QuartersAndMirrorsMovePixelsAndChangeNone) {
    const Straight8 source = test::textured({7, 5});
    EXPECT_EQ(turnedQuarters(source, 1, false, false).row(0)[4], source.row(0)[0])
        << "the top left goes to the top right";
    EXPECT_EQ(turnedQuarters(source, 2, false, false).row(4)[6], source.row(0)[0]);
    EXPECT_EQ(turnedQuarters(source, 3, false, false).row(6)[0], source.row(0)[0]);
    EXPECT_EQ(turnedQuarters(source, 0, true, false).row(0)[6], source.row(0)[0]);
    EXPECT_EQ(turnedQuarters(source, 0, false, true).row(4)[0], source.row(0)[0]);
    // A turned layer shows exactly the turned picture.
    Kit kit = test::withPicture(test::kitWith("free-frame", {20, 20}), source, {6, 8, 7, 5});
    Layer layer = kit.pieces[0].layers[0];
    layer.turn = {90, false, true};
    kit = good(withChangedLayer(kit, "p", layer));
    EXPECT_EQ(boundsOf(layer), (RealRect{7, 7, 5, 7}));
    const Straight8 shown = rendered(kit), asked = turnedQuarters(source, 1, false, true);
    for (int y = 0; y < 7; ++y)
        for (int x = 0; x < 5; ++x)
            EXPECT_EQ(shown.row(7 + y)[7 + x], asked.row(y)[x]) << x << ',' << y;
}

TEST(Turns, AnyAngleKeepsColourAndArea) {
    Kit kit =
        test::withPicture(test::kitWith("free-frame", {200, 200}),
                          Straight8::cleared({90, 50}, packed(10, 200, 90, 255)), {55, 75, 90, 50});
    for (const double degrees : {1.0, 30.0, 45.0, 100.5, -77.0}) {
        Layer layer = kit.pieces[0].layers[0];
        layer.turn.degrees = degrees;
        const Straight8 shown = rendered(good(withChangedLayer(kit, "p", layer)));
        EXPECT_NEAR(inkSum(shown), 90 * 50, 3) << degrees;
        EXPECT_EQ(shown.row(100)[100], packed(10, 200, 90, 255)) << degrees;
    }
}

TEST(Turns, PointsGoThereAndBack) {
    const Turn turn{37, true, false};
    const RealPoint p{12, 5}, about{40, 30}, there = turned(p, turn, about),
                                             back = unturned(there, turn, about);
    EXPECT_NEAR(back.x, p.x, 1e-9);
    EXPECT_NEAR(back.y, p.y, 1e-9);
    EXPECT_EQ(boundsOf(RealRect{10, 10, 20, 40}, Turn{90, false, false}, {20, 30}),
              (RealRect{0, 20, 40, 20}));
}

// W3C Compositing and Blending Level 1, section 9.1, by hand on an opaque ground and on nothing.
TEST(BlendModes, FollowTheW3c) {
    const auto mixed = [](Blend blend, int below, int above, double opacity = 1) {
        Kit kit = test::withPicture(test::kitWith("free-frame", {4, 4}),
                                    Straight8::cleared({4, 4}, packed(below, below, below, 255)),
                                    {0, 0, 4, 4});
        kit = withBar(kit, BarShape::rectangle, {0, 0, 4, 4},
                      {static_cast<std::uint8_t>(above), static_cast<std::uint8_t>(above),
                       static_cast<std::uint8_t>(above), 255});
        Layer layer = kit.pieces[0].layers[1];
        layer.blend = blend;
        layer.opacity = opacity;
        return redOf(rendered(good(withChangedLayer(kit, "p", layer))).row(1)[1]);
    };
    const auto formula = [](Blend blend, double b, double s) {
        switch (blend) {
            case Blend::multiply:
                return b * s;
            case Blend::screen:
                return b + s - b * s;
            case Blend::overlay:
                return b <= 0.5 ? 2 * b * s : 1 - 2 * (1 - b) * (1 - s);
            case Blend::softLight: {
                const double d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
                return s <= 0.5 ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * (d - b);
            }
            default:
                return s;
        }
    };
    for (const Blend blend :
         {Blend::normal, Blend::multiply, Blend::screen, Blend::overlay, Blend::softLight})
        for (const int below : {0, 30, 64, 128, 200, 255})
            for (const int above : {0, 50, 127, 128, 220, 255}) {
                const double b = below / 255.0, s = above / 255.0, full = formula(blend, b, s);
                EXPECT_NEAR(mixed(blend, below, above), full * 255, 0.51)
                    << static_cast<int>(blend) << ' ' << below << ' ' << above;
                EXPECT_NEAR(mixed(blend, below, above, 0.4), (b * 0.6 + full * 0.4) * 255, 0.51);
            }
    // Over nothing the source shows as it is.
    Kit kit = withBar(test::kitWith("free-frame", {4, 4}), BarShape::rectangle, {0, 0, 4, 4},
                      {90, 90, 90, 255});
    Layer layer = kit.pieces[0].layers[0];
    layer.blend = Blend::multiply;
    EXPECT_EQ(rendered(good(withChangedLayer(kit, "p", layer))).row(0)[0], packed(90, 90, 90, 255));
}

}  // namespace
}  // namespace zl
