// SPDX-License-Identifier: GPL-3.0-or-later
// What the edge readings say of made cut-outs whose faults are known, and what the cleanings do to
// them.
#include <fmt/core.h>

#include "colour/colour.h"
#include "cut/clean.h"
#include "cut/cut.h"
#include "cut/edge_scan.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "readings/edge_facts.h"
#include "render/render.h"
#include "support/scenes.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;
using test::one;
using test::Rgb;

// How deep inside the contour each pixel's centre lies, up to 7 px.
std::vector<double> depthsOf(const test::Scene& scene) {
    std::vector<double> depth(scene.alpha.size(), 7);
    for (int y = 0; y < scene.size.height; ++y)
        for (int x = 0; x < scene.size.width; ++x) {
            if (scene.alpha[scene.at(x, y)] < 0.5) depth[scene.at(x, y)] = 0;
            for (int dy = -6; dy <= 6; ++dy)
                for (int dx = -6; dx <= 6; ++dx) {
                    const int sx = std::clamp(x + dx, 0, scene.size.width - 1),
                              sy = std::clamp(y + dy, 0, scene.size.height - 1);
                    if (scene.alpha[scene.at(sx, sy)] < 0.5)
                        depth[scene.at(x, y)] = std::min(depth[scene.at(x, y)], std::hypot(dx, dy));
                }
        }
    return depth;
}

struct Case {
    Rgb ink, matte, border{};
    double strength = 0, borderWidth = 0;
    bool soft = false, hard = false, textured = false;
};

double lightness(const Rgb& c) {
    return labOf(c[0], c[1], c[2]).l;
}

Straight8 cutOutOf(const test::Scene& base, const std::vector<double>& depth, const Case& c) {
    return test::painted(base.size, [&](int x, int y) {
        double a = base.alpha[base.at(x, y)];
        if (c.soft) {  // a narrow blur of the coverage, as a camera or a scaled-up logo has it
            double sum = 0, weight = 0;
            for (int dy = -2; dy <= 2; ++dy)
                for (int dx = -2; dx <= 2; ++dx) {
                    const double w = std::exp(-(dx * dx + dy * dy) / (2 * 0.7 * 0.7));
                    sum += w * base.alpha[base.at(std::clamp(x + dx, 0, base.size.width - 1),
                                                  std::clamp(y + dy, 0, base.size.height - 1))];
                    weight += w;
                }
            a = sum / weight;
        }
        Rgb f = c.ink;
        if (c.borderWidth > 0 && depth[base.at(x, y)] < c.borderWidth) f = c.border;
        if (c.textured) {
            const std::uint32_t n = (static_cast<std::uint32_t>(x / 2) * 2654435761u) ^
                                    (static_cast<std::uint32_t>(y / 2) * 2246822519u);
            const double grain =
                static_cast<double>((n ^ n >> 13) * 1274126177u >> 24) / 255 * 70 - 35;
            for (double& v : f) v = std::clamp(v + grain, 0.0, 255.0);
        }
        if (c.hard) {  // a threshold on the flat ground keeps mixed pixels as solid ones
            if (a < 0.12) return 0u;
            const double k = c.strength;
            return test::rounded({f[0] * (1 - k * (1 - a)) + c.matte[0] * k * (1 - a),
                                  f[1] * (1 - k * (1 - a)) + c.matte[1] * k * (1 - a),
                                  f[2] * (1 - k * (1 - a)) + c.matte[2] * k * (1 - a)});
        }
        const int alpha = static_cast<int>(std::lround(255 * a));
        if (alpha == 0) return 0u;
        const double k = c.strength * (1 - a);
        return test::rounded({f[0] * (1 - k) + c.matte[0] * k, f[1] * (1 - k) + c.matte[1] * k,
                              f[2] * (1 - k) + c.matte[2] * k},
                             alpha);
    });
}

