// SPDX-License-Identifier: GPL-3.0-or-later
// Edges of drawn ink: rims darker than what lies in them, shadows of a pixel or two, and both after
// a JPEG has halved their chroma. Invented drawings; real icons are keyed in
// tests/truth/key_test.cpp.
#include <algorithm>
#include <cmath>
#include <map>
#include <random>

#include "cut/cut.h"
#include "cut/edge_net.h"
#include "cut/regions.h"
#include "encode/encode.h"
#include "picture/decode.h"
#include "support/support.h"

namespace zl {
namespace {

constexpr PixelSize drawingSize{120, 100};
using Rgb = std::array<double, 3>;
const Rgb white{255, 255, 255}, green{0, 177, 64}, ink{214, 190, 120}, line{70, 52, 30};

double coverageOf(double distance) {  // inside is positive
    return std::clamp(distance + 0.5, 0.0, 1.0);
}

// How far inside an ellipse-like blob of many slopes a pixel's middle lies, px.
double inside(int x, int y) {
    const double dx = x + 0.5 - 60, dy = y + 0.5 - 50, turn = std::atan2(dy, dx);
    return 32 + 5 * std::cos(5 * turn) - std::hypot(dx, dy);
}

struct Drawing {
    Straight8 picture;
    std::vector<double> alpha;  // row by row

