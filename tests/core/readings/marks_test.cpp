// SPDX-License-Identifier: GPL-3.0-or-later
// The readings of what stands free (standing-out, cut-off, margins, colours) and their mends,
// against shapes worked out by hand.
#include <cmath>

#include "measure/measure.h"
#include "mend/mend.h"
#include "raster/ink_box.h"
#include "readings/standing.h"
#include "support/support.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;
using test::one;

const std::uint32_t white = 0xFFFFFFFFu, red = packed(200, 20, 30, 255);

Straight8 mark(const std::function<std::uint32_t(int, int)>& pixel) {
    return test::painted({150, 150}, pixel);
}
Straight8 block(PixelRect ink, std::uint32_t colour = red) {
    return mark([=](int x, int y) {
        return x >= ink.left && x < ink.right && y >= ink.top && y < ink.bottom ? colour : 0u;
    });
}
Straight8 redDisc(double radius, std::uint32_t colour = red) {
    return mark([=](int x, int y) {
        return std::hypot(x + 0.5 - 75, y + 0.5 - 75) <= radius ? colour : 0u;
    });
}

Reading ofFile(const std::string& id, const Straight8& picture,
               const std::string& brief = "corner-mark") {
    return one(good(readPictureFile(test::png(picture), "mark.png", test::brief(brief))).readings,
               id);
}

// A piece with the picture as its only layer.
Kit kitOf(const Straight8& picture, RealRect place = {0, 0, 150, 150}) {
    return test::withPicture(test::kitWith("corner-mark", {150, 150}), picture, place, "mark.png");
}
Reading ofPiece(const std::string& id, const Kit& kit) {
    InkStore store;
    return one(good(readPiece({kit.pieces[0], kit}, test::brief("corner-mark"), store,
                              Weighing::quickBound))
                   .readings,
               id);
}
Kit after(const std::string& mend, const Kit& kit) {
    InkStore store;
    return good(mended(mend, kit, "p", test::brief("corner-mark"), store));
}

TEST(CutOff, ADiscThatTouchesIsNotCutAndOneThatIsCutIs) {
    EXPECT_EQ(ofFile("cut-off", redDisc(75)).verdict, Verdict::pass);
    EXPECT_EQ(ofFile("cut-off", redDisc(60)).verdict, Verdict::pass);
    const Reading cut = ofFile("cut-off", redDisc(85));
    EXPECT_EQ(cut.verdict, Verdict::fail);
    // At the border a disc of 85 px about the middle is 2 sqrt(85^2 - 74.5^2) = 81.8 px wide; on
    // four sides.
    EXPECT_NEAR(std::get<double>(cut.value), 4 * 81.8, 4);
    EXPECT_EQ(cut.findings.size(), 4u);
    EXPECT_TRUE(cut.mends.empty()) << "what a file has lost is lost";
}

TEST(CutOff, ABarFromSideToSideIsAWatch) {
    const Reading bar = ofFile("cut-off", block({0, 60, 150, 150}));
    EXPECT_EQ(bar.verdict, Verdict::fail) << "left and right it is cut along 90 px";
    const Reading whole = ofFile("cut-off", block({0, 0, 150, 150}));
    EXPECT_EQ(whole.verdict, Verdict::watch);
    EXPECT_EQ(std::get<double>(whole.value), 600);
}

TEST(CutOff, MakeRoomBringsAllInkInside) {
    const Kit kit = kitOf(redDisc(75), {-20, -10, 190, 190});
    ASSERT_EQ(ofPiece("cut-off", kit).verdict, Verdict::fail);
    EXPECT_EQ(ofPiece("cut-off", kit).mends, std::vector<std::string>{"make-room"});
    const Kit roomy = after("make-room", kit);
    EXPECT_EQ(ofPiece("cut-off", roomy).verdict, Verdict::pass);
    EXPECT_EQ(ofPiece("margins", roomy).verdict, Verdict::pass) << "and stands in the middle";
    InkStore store;
    const PixelRect ink = good(inkBounds({roomy.pieces[0], roomy}, store));
    EXPECT_GE(ink.left, 0);
    EXPECT_LE(ink.right, 150);
    EXPECT_GT(ink.width(), 140) << "no smaller than it has to be";
}

TEST(Margins, AreCountedOnEachSide) {
    const Reading good = ofFile("margins", block({20, 15, 130, 135}));
    EXPECT_EQ(good.verdict, Verdict::pass);
    EXPECT_EQ(english(good.says),
              "Empty margins of 20, 15, 20 and 15 px: left, top, right, bottom.");
    // 3 px to the right and 4 down: 5 px off the centre.
    const Reading off = ofFile("margins", block({23, 19, 133, 139}));
    EXPECT_EQ(off.verdict, Verdict::watch);
    EXPECT_DOUBLE_EQ(std::get<double>(off.value), 5);
    EXPECT_EQ(off.mends, std::vector<std::string>{"centre"});
    // 38 of 150 px are 25.3 %.
    const Reading rimmed = ofFile("margins", block({38, 14, 112, 136}));
    EXPECT_EQ(rimmed.verdict, Verdict::watch);
    EXPECT_EQ(rimmed.findings.size(), 2u);
    EXPECT_EQ(ofFile("margins", block({37, 14, 113, 136})).verdict, Verdict::pass);
    EXPECT_EQ(ofFile("margins", block({100, 30, 290, 70}), "button-mark").mends.size(), 1u)
        << "a button mark need not be centred";
    EXPECT_EQ(ofFile("margins", block({0, 0, 0, 0})).verdict, Verdict::notMeasured);
}