Fringe fringeIn(const Straight8& ink) {
    return fringeOf(ink, edgePixelsOf(ink, 2));
}

const test::Scene& scene() {
    static const test::Scene made = test::sceneOf({0, 0, 0}, 0);
    return made;
}
const std::vector<double>& depths() {
    static const std::vector<double> made = depthsOf(scene());
    return made;
}

const std::vector<Rgb> inks{{28, 52, 84}, {232, 226, 210}, {190, 40, 46}};
const std::vector<Rgb> mattes{{255, 255, 255}, {0, 0, 0},     {0, 177, 64},
                              {30, 60, 220},   {230, 20, 30}, {255, 220, 0}};

TEST(Fringe, TellsCleanFromContaminatedOverMoreThanTwoHundredCases) {
    int cases = 0, falseAlarms = 0, missed = 0;
    for (const Rgb& ink : inks)
        for (const Rgb& matte : mattes)
            for (const double strength : {0.0, 0.2, 0.4, 0.7, 1.0})
                for (const double border : {0.0, 3.0})
                    for (const int shape : {0, 1, 2}) {
                        Case c{ink,
                               matte,
                               lightness(ink) > 50 ? Rgb{20, 24, 30} : Rgb{240, 236, 228},
                               strength,
                               border,
                               shape == 1,
                               shape == 2};
                        if (strength == 0 && &matte != &mattes.front())
                            continue;  // no matte, no colour of it
                        const Fringe fringe = fringeIn(cutOutOf(scene(), depths(), c));
                        const Rgb& edge = border > 0 ? c.border : ink;
                        const double contrast =
                            std::max({std::abs(edge[0] - matte[0]), std::abs(edge[1] - matte[1]),
                                      std::abs(edge[2] - matte[2])});
                        const bool grey = matte == mattes[0] || matte == mattes[1];
                        SCOPED_TRACE(fmt::format(
                            "ink {} matte {} {} {} strength {} border {} shape {}: {:.1f}, {}",
                            ink[0], matte[0], matte[1], matte[2], strength, border, shape,
                            fringe.damage, fringe.told));
                        ++cases;
                        if (strength == 0) {
                            EXPECT_LE(fringe.damage, thresholds::fringeWatch)
                                << "no clean one fails";
                            falseAlarms += fringe.damage > thresholds::fringePass;
                        } else if (grey && strength >= 0.4 && contrast >= 90) {
                            EXPECT_GT(fringe.damage, thresholds::fringePass)
                                << "none of these passes";
                            missed += fringe.damage <= thresholds::fringePass;
                            if (shape != 2) {
                                EXPECT_EQ(colourWords(fringe.matte),
                                          matte[0] > 128 ? "white" : "black");
                                EXPECT_NEAR(fringe.strength, strength, 0.15);
                            }
                        }
                    }
    EXPECT_GT(cases, 200);
    EXPECT_EQ(falseAlarms, 0);
    EXPECT_EQ(missed, 0);
}

TEST(Fringe, DesignedBordersAndTextureAreNoMatte) {
    for (const Rgb& ink : inks)
        for (const double border : {0.0, 2.0, 3.0, 4.0, 5.0})
            for (const bool soft : {false, true})
                for (const bool hard : {false, true}) {
                    if (soft && hard) continue;
                    for (const bool textured : {false, true}) {
                        const Case c{ink,  {255, 255, 255}, {255, 255, 255}, 0, border, soft,
                                     hard, textured};
                        SCOPED_TRACE(fmt::format("ink {} border {} soft {} hard {} textured {}",
                                                 ink[0], border, soft, hard, textured));
                        EXPECT_LE(fringeIn(cutOutOf(scene(), depths(), c)).damage,
                                  thresholds::fringeWatch);
                    }
                }
}