    double errorOf(const Straight8& cut) const {
        double sum = 0;
        int count = 0;
        for (int y = 0; y < drawingSize.height; ++y)
            for (int x = 0; x < drawingSize.width; ++x) {
                const double a = alpha[static_cast<std::size_t>(y * drawingSize.width + x)];
                if (a <= 0 || a >= 1) continue;
                sum += std::abs(alphaOf(cut.row(y)[x]) / 255.0 - a);
                ++count;
            }
        return sum / count;
    }
    // Alpha that solid ink has lost, in pixels.
    double lost(const Straight8& cut) const {
        double sum = 0;
        for (int y = 0; y < drawingSize.height; ++y)
            for (int x = 0; x < drawingSize.width; ++x)
                if (alpha[static_cast<std::size_t>(y * drawingSize.width + x)] >= 1)
                    sum += 1 - alphaOf(cut.row(y)[x]) / 255.0;
        return sum;
    }
};

// Light ink in a dark line of `rim` px, `shade(distance)` of black under its edge.
Drawing drawn(const Rgb& ground, double rim, const std::function<double(double)>& shade) {
    Drawing out{Straight8(), {}};
    out.picture = test::painted(drawingSize, [&](int x, int y) {
        const double deep = inside(x, y), a = coverageOf(deep), inner = coverageOf(deep - rim),
                     s = (1 - a) * shade(-deep);
        out.alpha.push_back(a + s);
        const auto code = [&](std::size_t c) {
            return static_cast<int>(
                std::lround(ink[c] * inner + line[c] * (a - inner) + ground[c] * (1 - a - s)));
        };
        return packed(code(0), code(1), code(2), 255);
    });
    return out;
}
double none(double) {
    return 0;
}

Straight8 afterJpeg(const Straight8& picture) {
    const Bytes bytes =
        test::good(encode(picture, {Content::jpeg, 85, Chroma::half, Effort::quick}));
    return test::good(decode(bytes, "drawing.jpg")).pixels->clone();
}

TEST(Edge, ADarkRimTellsItsOwnCoverage) {
    for (const double rim : {1.0, 1.5, 2.5}) {
        const Drawing drawing = drawn(white, rim, none);
        const Straight8 cut = keyed(drawing.picture, {});
        // Taken for the light ink in it, half of the rim would count as solid: 0.2 and more.
        EXPECT_LE(drawing.errorOf(cut), rim < 1.5 ? 0.09 : 0.045) << rim;
        // Where the line ends within a pixel it is lighter, as the line's own edge is.
        EXPECT_LE(drawing.lost(cut), 30) << rim;  // of 3,200 px
    }
}

TEST(Edge, AShadowOfTwoPixelsIsSeeThroughBlack) {
    const Drawing drawing =
        drawn(white, 0, [](double away) { return std::clamp(0.24 - 0.08 * away, 0.0, 0.24); });
    const Straight8 cut = keyed(drawing.picture, {});
    EXPECT_LE(drawing.errorOf(cut), 0.05);
    // No light and solid pixel is left outside the ink: laid on black it would shine.
    for (int y = 0; y < drawingSize.height; ++y)
        for (int x = 0; x < drawingSize.width; ++x) {
            if (inside(x, y) > -1) continue;
            const std::uint32_t p = cut.row(y)[x];
            EXPECT_LE(alphaOf(p) * greenOf(p) / 255, 60) << x << ' ' << y;
        }
    KeyCut dropped;
    dropped.shadow = KeyShadow::drop;
    const Straight8 bare = keyed(drawing.picture, dropped);
    int left = 0;
    for (int y = 0; y < drawingSize.height; ++y)
        for (int x = 0; x < drawingSize.width; ++x)
            left += inside(x, y) < -1 && alphaOf(bare.row(y)[x]);
    EXPECT_LE(left, 20) << "of 400 px";
}

// A light page with a line round it that stands on `foot(x, y)` of black, and has four faint pixels
// of it all round.
Drawing pageOn(const std::function<double(int, int)>& foot) {
    constexpr int left = 40, right = 80, top = 20, bottom = 70;
    Drawing out{Straight8(), {}};
    out.picture = test::painted(drawingSize, [&](int x, int y) {
        const int outside = std::max({left - x, x - right + 1, top - y, y - bottom + 1});
        const bool rim = x == left || x == right - 1 || y == top || y == bottom - 1;
        const bool page = outside <= 0;
        constexpr std::array round{0.06, 0.04, 0.025, 0.01};
        double shade = page ? 0 : foot(x, y);
        if (!page && outside <= 4)
            shade = std::max(shade, round[static_cast<std::size_t>(outside - 1)]);
        out.alpha.push_back(page ? 1 : std::round(shade * 255) / 255);
        const int code = page ? rim ? 120 : 244 : static_cast<int>(std::lround(255 * (1 - shade)));
        return packed(code, code, code, 255);
    });
    return out;
}

TEST(Edge, AShadowAtTheFootIsNoLightPlate) {
    const auto broad = [](int x, int y) {  // an ellipse that is dark in its middle
        const double u = (x - 60) / 34.0, v = (y - 70) / 11.0, r = u * u + v * v;
        return r < 1 ? 0.2 * (1 - r) * (1 - r) : 0;
    };
    const auto narrow = [](int x, int y) {  // five pixels under the page
        return x < 40 || x >= 80 || y < 70 ? 0 : std::max(0.0, 0.075 - 0.015 * (y - 70));
    };
    for (const auto& [name, foot] : std::map<std::string, std::function<double(int, int)>>{
             {"broad", broad}, {"narrow", narrow}}) {
        const Drawing drawing = pageOn(foot);
        const Straight8 cut = keyed(drawing.picture, {});
        int light = 0, shaded = 0;
        for (int y = 0; y < drawingSize.height; ++y)
            for (int x = 0; x < drawingSize.width; ++x) {
                const double a = drawing.alpha[static_cast<std::size_t>(y * drawingSize.width + x)];
                if (a <= 0 || a >= 1 || foot(x, y) <= 0) continue;
                ++shaded;
                light += std::abs(alphaOf(cut.row(y)[x]) / 255.0 - a) > 0.1;
            }
        EXPECT_GT(shaded, 150) << name;
        EXPECT_LE(light, shaded / 25) << name;
        EXPECT_EQ(alphaOf(cut.row(40)[60]), 255) << name;
    }
}

TEST(Edge, LightInkWithACrispEdgeIsNoShadow) {
    // A light grey blob, and the same of 3 px only: both begin as dark as they go on.
    for (const double width : {64.0, 3.0}) {
        Drawing drawing{Straight8(), {}};
        drawing.picture = test::painted(drawingSize, [&](int x, int y) {
            const double a = coverageOf(inside(x, y)) * (1 - coverageOf(inside(x, y) - width));
            drawing.alpha.push_back(a);
            const int code = static_cast<int>(std::lround(255 - 17 * a));
            return packed(code, code, code, 255);
        });
        EXPECT_LE(drawing.lost(keyed(drawing.picture, {})), 5) << width;
    }
}

// `rim` px of light grey round ink of `within`, without a JPEG.
Drawing greyRim(double rim, double within) {
    constexpr double grey = 180;
    Drawing out{Straight8(), {}};
    out.picture = test::painted(drawingSize, [&](int x, int y) {
        const double deep = inside(x, y), a = coverageOf(deep), inner = coverageOf(deep - rim);
        out.alpha.push_back(a);
        const int code =
            static_cast<int>(std::lround(within * inner + grey * (a - inner) + 255 * (1 - a)));
        return packed(code, code, code, 255);
    });
    return out;
}

TEST(Edge, AGreyRimRoundDarkOrWhiteInkIsNoHalfCoveredGround) {
    // By colour alone grey is black that covers a third of white: that was off by 0.2 to 0.35 and
    // lost 180 to 250 px of solid ink round a dark middle.
    for (const double rim : {2.0, 2.5, 3.0})
        for (const double within : {20.0, 60.0, 255.0}) {
            const Drawing drawing = greyRim(rim, within);
            const Straight8 cut = keyed(drawing.picture, {});
            // A rim of two pixels has one that is whole, or none where it is slanted.
            EXPECT_LE(drawing.errorOf(cut), rim < 2.5 ? 0.16 : 0.07) << rim << ' ' << within;
            EXPECT_LE(drawing.lost(cut), rim < 2.5 ? 65 : 12) << rim << ' ' << within;
        }
}

TEST(Edge, ASoftEdgeIsNoRim) {
    // Coverage that rises over eight pixels, and over two as a scaled picture's does.
    for (const double width : {8.0, 2.0}) {
        Drawing drawing{Straight8(), {}};
        drawing.picture = test::painted(drawingSize, [&](int x, int y) {
            const double t = std::clamp(inside(x, y) / width + 0.5, 0.0, 1.0),
                         a = t * t * (3 - 2 * t);
            drawing.alpha.push_back(a);
            const auto code = [&](double c) {
                return static_cast<int>(std::lround(c * a + 255 * (1 - a)));
            };
            return packed(code(40), code(90), code(160), 255);
        });
        EXPECT_LE(drawing.errorOf(keyed(drawing.picture, {})), 0.02) << width;
    }
}

TEST(Edge, HalvedChromaDoesNotHideARim) {
    struct Bounds {
        Rgb ground;
        double error, lost;  // of alpha 0..1; px of 3,200
    };
    for (const auto& [ground, error, lost] : {Bounds{white, 0.12, 40}, Bounds{green, 0.14, 12}})
        for (const double rim : {1.0, 2.0}) {
            const Drawing drawing = drawn(ground, rim, none);
            const Straight8 cut = keyed(afterJpeg(drawing.picture), {});
            // On green a pixel's own colour alone is off by 0.26 and 0.16, and loses 105 px.
            EXPECT_LE(drawing.errorOf(cut), error) << ground[0] << ' ' << rim;
            EXPECT_LE(drawing.lost(cut), lost) << ground[0] << ' ' << rim;
        }
}

TEST(Edge, TheNetworkSeesTheSameHoweverThePictureIsTurned) {
    const Straight8 picture = afterJpeg(drawn(green, 1, none).picture);
    const Straight8 turned =
        test::painted({drawingSize.height, drawingSize.width},
                      [&](int x, int y) { return picture.row(drawingSize.height - 1 - x)[y]; });
    const Straight8 mirrored = test::painted(
        drawingSize, [&](int x, int y) { return picture.row(y)[drawingSize.width - 1 - x]; });
    const auto regions = [](const Straight8& p) { return Regions(p.size()); };
    const Regions upright = regions(picture), onItsSide = regions(turned);
    const EdgeNet one(picture, upright), two(turned, onItsSide), three(mirrored, upright);
    int seen = 0;
    for (int y = 3; y + 3 < drawingSize.height; ++y)
        for (int x = 3; x + 3 < drawingSize.width; ++x) {
            if (std::abs(inside(x, y)) > 2) continue;
            const double as = one.coverage(x, y, green, 0.5);
            EXPECT_NEAR(two.coverage(drawingSize.height - 1 - y, x, green, 0.5), as, 1e-4);
            EXPECT_NEAR(three.coverage(drawingSize.width - 1 - x, y, green, 0.5), as, 1e-4);
            seen += as > 0.05 && as < 0.95;
        }
    EXPECT_GT(seen, 100);
}

}  // namespace
}  // namespace zl