TEST(Margins, TrimAndCentrePassAfterwards) {
    const Kit small = kitOf(block({60, 62, 100, 100}));
    EXPECT_EQ(ofPiece("margins", after("trim", small)).verdict, Verdict::pass);
    EXPECT_EQ(ofPiece("cut-off", after("trim", small)).verdict, Verdict::pass);
    const Kit off = kitOf(block({10, 10, 120, 110}));
    const Kit centred = after("centre", off);
    EXPECT_EQ(ofPiece("margins", centred).verdict, Verdict::pass);
    EXPECT_EQ(centred.pieces[0].layers[0].picture()->place, (RealRect{10, 15, 150, 150}))
        << "whole px, nothing else";
    const auto file = good(mendedFile("centre", test::png(block({10, 10, 120, 110})), "mark.png",
                                      test::brief("corner-mark")));
    EXPECT_EQ(inkBoxOf(*good(decode(file.bytes, "x")).pixels, 8), (PixelRect{20, 25, 130, 125}));
    EXPECT_FALSE(mended("trim", test::kitWith("corner-mark", {150, 150}), "p",
                        test::brief("corner-mark"), *std::make_unique<InkStore>()));
}

TEST(Colours, CountPlainInksAndNoMixtures) {
    const auto count = [](const Straight8& p) {
        return std::get<double>(ofFile("colours", p).value);
    };
    const auto striped = [](int columns) {
        return mark([=](int x, int) { return x < columns ? red : white; });
    };
    EXPECT_EQ(count(striped(100)), 2);
    EXPECT_EQ(count(striped(148)), 1) << "two columns are a detail";
    // A white disc with a black rim, the edges mixed over a pixel and a half: two inks.
    const auto mixed = [](double r, double at) { return std::clamp(at - r + 0.5, 0.0, 1.0); };
    const Straight8 rimmed = mark([&](int x, int y) {
        const double r = std::hypot(x + 0.5 - 75, y + 0.5 - 75);
        const int v = static_cast<int>(std::lround(255 * mixed(r, 50)));
        return packed(v, v, v, static_cast<int>(std::lround(255 * mixed(r, 60))));
    });
    EXPECT_EQ(count(rimmed), 2);
    const Straight8 three = mark([&](int x, int y) {
        const double r = std::hypot(x + 0.5 - 75, y + 0.5 - 75), c = mixed(r, 30), m = mixed(r, 50);
        const auto v = [&](double inner, double middle, double outer) {
            return static_cast<int>(
                std::lround(c * inner + (1 - c) * (m * middle + (1 - m) * outer)));
        };
        return packed(v(240, 30, 10), v(200, 90, 140), v(20, 180, 60),
                      static_cast<int>(std::lround(255 * mixed(r, 65))));
    });
    EXPECT_EQ(count(three), 3);
    EXPECT_EQ(ofFile("colours", three).verdict, Verdict::pass);
    const Reading many = ofFile(
        "colours", mark([](int x, int) { return packed(x / 30 * 60, 0, 255 - x / 30 * 60, 255); }));
    EXPECT_EQ(std::get<double>(many.value), 5);
    EXPECT_EQ(many.verdict, Verdict::watch);
    EXPECT_EQ(count(mark([](int x, int) { return packed(x, x, 255 - x / 2, 255); })), 1)
        << "shades that run into each other";
    EXPECT_EQ(ofFile("colours", test::noisy({150, 150})).verdict, Verdict::watch)
        << "nothing is plain";
    // See-through ink counts by its alpha: half of the columns at alpha 1 are next to nothing.
    EXPECT_EQ(std::get<double>(ofFile("colours", mark([](int x, int) {
                                          return x < 75 ? red : packed(0, 0, 255, 1);
                                      }))
                                   .value),
              1);
}