// Slanted bar with or without anti-aliasing, 200 x 200.
Straight8 slantedBar(bool smooth, double degrees = 24) {
    const double c = std::cos(degrees * 3.14159265358979 / 180),
                 s = std::sin(degrees * 3.14159265358979 / 180);
    return test::painted({200, 200}, [&](int x, int y) {
        const int n = smooth ? 8 : 1;
        int inside = 0;
        for (int j = 0; j < n; ++j)
            for (int i = 0; i < n; ++i) {
                const double px = x + (i + 0.5) / n - 100, py = y + (j + 0.5) / n - 100;
                inside += std::abs(c * px + s * py) < 80 && std::abs(-s * px + c * py) < 26;
            }
        const int alpha = 255 * inside / (n * n);
        return alpha == 0 ? 0u : packed(200, 60, 40, alpha);
    });
}

Steps stepsIn(const Straight8& ink) {
    return stepsOf(ink, edgePixelsOf(ink));
}

TEST(Steps, ASmoothSlantIsNotSteppedAndAThresholdedOneIs) {
    for (const double degrees : {10.0, 24.0, 45.0, 70.0}) {
        SCOPED_TRACE(degrees);
        EXPECT_GE(stepsIn(slantedBar(true, degrees)).judged, thresholds::stepsLeast);
        EXPECT_LE(stepsIn(slantedBar(true, degrees)).share(), 0.01);
        EXPECT_GE(stepsIn(slantedBar(false, degrees)).share(), 0.95);
    }
}

TEST(Steps, UprightBarsAndTheirCornersDoNotCount) {
    const Straight8 bars = test::painted({120, 90}, [](int x, int y) {
        return (x % 30 > 6 && x % 30 < 20 && y > 10 && y < 80) ? packed(10, 20, 30, 255) : 0u;
    });
    EXPECT_EQ(stepsIn(bars).judged, 0);
}

TEST(Steps, SofteningFollowsTheTrueContour) {
    const Straight8 smooth = slantedBar(true),
                    mended = cleaned(slantedBar(false), {Cleaning::steps, 1});
    EXPECT_LE(stepsIn(mended).share(), thresholds::stepsPass);
    // Along the slants, corners aside, its alpha is that of exact coverage.
    double sum = 0;
    int count = 0;
    for (const Spot& s : edgePixelsOf(smooth).boundary) {
        if (!contourAt(smooth, s, 25).found) continue;
        sum += std::abs(alphaOf(mended.row(s.y)[s.x]) - alphaOf(smooth.row(s.y)[s.x]));
        ++count;
    }
    ASSERT_GT(count, 100);
    EXPECT_LE(sum / count, 12) << "of 255; a threshold is off by a quarter of the whole";
}

// A disc with alpha, and things beside it.
Straight8 discAnd(const std::function<std::uint32_t(int, int, std::uint32_t)>& change) {
    return test::painted({200, 160}, [&](int x, int y) {
        const double inside = std::clamp(50.5 - std::hypot(x + 0.5 - 80, y + 0.5 - 80), 0.0, 1.0);
        const std::uint32_t p =
            inside > 0 ? packed(40, 90, 140, static_cast<int>(std::lround(255 * inside))) : 0u;
        return change(x, y, p);
    });
}

