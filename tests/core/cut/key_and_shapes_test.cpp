// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts against scenes whose alpha and ink are known, and shapes against their areas.
#include <fmt/core.h>
#include <numbers>
#include <random>

#include "base/json.h"
#include "cut/block_code.h"
#include "cut/cut.h"
#include "cut/shape.h"
#include "edit/edits.h"
#include "picture/decode.h"
#include "raster/components.h"
#include "render/render.h"
#include "store/layer_json.h"
#include "support/scenes.h"
#include "words/words.h"

namespace zl {
namespace {

using test::Errors;
using test::good;
using test::Rgb;

const Rgb white{255, 255, 255}, green{0, 177, 64};

Straight8 afterJpeg(const Straight8& picture, Chroma chroma) {
    const Bytes bytes = good(encode(picture, {Content::jpeg, 90, chroma, Effort::release}));
    return good(decode(bytes, "scene.jpg")).pixels->clone();
}

enum class Source { lossless, full, half };

struct Case {
    const char* name;
    Rgb background, ink;
    Source source;
    double alpha, colour;  // what is allowed
};

const std::vector<Case>& cases() {
    static const std::vector<Case> all{
        {"dark ink on white", white, {30, 60, 90}, Source::lossless, 0.001, 0.5},
        {"red ink on white", white, {200, 30, 40}, Source::lossless, 0.001, 0.5},
        {"light grey ink on white", white, {172, 176, 180}, Source::lossless, 0.001, 0.5},
        // Paler still, the rounding of the source to 8 bits alone costs more than 0.001.
        {"pale grey ink on white", white, {200, 203, 206}, Source::lossless, 0.002, 0.5},
        {"dark ink on green", green, {30, 30, 40}, Source::lossless, 0.001, 0.5},
        {"light ink on green", green, {228, 228, 220}, Source::lossless, 0.001, 0.5},
        {"dark ink on white, JPEG 90 4:4:4", white, {30, 60, 90}, Source::full, 0.012, 4.5},
        {"dark ink on white, JPEG 90 4:2:0", white, {30, 60, 90}, Source::half, 0.012, 4.5},
        {"red ink on white, JPEG 90 4:4:4", white, {200, 30, 40}, Source::full, 0.012, 4.5},
        {"red ink on white, JPEG 90 4:2:0", white, {200, 30, 40}, Source::half, 0.012, 4.5},
        {"light grey ink on white, JPEG 90 4:4:4",
         white,
         {196, 198, 200},
         Source::full,
         0.036,
         8.5},
        {"light grey ink on white, JPEG 90 4:2:0",
         white,
         {196, 198, 200},
         Source::half,
         0.036,
         8.5},
        {"dark ink on green, JPEG 90 4:4:4", green, {30, 30, 40}, Source::full, 0.022, 5},
        {"light ink on green, JPEG 90 4:4:4", green, {228, 228, 220}, Source::full, 0.022, 5},
        {"dark ink on green, JPEG 90 4:2:0", green, {30, 30, 40}, Source::half, 0.035, 9.5},
        {"light ink on green, JPEG 90 4:2:0", green, {228, 228, 220}, Source::half, 0.035, 9.5},
    };
    return all;
}

Straight8 sourceOf(const test::Scene& scene, const Case& c) {
    Straight8 picture = test::onto(scene, c.background);
    return c.source == Source::lossless
               ? std::move(picture)
               : afterJpeg(picture, c.source == Source::full ? Chroma::full : Chroma::half);
}

// What a plain threshold of the same colour makes of it.
Straight8 thresholded(const Straight8& picture, const Rgb& background, double tolerance) {
    return test::painted(picture.size(), [&](int x, int y) {
        const std::uint32_t p = picture.row(y)[x];
        return awayFrom(p, background) <= tolerance ? p & 0xFFFFFF : p;
    });
}

TEST(Key, UnmixesTheEdgeWithinTheBoundsForEverySource) {
    const bool table = std::getenv("ZL_TABLE") != nullptr;
    if (table)
        fmt::print(
            "| source | ours: alpha | colour | threshold: alpha | colour "
            "|\n|---|---|---|---|---|\n");
    for (const Case& c : cases()) {
        SCOPED_TRACE(c.name);
        const test::Scene scene = test::sceneOf(c.ink);
        const Straight8 picture = sourceOf(scene, c);
        const KeyCut key{.everywhere = true};
        const Errors ours = errorsOf(scene, keyed(picture, key, 2));
        const Errors plain = errorsOf(scene, thresholded(picture, c.background, 24));
        EXPECT_LE(ours.alpha, c.alpha);
        EXPECT_LE(ours.colour, c.colour);
        EXPECT_LT(ours.alpha * 2, plain.alpha) << "a threshold is far worse";
        if (table)
            fmt::print("| {} | {:.4f} ({}) | {:.2f} ({}) | {:.3f} | {:.1f} |\n", c.name, ours.alpha,
                       c.alpha, ours.colour, c.colour, plain.alpha, plain.colour);
    }
}

// A dark ring with a white hole on white, 60 x 60.
Straight8 ringOnWhite() {
    return test::painted({60, 60}, [](int x, int y) {
        const double r = std::hypot(x + 0.5 - 30, y + 0.5 - 30),
                     a = std::clamp(22.5 - r, 0.0, 1.0) * std::clamp(r - 9.5, 0.0, 1.0);
        return test::rounded({255 - 235 * a, 255 - 225 * a, 255 - 205 * a});
    });
}

TEST(Key, ReachesWhatIsLinkedOrEverythingOrOnlyTheHole) {
    const Straight8 ring = ringOnWhite();
    const auto alpha = [&](const KeyCut& key, int x, int y) {
        return alphaOf(keyed(ring, key).row(y)[x]);
    };
    EXPECT_EQ(alpha({}, 2, 2), 0);
    EXPECT_EQ(alpha({}, 30, 30), 255) << "the hole does not touch the rim";
    EXPECT_EQ(alpha({}, 30, 14), 255);
    KeyCut key;
    key.everywhere = true;
    EXPECT_EQ(alpha(key, 30, 30), 0);
    key.everywhere = false;
    key.from = RealPoint{30, 30};
    EXPECT_EQ(alpha(key, 30, 30), 0);
    EXPECT_EQ(alpha(key, 2, 2), 255);
}

TEST(Key, StrokesBringBackAndTakeAwayAndTheRestStays) {
    const Straight8 ring = ringOnWhite();
    KeyCut key;
    const Straight8 plain = keyed(ring, key);
    key.strokes = {{true, 4, {{5, 5}, {12, 5}}}, {false, 3, {{30, 14}}}};
    const Straight8 brushed = keyed(ring, key);
    EXPECT_EQ(brushed.row(5)[8], ring.row(5)[8]) << "as it was";
    EXPECT_EQ(alphaOf(brushed.row(14)[30]), 0);
    for (int y = 20; y < 60; ++y)
        for (int x = 0; x < 60; ++x) ASSERT_EQ(brushed.row(y)[x], plain.row(y)[x]);
}

TEST(Key, AWindingStrokeCoversWhatItsPiecesCover) {
    // A spiral of 2,000 points: each pixel near enough to any piece of it comes back, no other
    // does.
    Stroke spiral{true, 1.5, {}};
    for (int i = 0; i < 2000; ++i) {
        const double a = i * 0.02, r = 2 + i * 0.013;
        spiral.points.push_back({30 + r * std::cos(a), 30 + r * std::sin(a)});
    }
    const Straight8 flat = test::painted({60, 60}, [](int x, int y) {
        return x == 0 && y == 59 ? packed(0, 0, 0, 255) : 0xFFFFFFFFu;
    });
    KeyCut key;
    key.strokes = {spiral};
    const Straight8 brushed = keyed(flat, key);
    for (int y = 0; y < 58; ++y)
        for (int x = 2; x < 60; ++x) {
            double least = 1e9;
            for (const RealPoint& p : spiral.points)
                least = std::min(least, std::hypot(p.x - x - 0.5, p.y - y - 0.5));
            if (least >= 0.95 && least <= 2.05) continue;  // the brush's own soft rim
            EXPECT_EQ(alphaOf(brushed.row(y)[x]), least < 1.5 ? 255 : 0) << x << ' ' << y;
        }
}

TEST(Key, ASoftShadowIsKeptSeeThroughOrDropped) {
    // Ink with a shadow of 40 % black, soft over 24 px, on a light ground.
    const Rgb ground{240, 236, 228};
    const auto shade = [](int x, int y) {
        return 0.4 * std::clamp(1 - (std::hypot(x + 0.5 - 78, y + 0.5 - 84) - 40) / 24, 0.0, 1.0);
    };
    const auto cover = [](int x, int y) {
        return std::clamp(36.5 - std::hypot(x + 0.5 - 70, y + 0.5 - 70), 0.0, 1.0);
    };
    const Straight8 picture = test::painted({160, 160}, [&](int x, int y) {
        const double s = 1 - shade(x, y), a = cover(x, y);
        return test::rounded({a * 200 + (1 - a) * ground[0] * s, a * 40 + (1 - a) * ground[1] * s,
                              a * 30 + (1 - a) * ground[2] * s});
    });
    KeyCut key;
    const Straight8 kept = keyed(picture, key);
    key.shadow = KeyShadow::drop;
    const Straight8 dropped = keyed(picture, key);
    double worst = 0;
    int count = 0;
    for (int y = 0; y < 160; ++y)
        for (int x = 0; x < 160; ++x) {
            if (cover(x, y) > 0 || shade(x, y) < 0.02) continue;
            bool beside = false;  // edge pixels of the ink are another matter
            for (int dy = -3; dy <= 3; ++dy)
                for (int dx = -3; dx <= 3; ++dx) beside |= cover(x + dx, y + dy) > 0;
            if (beside) continue;
            worst = std::max(worst, std::abs(alphaOf(kept.row(y)[x]) / 255.0 - shade(x, y)));
            EXPECT_EQ(alphaOf(dropped.row(y)[x]), 0) << x << ' ' << y;
            ++count;
        }
    ASSERT_GT(count, 3000);
    EXPECT_LE(worst, 0.02);
    EXPECT_EQ(alphaOf(kept.row(70)[70]), 255);
}

TEST(Key, FindsTheGridOfAJpegAlsoWhenItWasCropped) {
    const test::Scene scene = test::sceneOf({200, 30, 40});
    const Straight8 lossless = test::onto(scene, white);
    EXPECT_FALSE(blockGridOf(lossless, white));
    const Straight8 lossy = afterJpeg(lossless, Chroma::full);
    const auto grid = blockGridOf(lossy, white);
    ASSERT_TRUE(grid);
    EXPECT_EQ(grid->x, 0);
    EXPECT_EQ(grid->y, 0);
    const Straight8 cropped =
        test::painted({300, 250}, [&](int x, int y) { return lossy.row(y + 5)[x + 3]; });
    const auto moved = blockGridOf(cropped, white);
    ASSERT_TRUE(moved);
    EXPECT_EQ(moved->x, 5);
    EXPECT_EQ(moved->y, 3);
    EXPECT_FALSE(hasHalfChroma(lossy));
    EXPECT_TRUE(hasHalfChroma(afterJpeg(lossless, Chroma::half)));
}

// The steps of the coefficients tell, whatever stands beside the ink; a ground that clips hides
// them.
TEST(Key, KnowsBlocksByTheStepsOfTheirCoefficients) {
    const test::Scene scene = test::sceneOf({200, 30, 40});
    const Straight8 lossless = test::onto(scene, {180, 190, 200});
    EXPECT_EQ(wasCodedInBlocks(lossless), false);
    const Straight8 lossy = afterJpeg(lossless, Chroma::full);
    EXPECT_EQ(wasCodedInBlocks(lossy), true);
    const Straight8 cropped =
        test::painted({300, 250}, [&](int x, int y) { return lossy.row(y + 5)[x + 3]; });
    EXPECT_EQ(wasCodedInBlocks(cropped), false);
    EXPECT_EQ(wasCodedInBlocks(cropped, 5, 3), true);
    EXPECT_EQ(wasCodedInBlocks(Straight8::cleared({64, 64}, 0xFFFFFFFFu)), std::nullopt);
}

// A sheet of nearly the ground's colour inside a thin dark rim, with a crack of two pixels in it,
// lossless and as a JPEG.
TEST(Key, KeepsLightInkInsideAThinRim) {
    const auto sheet = [](int paper, bool crack) {
        return test::painted({160, 160}, [=](int x, int y) {
            const bool inside = x >= 40 && x < 120 && y >= 40 && y < 120,
                       rim = inside && (x < 42 || x >= 118 || y < 42 || y >= 118);
            if (!inside || (crack && rim && y < 42 && (x == 70 || x == 71)))
                return packed(255, 255, 255, 255);
            return rim ? packed(70, 70, 80, 255) : packed(paper, paper, paper, 255);
        });
    };
    for (const bool crack : {false, true})
        for (const int paper : {246, 255}) {
            const Straight8 drawn = sheet(paper, crack);
            EXPECT_EQ(alphaOf(keyed(drawn, {}).row(80)[80]), 255) << paper << crack;
            EXPECT_EQ(alphaOf(keyed(drawn, {}).row(20)[80]), 0) << paper << crack;
            const Straight8 cut = keyed(afterJpeg(drawn, Chroma::half), {});
            int kept = 0, left = 0;
            for (int y = 46; y < 114; ++y)
                for (int x = 46; x < 114; ++x) kept += alphaOf(cut.row(y)[x]) > 250;
            for (int y = 0; y < 34; ++y)
                for (int x = 0; x < 160; ++x) left += alphaOf(cut.row(y)[x]) > 4;
            EXPECT_GE(kept, 68 * 68 * 98 / 100) << paper << crack;
            EXPECT_EQ(left, 0) << paper << crack;
        }
}

// On paper with a grain of sigma 1.5 single pixels of light ink are within the noise; their mean is
// not. A frame 9 px wide is too narrow for its mean, and tells by its crisp edge.
TEST(Key, KeepsLightInkOnPaperWithAGrain) {
    std::mt19937 random(7);
    std::normal_distribution<double> grain(0, 1.5);
    const auto paper = [&](int x, int y) {
        const double drift = 4 * std::sin(2.5 * x / 200.0) + 4 * std::cos(2.0 * y / 200.0);
        const auto code = [&](int base) {
            return static_cast<int>(std::lround(base + drift + grain(random)));
        };
        return packed(code(238), code(236), code(228), 255);
    };
    const auto kept = [](const Straight8& cut, const PixelRect& where) {
        int sum = 0;
        for (int y = where.top; y < where.bottom; ++y)
            for (int x = where.left; x < where.right; ++x) sum += alphaOf(cut.row(y)[x]);
        return sum / 255.0 / static_cast<double>(where.size().count());
    };
    const PixelRect sheet{60, 60, 140, 140}, inside{69, 69, 131, 131};
    const Straight8 drawn = test::painted({200, 200}, [&](int x, int y) {
        return sheet.contains(x, y) ? packed(250, 248, 240, 255) : paper(x, y);
    });
    const Straight8 solid = keyed(drawn, {});
    EXPECT_GE(kept(solid, sheet), 0.9) << "but for a pixel along its rim";
    EXPECT_LE(kept(solid, {0, 0, 200, 56}), 0.001);
    const Straight8 bezel = test::painted({200, 200}, [&](int x, int y) {
        if (inside.contains(x, y)) return packed(30, 60, 90, 255);
        return sheet.contains(x, y) ? packed(222, 222, 222, 255) : paper(x, y);
    });
    const Straight8 framed = keyed(bezel, {});
    EXPECT_GE(kept(framed, sheet), 0.97);
    EXPECT_LE(kept(framed, {0, 0, 200, 56}), 0.001);
    // So much of nearly the ground's colour is asked about; whoever names the colour has answered,
    // and is told how much stays.
    ASSERT_TRUE(reportOf(bezel, {}).trouble);
    EXPECT_EQ(reportOf(bezel, {}).trouble->id, "key.left");
    KeyCut named;
    named.colour = Colour{238, 236, 228, 255};
    EXPECT_FALSE(reportOf(bezel, named).trouble);
    const auto notes = notesOf(reportOf(bezel, named), named);
    EXPECT_TRUE(std::ranges::any_of(notes, [](const Message& m) { return m.id == "key.near"; }));
}

// Ink that fills the frame but for one pixel, and a slit that was clicked: there is no room round
// such ground, and it goes all the same.
TEST(Key, TakesAMarginOfOnePixelAndTheSlitThatWasClicked) {
    const Straight8 tight = test::painted({60, 60}, [](int x, int y) {
        const bool margin = x == 0 || y == 0 || x == 59 || y == 59,
                   slit = x == 30 && y > 10 && y < 50;
        return margin || slit ? packed(255, 255, 255, 255) : packed(30, 60, 90, 255);
    });
    EXPECT_FALSE(reportOf(tight, {}).trouble);
    const Straight8 cut = keyed(tight, {});
    EXPECT_EQ(alphaOf(cut.row(0)[20]), 0);
    EXPECT_EQ(alphaOf(cut.row(30)[59]), 0);
    EXPECT_EQ(alphaOf(cut.row(30)[20]), 255);
    EXPECT_EQ(alphaOf(cut.row(30)[30]), 255) << "closed in";
    KeyCut clicked;
    clicked.from = RealPoint{30.5, 30.5};
    EXPECT_EQ(alphaOf(keyed(tight, clicked).row(30)[30]), 0);
    EXPECT_EQ(alphaOf(keyed(tight, clicked).row(0)[20]), 255) << "only what hangs together with it";
}

// A white band inside a black outline is closed in by ink: it is no noise that was left over.
TEST(Key, KeepsAWhiteBandInsideADarkOutline) {
    const Straight8 sign = test::painted({200, 200}, [](int x, int y) {
        const double r = std::hypot(x - 99.5, y - 99.5);
        if (r < 70) return packed(0, 70, 200, 255);
        if (r < 76) return packed(255, 255, 255, 255);
        return r < 84 ? packed(0, 0, 0, 255) : packed(255, 255, 255, 255);
    });
    const Straight8 cut = keyed(afterJpeg(sign, Chroma::half), {});
    int kept = 0, all = 0;
    for (int y = 0; y < 200; ++y)
        for (int x = 0; x < 200; ++x)
            if (const double r = std::hypot(x - 99.5, y - 99.5); r > 71 && r < 75) {
                ++all;
                kept += alphaOf(cut.row(y)[x]) > 250;
            }
    EXPECT_GE(kept, all * 97 / 100);
    EXPECT_EQ(alphaOf(cut.row(3)[3]), 0);
}

TEST(Key, SaysInOneSentenceWhyItCannotWork) {
    const auto flat = test::painted({40, 40}, [](int, int) { return packed(10, 200, 90, 255); });
    const auto trouble = [](const Straight8& picture, const KeyCut& key) {
        const auto why = reportOf(picture, key).trouble;
        return why ? english(*why) : std::string();
    };
    EXPECT_NE(trouble(flat, {}).find("Everything"), std::string::npos);
    KeyCut red;
    red.colour = Colour{255, 0, 0, 255};
    EXPECT_NE(trouble(flat, red).find("Nothing of this colour"), std::string::npos);
    EXPECT_NE(trouble(test::textured({80, 60}, 200), {}).find("of the border is of one colour"),
              std::string::npos);
    EXPECT_NE(trouble(Straight8::cleared({30, 30}), {}).find("see-through already"),
              std::string::npos);
    EXPECT_EQ(trouble(ringOnWhite(), {}), "");
}

TEST(Key, HandlesOddPictures) {
    EXPECT_EQ(keyed(Straight8::cleared({1, 1}, 0xFFFFFFFFu), {}).size(), (PixelSize{1, 1}));
    EXPECT_EQ(keyed(Straight8(), {}).size(), PixelSize{});
    for (int side = 2; side < 12; ++side) {
        const auto picture = test::painted({side, side + 1}, [&](int x, int y) {
            return x == side / 2 && y > 0 ? packed(0, 0, 0, 255) : 0xFFFFFFFFu;
        });
        EXPECT_EQ(keyed(picture, {}).size(), picture.size());
    }
    // Alpha that is there already is kept: never more than it was.
    const auto cut = test::painted({60, 60}, [](int x, int y) {
        const double r = std::hypot(x - 30, y - 30);
        return r < 20   ? packed(200, 10, 10, 255)
               : r < 24 ? packed(200, 10, 10, 120)
               : r < 28 ? 0xFFFFFFFFu
                        : 0u;
    });
    KeyCut key;
    key.colour = Colour{255, 255, 255, 255};
    const Straight8 again = keyed(cut, key);
    for (int y = 0; y < 60; ++y)
        for (int x = 0; x < 60; ++x) EXPECT_LE(alphaOf(again.row(y)[x]), alphaOf(cut.row(y)[x]));
    EXPECT_EQ(alphaOf(again.row(30)[30]), 255);
    EXPECT_EQ(alphaOf(again.row(30)[56]), 0) << "the white ring goes, linked to the clear rim";
}

// Shapes
// ------------------------------------------------------------

double areaOf(const Plane& plane) {
    double sum = 0;
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x) sum += static_cast<double>(plane.row(y)[x]);
    return sum;
}

Plane covered(const ShapeCut& shape, PixelSize size) {
    return coverageOf(outlineOf(shape, 1), size, 2);
}

// The exact area of a pixel inside an ellipse: the integral over its columns of the part between
// its rows, by Simpson's rule on 400 slices (error far below 1e-5).
double ellipseIn(const RealRect& box, int x, int y) {
    const double cx = box.centre().x, cy = box.centre().y, a = box.width / 2, b = box.height / 2;
    const auto slice = [&](double px) {
        const double u = (px - cx) / a;
        if (u * u >= 1) return 0.0;
        const double h = b * std::sqrt(1 - u * u);
        return std::max(0.0, std::min(cy + h, y + 1.0) - std::max(cy - h, static_cast<double>(y)));
    };
    constexpr int n = 400;
    double sum = 0;
    for (int i = 0; i < n; ++i)
        sum += (slice(x + static_cast<double>(i) / n) + 4 * slice(x + (i + 0.5) / n) +
                slice(x + (i + 1.0) / n)) /
               6;
    return sum / n;
}

TEST(Shape, CirclesAndEllipsesHaveExactCoverage) {
    for (const RealRect& box : {RealRect{10.3, 8.7, 120, 120}, RealRect{4, 5.5, 141.2, 60.4},
                                RealRect{70.2, 70.1, 3.3, 3.3}, RealRect{-30, 20, 90, 90}}) {
        ShapeCut shape;
        shape.box = box;
        const Plane plane = covered(shape, {150, 140});
        double worst = 0, truth = 0;
        for (int y = 0; y < 140; ++y)
            for (int x = 0; x < 150; ++x) {
                const double exact = ellipseIn(box, x, y);
                truth += exact;
                worst = std::max(worst, std::abs(exact - static_cast<double>(plane.row(y)[x])));
            }
        EXPECT_LE(worst * 255, 0.5) << box.x;
        EXPECT_NEAR(areaOf(plane), truth, truth * 0.0005);
    }
    ShapeCut circle;
    circle.box = {7.25, 9.5, 131, 131};
    EXPECT_NEAR(areaOf(covered(circle, {150, 150})), std::numbers::pi * 65.5 * 65.5,
                std::numbers::pi * 65.5 * 65.5 * 0.0005);
}

TEST(Shape, RoundedRectanglesAndPolygonsHaveTheirAreas) {
    ShapeCut rounded;
    rounded.shape = CutShape::rounded;
    rounded.box = {5.5, 6.25, 100, 70};
    rounded.radii = {10, 20, 0, 5.5};
    double corners = 0;
    for (const double r : rounded.radii) corners += (1 - std::numbers::pi / 4) * r * r;
    EXPECT_NEAR(areaOf(covered(rounded, {120, 90})), 100 * 70 - corners, 0.05);
    rounded.radiiAreShares = true;
    rounded.radii.fill(50);
    EXPECT_NEAR(areaOf(covered(rounded, {120, 90})), 30 * 70 + std::numbers::pi * 35 * 35, 0.1)
        << "a stadium";
    rounded.radiiAreShares = false;
    rounded.radii.fill(1000);
    EXPECT_NEAR(areaOf(covered(rounded, {120, 90})), 30 * 70 + std::numbers::pi * 35 * 35, 0.1)
        << "radii that do not fit shrink together";
    ShapeCut triangle;
    triangle.shape = CutShape::polygon;
    triangle.points = {{3.25, 4}, {60.5, 11}, {20, 55.75}};
    const double twice = (60.5 - 3.25) * (55.75 - 4) - (20 - 3.25) * (11 - 4);
    EXPECT_NEAR(areaOf(covered(triangle, {70, 60})), twice / 2, 1e-3);
    std::reverse(triangle.points.begin(), triangle.points.end());
    EXPECT_NEAR(areaOf(covered(triangle, {70, 60})), twice / 2, 1e-3) << "either way round";
}

// In a piece: exact at the size it is placed in, stacked, inverted, switched off, standing still.
struct ShapePiece {
    Kit kit;
    InkStore store;
    explicit ShapePiece(RealRect place = {0, 0, 200, 200}) {
        kit = test::withPicture(
            test::kitWith("free-frame", {200, 200}),
            test::painted({400, 400}, [](int, int) { return packed(10, 120, 200, 255); }), place);
    }
    void cut(std::vector<Cut> cuts) {
        Layer layer = kit.pieces[0].layers[0];
        layer.picture()->cuts = std::move(cuts);
        kit = good(withChangedLayer(kit, "p", layer));
    }
    double area() {
        const Straight8 frame = good(render({kit.pieces[0], kit}, store));
        double sum = 0;
        for (const std::uint32_t p : frame.pixels()) sum += alphaOf(p) / 255.0;
        return sum;
    }
};

TEST(Shape, IsCutAtTheSizeOfThePlaceAndFollowsTurns) {
    ShapePiece piece;
    ShapeCut circle;
    circle.box = {100, 100, 200, 200};  // of the original: 100 px wide in the frame
    piece.cut({{circle}});
    EXPECT_NEAR(piece.area(), std::numbers::pi * 50 * 50, 5);
    ShapeCut corner;
    corner.shape = CutShape::rounded;
    corner.box = {0, 0, 200, 400};
    piece.cut({{circle}, {corner}});
    EXPECT_NEAR(piece.area(), std::numbers::pi * 50 * 50 / 2, 5) << "cuts stack";
    Layer turnedLayer = piece.kit.pieces[0].layers[0];
    turnedLayer.turn.degrees = 90;
    piece.kit = good(withChangedLayer(piece.kit, "p", turnedLayer));
    const Straight8 frame = good(render({piece.kit.pieces[0], piece.kit}, piece.store));
    EXPECT_EQ(alphaOf(frame.row(60)[100]), 255) << "the left half is above after a quarter turn";
    EXPECT_EQ(alphaOf(frame.row(140)[100]), 0);
    turnedLayer.turn = {};
    piece.kit = good(withChangedLayer(piece.kit, "p", turnedLayer));
    circle.inverted = true;
    piece.cut({{circle}});
    EXPECT_NEAR(piece.area(), 200 * 200 - std::numbers::pi * 50 * 50, 5);
    piece.cut({{circle, true}});
    EXPECT_NEAR(piece.area(), 200 * 200, 1e-9) << "off";
}

TEST(Shape, StandsStillWhileThePictureMovesAndScalesInside) {
    ShapeCut circle;
    circle.box = {100, 100, 200, 200};
    circle.feather = 8;
    PictureLayer before{"x", {0, 0, 400, 400}, {0, 0, 200, 200}};
    before.cuts = {{circle}};
    PictureLayer after = before;
    after.place = {-30, 12, 300, 300};
    const PictureLayer stood = withShapesStanding(before, after);
    const ShapeCut& now = *stood.cuts[0].shape();
    const RealPoint corner = inFrame(stood, {now.box.x, now.box.y}),
                    other = inFrame(stood, {now.box.right(), now.box.bottom()});
    EXPECT_NEAR(corner.x, 50, 1e-9);
    EXPECT_NEAR(corner.y, 50, 1e-9);
    EXPECT_NEAR(other.x, 150, 1e-9);
    EXPECT_NEAR(other.y, 150, 1e-9);
    EXPECT_NEAR(now.feather * 300 / 400, circle.feather * 200 / 400, 1e-9)
        << "as soft as before in the frame";
}

TEST(CutValues, ComeBackFromTheKitFileAndBadOnesAreRefused) {
    KeyCut key{Colour{1, 2, 3, 255},
               7.5,
               true,
               RealPoint{4, 5},
               KeyShadow::drop,
               {{false, 3.5, {{1, 2}, {3, 4}}}}};
    ShapeCut rounded;
    rounded.shape = CutShape::rounded;
    rounded.box = {1, 2, 30, 40};
    rounded.radii = {1, 2, 3, 4};
    rounded.feather = 2;
    rounded.inverted = true;
    ShapeCut polygon;
    polygon.shape = CutShape::polygon;
    polygon.points = {{0, 0}, {10, 1}, {4, 9}};
    Layer layer;
    layer.id = 1;
    layer.name = "Mark";
    layer.what = PictureLayer{std::string(64, 'a'), {0, 0, 4, 4}, {0, 0, 4, 4}};
    layer.picture()->cuts = {
        {key}, {rounded, true}, {polygon}, {CleanCut{Cleaning::pinholes, 2.5}}};
    EXPECT_EQ(good(layerFrom(Json::parse(jsonOf(layer).dump()), "kit.json")), layer);

    const auto refused = [](const auto& what) { return !checkCut({what}).has_value(); };
    key.tolerance = 101;
    EXPECT_TRUE(refused(key));
    key.tolerance = std::nan("");
    EXPECT_TRUE(refused(key));
    rounded.box.width = 0;
    EXPECT_TRUE(refused(rounded));
    polygon.points.pop_back();
    EXPECT_TRUE(refused(polygon));
    EXPECT_TRUE(refused(CleanCut{Cleaning::haze, 0}));
    auto json = Json::parse(jsonOf(layer).dump());
    json["cuts"][2].erase("points");
    const auto broken = layerFrom(json, "kit.json");
    ASSERT_FALSE(broken);
    EXPECT_NE(broken.error().what.find("polygon"), std::string::npos);
}

}  // namespace
}  // namespace zl