// WCAG 2.2: white on the light footage (code values from 196 up) is under 1.8 : 1, on the dark one
// (up to 44) over 13 : 1.
TEST(StandingOut, APlainWhiteMarkIsAWatchAndAnOutlineMendsIt) {
    const Kit plain = kitOf(redDisc(60, white));
    const Reading before = ofPiece("standing-out", plain);
    EXPECT_NE(before.verdict, Verdict::pass);
    EXPECT_LT(std::get<double>(before.value), 0.05);
    EXPECT_EQ(before.mends, std::vector<std::string>{"outline-contrast"});
    bool light = false;
    for (const Finding& finding : before.findings)
        light = light || english(finding.says).starts_with("On light footage");
    EXPECT_TRUE(light);
    // A thin ring all of whose ink is near its outline stands out everywhere once it has one.
    EXPECT_EQ(before.verdict, Verdict::watch) << english(before.says);
    EXPECT_EQ(ofPiece("standing-out", kitOf(redDisc(60, packed(128, 128, 128, 255)))).verdict,
              Verdict::fail)
        << "mid grey is lost on most";
    const auto rim = [](double outer) {
        return mark([=](int x, int y) {
            const double r = std::hypot(x + 0.5 - 75, y + 0.5 - 75);
            return r > 60 ? 0u : r > outer ? packed(12, 12, 14, 255) : white;
        });
    };
    EXPECT_EQ(ofPiece("standing-out", kitOf(rim(52))).verdict, Verdict::pass)
        << "a light and a dark ink carry their contrast along";
    const Kit ring = kitOf(mark([](int x, int y) {
        const double r = std::hypot(x + 0.5 - 75, y + 0.5 - 75);
        return r <= 60 && r >= 52 ? white : 0u;
    }));
    const Reading after1 = ofPiece("standing-out", after("outline-contrast", ring));
    EXPECT_EQ(after1.verdict, Verdict::pass) << english(after1.says);
}

// Marks of one ink over grounds of about their own lightness, as they were looked at by eye (ours),
// and two greys by their contrast (WCAG 2.2: 2.8 and 3.2 : 1).
TEST(StandingOut, AHueFarFromTheGroundIsSeenWhereAllCanSeeIt) {
    struct Pair {
        const char* what;
        std::array<int, 3> ink, ground;
        bool seen;
    };
    const Pair pairs[] = {
        {"green on a grey-blue sky", {51, 209, 122}, {109, 139, 174}, true},
        {"green on a grey wall", {51, 209, 122}, {182, 182, 177}, true},
        {"green on red", {51, 209, 122}, {203, 58, 11}, true},
        {"green on leaves", {51, 209, 122}, {78, 161, 13}, false},
        {"orange on grey", {240, 130, 20}, {150, 150, 150}, true},
        {"red on grey", {200, 30, 40}, {105, 105, 105}, true},
        {"blue on black", {0, 0, 255}, {5, 5, 5}, true},
        {"blue on grass", {40, 90, 220}, {70, 110, 40}, true},
        {"cyan on white", {0, 230, 255}, {255, 255, 255}, true},
        {"red on olive, for one man in twelve the same", {200, 76, 36}, {110, 118, 36}, false},
        {"brown on green, likewise", {120, 80, 40}, {70, 100, 40}, false},
        {"dark red on black", {100, 0, 0}, {10, 10, 12}, false},
        {"dark blue on black", {0, 0, 90}, {5, 5, 5}, false},
        {"skin on beige", {205, 160, 130}, {190, 180, 160}, false},
        {"violet on blue", {120, 60, 180}, {50, 80, 180}, false},
        {"grey on grey", {128, 128, 128}, {60, 60, 60}, false},
        {"grey on darker grey", {128, 128, 128}, {50, 50, 50}, true},
    };
    const auto code = [](const std::array<int, 3>& c) { return packed(c[0], c[1], c[2], 255); };
    for (const Pair& pair : pairs) {
        const Straight8 shape = redDisc(60, code(pair.ink));
        const Straight8 behind = mark([&](int, int) { return code(pair.ground); });
        EXPECT_EQ(shareStandingOut(shape, markEdges(shape), behind), pair.seen ? 1 : 0)
            << pair.what;
    }
}

TEST(StandingOut, AFileGetsItsOutlineToo) {
    const Brief& brief = test::brief("corner-mark");
    const auto standing = [&](ByteView bytes) {
        const auto all = good(readPictureFile(bytes, "ring.png", brief)).readings;
        const auto found = std::find_if(all.begin(), all.end(),
                                        [](const Reading& r) { return r.id == "standing-out"; });
        for (const Reading& r : all)
            for (const std::string& mend : r.mends)
                EXPECT_TRUE(findMend(mend)->onFile) << r.id << " offers " << mend << " for a file";
        return *found;
    };
    const Bytes ring = test::png(mark([](int x, int y) {
        const double r = std::hypot(x + 0.5 - 75, y + 0.5 - 75);
        return r <= 74 && r >= 62 ? white : 0u;
    }));
    ASSERT_NE(standing(ring).verdict, Verdict::pass);
    ASSERT_EQ(standing(ring).mends, std::vector<std::string>{"outline-contrast"});
    const MendedFile done = good(mendedFile("outline-contrast", ring, "ring.png", brief));
    EXPECT_EQ(standing(done.bytes).verdict, Verdict::pass);
    const Picture picture = good(decode(done.bytes, "ring.png"));
    EXPECT_EQ(picture.facts.size, (PixelSize{150, 150}));
    for (int i = 0; i < 150; ++i)
        EXPECT_EQ(alphaOf(picture.pixels->row(0)[i]), 0) << "room was made for it";
}

}  // namespace
}  // namespace zl