TEST(Specks, FindsDirtAndPinholesAndLeavesDotsAlone) {
    const auto at = [](int x, int y, int l, int t, int w, int h) {
        return x >= l && x < l + w && y >= t && y < t + h;
    };
    const Straight8 dirty = discAnd([&](int x, int y, std::uint32_t p) {
        if (at(x, y, 170, 20, 3, 3)) return packed(90, 90, 90, 200);   // a speck, far away
        if (at(x, y, 136, 78, 3, 3)) return packed(40, 90, 140, 255);  // as near as a full stop
        if (at(x, y, 70, 70, 2, 2)) return 0u;                         // a pinhole
        if (at(x, y, 95, 90, 5, 5)) return 0u;  // the inside of a small letter
        return p;
    });
    const Dirt dirt = dirtOf(dirty);
    ASSERT_EQ(dirt.specks.size(), 1u);
    EXPECT_EQ(dirt.specks.front().box, (PixelRect{170, 20, 173, 23}));
    ASSERT_EQ(dirt.pinholes.size(), 1u);
    EXPECT_EQ(dirt.pinholes.front().pixels.size(), 4u);
    EXPECT_TRUE(dirt.haze.empty());
    Straight8 clean = cleaned(cleaned(dirty, {Cleaning::specks, 1}), {Cleaning::pinholes, 1});
    EXPECT_TRUE(dirtOf(clean).specks.empty());
    EXPECT_TRUE(dirtOf(clean).pinholes.empty());
    int changed = 0;
    for (int y = 0; y < 160; ++y)
        for (int x = 0; x < 200; ++x) changed += clean.row(y)[x] != dirty.row(y)[x];
    EXPECT_EQ(changed, 9 + 4) << "the rest of the picture is unchanged";
}

TEST(Specks, HazeIsRoughAndASoftShadowIsNot) {
    const Straight8 hazy = discAnd([](int x, int y, std::uint32_t p) {
        const std::uint32_t n = (static_cast<std::uint32_t>(x) * 2654435761u) ^
                                (static_cast<std::uint32_t>(y) * 2246822519u);
        return p == 0 && x > 140
                   ? packed(120, 120, 120, static_cast<int>((n ^ n >> 13) * 1274126177u >> 29))
                   : p;
    });
    EXPECT_GT(dirtOf(hazy).hazeShare, 0.01);
    EXPECT_EQ(dirtOf(cleaned(hazy, {Cleaning::haze, 1})).hazeShare, 0);
    const Straight8 shaded = discAnd([](int x, int y, std::uint32_t p) {
        const double far = std::hypot(x - 90, y - 90) - 40;
        return p >> 24 == 0
                   ? packed(
                         0, 0, 0,
                         static_cast<int>(std::clamp(90.0 - 2.2 * std::max(0.0, far), 0.0, 90.0)))
                   : p;
    });
    EXPECT_EQ(dirtOf(shaded).hazeShare, 0);
}

TEST(HiddenColour, FindsForeignColourUnderTheEdgeAndReleasesHaveNone) {
    // What is left of a photograph that was erased.
    const Straight8 foreign = discAnd([](int x, int y, std::uint32_t p) {
        return p == 0 ? packed(200 + x * 7 % 50, 180 + y * 11 % 60, 150 + (x + y) * 5 % 90, 0) : p;
    });
    for (const std::uint32_t flat : {0u, 0x00FFFFFFu})
        EXPECT_EQ(one(good(readPictureFile(test::png(discAnd([&](int, int, std::uint32_t p) {
                                               return p == 0 ? flat : p;
                                           })),
                                           "a.png", test::brief("corner-mark")))
                          .readings,
                      "hidden-colour")
                      .verdict,
                  Verdict::pass)
            << "one flat colour is what drawing programs leave";
    const HiddenColour hidden = hiddenColourOf(foreign);
    EXPECT_GT(hidden.judged, 500);
    EXPECT_GT(hidden.far, hidden.judged * 9 / 10);
    EXPECT_FALSE(hidden.flat);
    const Reading reading =
        one(good(readPictureFile(test::png(foreign), "a.png", test::brief("corner-mark"))).readings,
            "hidden-colour");
    EXPECT_EQ(reading.verdict, Verdict::watch);
    EXPECT_EQ(reading.mends, std::vector<std::string>{"bleed-colour"});
    const auto mendedBytes =
        good(mendedFile("bleed-colour", test::png(foreign), "a.png", test::brief("corner-mark")));
    EXPECT_EQ(
        one(good(readPictureFile(mendedBytes.bytes, "a.png", test::brief("corner-mark"))).readings,
            "hidden-colour")
            .verdict,
        Verdict::pass);
}

TEST(Coverage, AsksForSomethingSeeThroughAndSomethingSeen) {
    const auto verdict = [](const Straight8& p) {
        return one(good(readPictureFile(test::png(p), "a.png", test::brief("corner-mark")))
                       .readings,
                   "coverage")
            .verdict;
    };
    EXPECT_EQ(verdict(discAnd([](int, int, std::uint32_t p) { return p; })), Verdict::pass);
    EXPECT_EQ(verdict(discAnd([](int, int, std::uint32_t p) { return p | 0xFF000000u; })),
              Verdict::fail);
    EXPECT_EQ(verdict(discAnd([](int x, int y, std::uint32_t p) {
                  return x == 0 && y == 0 ? 0u : p | 0xFF000000u;
              })),
              Verdict::fail)
        << "one see-through pixel is as good as none";
    EXPECT_EQ(verdict(discAnd([](int, int, std::uint32_t) { return 0u; })), Verdict::fail)
        << "nothing to see";
}

// Lettering with a shadow, a glow and a see-through bar under it, flattened to one picture: nothing
// in it is dirt.
TEST(Edges, LetteringShadowsGlowsAndBarsAreNoFaults) {
    Kit kit = test::kitWith("stream-overlay", {960, 540});
    Layer bar;
    bar.name = "Bar";
    BarLayer shape;
    shape.shape = BarShape::rounded;
    shape.place = {60, 80, 820, 200};
    shape.colour = {18, 48, 58, 150};
    bar.what = shape;
    kit = good(withLayer(kit, "p", bar));
    kit = test::withLetters(kit, "Signals, points: i.j.", 80, {90, 100});
    kit = test::withLetters(kit, "small print; eaeg 8%&", 22, {90, 220});
    kit = test::withLetters(kit, "with a glow", 60, {90, 330});
    Piece piece = kit.pieces.front();
    piece.layers[1].finishes = {makeFinish("shadow")};
    piece.layers[3].finishes = {makeFinish("glow"), outlineOf(3, {16, 21, 28, 255})};
    kit = good(withChangedPiece(kit, piece));
    InkStore store;
    const Straight8 frame = good(releaseFrame({kit.pieces.front(), kit}, store));
    const auto readings =
        good(readPictureFile(test::png(frame), "overlay.png", test::brief("stream-overlay")))
            .readings;
    for (const char* id : {"fringe", "steps", "specks", "hidden-colour", "coverage"}) {
        const Reading reading = one(readings, id);
        EXPECT_LE(reading.verdict, Verdict::pass) << id << ": " << english(reading.says);
    }
}

TEST(Fringe, TakingItOffMakesTheReadingPassAndKeepsTheAlpha) {
    for (const bool hard : {false, true})
        for (const Rgb& ink : inks) {
            SCOPED_TRACE(fmt::format("ink {} hard {}", ink[0], hard));
            const Rgb matte = lightness(ink) > 60 ? Rgb{0, 0, 0} : Rgb{255, 255, 255};
            const Straight8 stained =
                cutOutOf(scene(), depths(), {ink, matte, {}, hard ? 1.0 : 0.7, 0, false, hard});
            ASSERT_GT(fringeIn(stained).damage, thresholds::fringeWatch);
            const Straight8 clean = cleaned(stained, {Cleaning::fringe, 1}, 2);
            EXPECT_LE(fringeIn(clean).damage, thresholds::fringePass);
            int off = 0;
            double alpha = 0, colour = 0;
            for (int y = 0; y < clean.height(); ++y)
                for (int x = 0; x < clean.width(); ++x) {
                    const std::uint32_t p = clean.row(y)[x];
                    if (!hard) off += alphaOf(p) != alphaOf(stained.row(y)[x]);
                    const double truth = scene().alpha[scene().at(x, y)];
                    if (truth <= 0 || truth >= 1) continue;
                    alpha += std::abs(alphaOf(p) / 255.0 - truth);
                    if (alphaOf(p) > 40) colour = std::max(colour, std::abs(redOf(p) - ink[0]));
                }
            EXPECT_EQ(off, 0) << "a soft edge keeps its alpha";
            EXPECT_LE(colour, 10) << "every edge pixel has the ink's colour again";
            if (hard) {
                EXPECT_LE(stepsIn(clean).share(), stepsIn(stained).share());
            }
        }
}

TEST(Fringe, TakingItOffLeavesACleanEdgeAlone) {
    const Straight8 clean =
        cutOutOf(scene(), depths(), {{190, 40, 46}, {255, 255, 255}, {}, 0, 0, false, false, true});
    const Straight8 after = cleaned(clean, {Cleaning::fringe, 1}, 2);
    EXPECT_TRUE(std::equal(clean.pixels().begin(), clean.pixels().end(), after.pixels().begin()));
}

TEST(Fringe, ColourMultipliedByAlphaIsToldAndPutRight) {
    const Straight8 straight = cutOutOf(scene(), depths(), {{220, 190, 120}, {0, 0, 0}});
    const Straight8 multiplied = test::painted(straight.size(), [&](int x, int y) {
        const std::uint32_t p = straight.row(y)[x];
        const int a = alphaOf(p);
        return packed(redOf(p) * a / 255, greenOf(p) * a / 255, blueOf(p) * a / 255, a);
    });
    const Reading reading = one(
        good(readPictureFile(test::png(multiplied), "a.png", test::brief("free-frame"))).readings,
        "fringe");
    EXPECT_EQ(reading.verdict, Verdict::fail);
    EXPECT_EQ(reading.mends, std::vector<std::string>{"to-straight"});
    const auto mended =
        good(mendedFile("to-straight", test::png(multiplied), "a.png", test::brief("free-frame")));
    EXPECT_EQ(one(good(readPictureFile(mended.bytes, "a.png", test::brief("free-frame"))).readings,
                  "fringe")
                  .verdict,
              Verdict::pass);
}

TEST(Edges, EveryMendOfAPieceIsACutThatCanBeSwitchedOff) {
    // A stained, stepped mark with a speck, in a piece of its own.
    Straight8 mark = cutOutOf(scene(), depths(), {{28, 52, 84}, {255, 255, 255}, {}, 0.8, 0});
    for (int y = 4; y < 7; ++y)
        for (int x = 160; x < 163; ++x) mark.row(y)[x] = packed(90, 90, 90, 255);
    const Kit kit = test::withPicture(test::kitWith("free-frame", {320, 272}), mark,
                                      {0, 0, 320, 272}, "mark.png");
    InkStore store;
    const auto reading = [&](const Kit& k, const char* id) {
        return one(good(readPiece({k.pieces[0], k}, test::brief("free-frame"), store,
                                  Weighing::quickBound))
                       .readings,
                   id);
    };
    for (const auto& [id, mend] :
         {std::pair{"fringe", "take-fringe-off"}, std::pair{"specks", "remove-specks"}}) {
        SCOPED_TRACE(mend);
        EXPECT_GE(reading(kit, id).verdict, Verdict::watch);
        Kit after = good(mended(mend, kit, "p", test::brief("free-frame"), store));
        EXPECT_EQ(reading(after, id).verdict, Verdict::pass);
        Piece piece = after.pieces[0];
        ASSERT_EQ(piece.layers[0].picture()->cuts.size(), 1u);
        piece.layers[0].picture()->cuts[0].off = true;
        after = good(withChangedPiece(after, piece));
        EXPECT_EQ(reading(after, id).verdict, reading(kit, id).verdict) << "off, it is as it was";
    }
    EXPECT_FALSE(mended("soften-steps", kit, "p", test::brief("free-frame"), store))
        << "nothing is stepped";
}

}  // namespace
}  // namespace zl
