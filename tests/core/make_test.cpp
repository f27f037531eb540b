// SPDX-License-Identifier: GPL-3.0-or-later
// What a piece is built from: bars, turns, blend modes, tone, groups, arranging, frames, looks,
// variants.
#include <cmath>

#include "bar/bar.h"
#include "edit/arrange.h"
#include "lettering/lettering.h"
#include "raster/turn.h"
#include "render/render.h"
#include "store/kit_file.h"
#include "store/kit_json.h"
#include "support/support.h"
#include "tone/tone.h"

namespace zl {
namespace {

using test::good;

Kit withBar(Kit kit, BarShape shape, RealRect place, Colour colour = {0, 0, 0, 255}) {
    Layer layer;
    layer.name = "Bar";
    BarLayer bar;
    bar.shape = shape;
    bar.place = place;
    bar.colour = colour;
    layer.what = bar;
    return good(withLayer(kit, "p", layer));
}

Straight8 rendered(const Kit& kit) {
    InkStore store;
    return good(render({kit.pieces[0], kit}, store));
}

double inkSum(const Straight8& raster) {
    double sum = 0;
    for (const std::uint32_t p : raster.pixels()) sum += alphaOf(p) / 255.0;
    return sum;
}

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

TEST(Tones, NeutralChangesNoPixelAndEachDoesWhatItSays) {
    const Straight8 picture = test::textured({120, 80});
    const Straight8 same = toned(picture, {});
    EXPECT_TRUE(
        std::equal(picture.pixels().begin(), picture.pixels().end(), same.pixels().begin()));
    const auto means = [&](const Tone& tone) {
        std::array<double, 3> sum{};
        const Straight8 out = toned(picture, tone);
        for (const std::uint32_t p : out.pixels()) {
            sum[0] += redOf(p);
            sum[1] += greenOf(p);
            sum[2] += blueOf(p);
        }
        return sum;
    };
    const auto plain = means({});
    EXPECT_GT(means({40, 0, 0, 0, 0, 0})[1], plain[1]);
    EXPECT_LT(means({-40, 0, 0, 0, 0, 0})[1], plain[1]);
    EXPECT_GT(means({0, 0, 0, 50, 0, 0})[0], plain[0]) << "warm is red";
    EXPECT_LT(means({0, 0, 0, 50, 0, 0})[2], plain[2]) << "and not blue";
    EXPECT_LT(means({0, 0, 0, 0, 50, 0})[1], plain[1]) << "tint takes green away";
    const Straight8 grey = toned(picture, {0, 0, -100, 0, 0, 0});
    for (const std::uint32_t p : grey.pixels())
        ASSERT_TRUE(redOf(p) == greenOf(p) && greenOf(p) == blueOf(p));
    // Black, white and alpha stay under brightness and contrast.
    Straight8 ends({2, 1});
    ends.row(0)[0] = packed(0, 0, 0, 7);
    ends.row(0)[1] = packed(255, 255, 255, 255);
    const Straight8 pushed = toned(ends, {60, 80, 0, 0, 0, 0});
    EXPECT_EQ(pushed.row(0)[0], ends.row(0)[0]);
    EXPECT_EQ(pushed.row(0)[1], ends.row(0)[1]);
}

// By hand: 64 of 255 brightened by 100 is its square root, 128; contrast 100 squares (2v), so 64
// becomes 32.1.
TEST(Tones, FollowTheirFormulas) {
    const auto of = [](const Tone& tone) {
        return redOf(toned(Straight8::cleared({1, 1}, packed(64, 64, 64, 255)), tone).row(0)[0]);
    };
    EXPECT_NEAR(of({100, 0, 0, 0, 0, 0}), 255 * std::sqrt(64 / 255.0), 0.51);
    EXPECT_NEAR(of({0, 100, 0, 0, 0, 0}), 255 * 0.5 * std::pow(2 * 64 / 255.0, 2), 0.51);
    EXPECT_EQ(of({0, 0, 0, 0, 0, 100}), 64) << "nothing round it differs";
}

TEST(Tones, ClarityLiftsAnEdgeOnBothSides) {
    const Straight8 edge = test::painted({200, 40}, [](int x, int) {
        return x < 100 ? packed(90, 90, 90, 255) : packed(160, 160, 160, 255);
    });
    const Straight8 clear = toned(edge, {0, 0, 0, 0, 0, 80});
    EXPECT_LT(redOf(clear.row(20)[98]), 88);
    EXPECT_GT(redOf(clear.row(20)[101]), 162);
    EXPECT_NEAR(redOf(clear.row(20)[20]), 90, 1);
}

TEST(Veils, NothingUnderThemCanBeRead) {
    const Straight8 picture = test::noisy({64, 48});
    const Veil coarse{Veil::Kind::coarse, {8, 8, 32, 16}, 16},
        soft{Veil::Kind::blur, {8, 8, 32, 16}, 24};
    const Straight8 squares = veiled(picture, std::vector{coarse});
    for (int y = 8; y < 24; ++y)
        for (int x = 8; x < 24; ++x) EXPECT_EQ(squares.row(y)[x], squares.row(8)[8]);
    EXPECT_EQ(squares.row(7)[8], picture.row(7)[8]);
    EXPECT_EQ(squares.row(30)[50], picture.row(30)[50]);
    const Straight8 blurredOut = veiled(picture, std::vector{soft});
    int most = 0;
    for (int y = 10; y < 22; ++y)
        for (int x = 10; x < 37; ++x)
            most = std::max(
                most, std::abs(redOf(blurredOut.row(y)[x]) - redOf(blurredOut.row(y)[x + 1])));
    EXPECT_LT(most, 12) << "noise of 255 is gone";
}

TEST(Tones, TheHistogramCountsInkAndItsClippedEnds) {
    Straight8 picture = Straight8::cleared({10, 10}, packed(100, 100, 100, 255));
    for (int x = 0; x < 10; ++x) {
        picture.row(0)[x] = packed(255, 100, 100, 255);
        picture.row(1)[x] = packed(0, 0, 0, 255);
        picture.row(2)[x] = 0;
    }
    const Histogram h = histogramOf(picture);
    EXPECT_EQ(h.pixels, 90);
    EXPECT_EQ(h.counts[0][255], 10);
    EXPECT_EQ(h.counts[3][100], 70);
    EXPECT_NEAR(h.clippedLow, 10 / 90.0, 1e-9);
    EXPECT_NEAR(h.clippedHigh, 10 / 90.0, 1e-9);
}

Kit threeBars() {
    Kit kit = test::kitWith("free-frame", {400, 300});
    for (const double x : {10.0, 60.0, 300.0})
        kit = withBar(kit, BarShape::rectangle, {x, x / 2, 40, 30});
    return kit;
}

TEST(Groups, MoveTogetherDissolveAndComeWithAPaste) {
    Kit kit = good(withGroup(threeBars(), "p", {1, 3}));
    EXPECT_EQ(withGroupMates(kit.pieces[0], {1}), (std::set{1, 3}));
    EXPECT_EQ(withGroupMates(kit.pieces[0], {2}), (std::set{2}));
    EXPECT_FALSE(withGroup(kit, "p", {2}));
    // Both on another piece of another kit keep together, beside a group that is there.
    std::vector<Layer> copied{kit.pieces[0].layers[0], kit.pieces[0].layers[2]};
    const Kit pasted =
        good(withPastedLayers(good(withGroup(threeBars(), "p", {1, 2})), "p", copied, kit));
    EXPECT_EQ(pasted.pieces[0].layers.size(), 5u);
    EXPECT_EQ(pasted.pieces[0].layers[3].group, pasted.pieces[0].layers[4].group);
    EXPECT_NE(pasted.pieces[0].layers[3].group, pasted.pieces[0].layers[0].group);
    // A group with one layer left is none.
    kit = good(withoutLayers(kit, "p", {3}));
    EXPECT_EQ(kit.pieces[0].layers[0].group, 0);
    EXPECT_EQ(good(withoutGroup(threeBars(), "p", {1})), threeBars());
}

TEST(Pasting, BringsThePicturesAlong) {
    const Kit from = test::withPicture(test::kitWith("free-frame", {50, 50}),
                                       test::textured({20, 20}), {0, 0, 20, 20});
    const Kit kit = good(
        withPastedLayers(test::kitWith("free-frame", {90, 90}), "p", from.pieces[0].layers, from));
    EXPECT_TRUE(kit.asset(kit.pieces[0].layers[0].picture()->source));
    EXPECT_FALSE(withPastedLayers(kit, "nobody", from.pieces[0].layers, from));
}

TEST(Arranging, AlignsAndSharesTheGaps) {
    const std::vector<RealRect> boxes{{10, 0, 40, 10}, {60, 50, 20, 10}, {300, 90, 40, 30}};
    EXPECT_EQ(alignMoves(boxes, {0, 0, 400, 300}, Line::right)[0], (RealPoint{350, 0}));
    EXPECT_EQ(alignMoves(boxes, {0, 0, 400, 300}, Line::centre)[2], (RealPoint{0, 45}));
    // From 10 to 340 px, 100 px taken: gaps of 115 px.
    const auto moves = distributeMoves(boxes, true);
    EXPECT_EQ(moves[0], (RealPoint{0, 0}));
    EXPECT_EQ(moves[1], (RealPoint{105, 0}));
    EXPECT_EQ(moves[2], (RealPoint{0, 0}));
    EXPECT_EQ(distributeMoves({boxes[0], boxes[1]}, true)[1], (RealPoint{0, 0}));
    EXPECT_EQ(around(boxes), (RealRect{10, 0, 330, 120}));
    EXPECT_FALSE(around({}));
}

TEST(Frames, ChangeRoundAnAnchorAndCarryTheirGuides) {
    Kit kit = threeBars();
    kit.pieces[0].guides = {{true, 100, false}, {false, 0.5, true}};
    const Kit wider = good(withFrame(kit, "p", {500, 300}, {0.5, 0.5}));
    EXPECT_EQ(test::barOf(wider.pieces[0].layers[0])->place.x, 60);
    EXPECT_EQ(wider.pieces[0].guides[0].at, 150);
    EXPECT_EQ(wider.pieces[0].guides[1].inPx({500, 300}), 150);
    EXPECT_EQ(
        test::barOf(good(withFrame(kit, "p", {500, 300}, {0, 0})).pieces[0].layers[0])->place.x,
        10);
    const Kit twice = good(withPieceScaled(kit, "p", 2));
    EXPECT_EQ(twice.pieces[0].guides[0].at, 200);
    EXPECT_FALSE(withPieceScaled(kit, "p", 0));
    EXPECT_FALSE(withFrame(kit, "p", {0, 300}, {0, 0}));
}

TEST(Frames, RelaidTheGroundFillsAndTheRestKeepsItsPlace) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {400, 200}), test::textured({400, 200}),
                                {0, 0, 400, 200});
    kit = withBar(kit, BarShape::rectangle, {180, 90, 40, 20});
    const Kit upright = good(withPieceRelaid(
        kit, "p", {200, 400}, {boxOf(kit.pieces[0].layers[0]), boxOf(kit.pieces[0].layers[1])}));
    const RealRect ground = boxOf(upright.pieces[0].layers[0]),
                   bar = boxOf(upright.pieces[0].layers[1]);
    EXPECT_LE(ground.x, 0);
    EXPECT_LE(ground.y, 0);
    EXPECT_GE(ground.right(), 200);
    EXPECT_GE(ground.bottom(), 400);
    EXPECT_NEAR(bar.width, 20, 1e-9) << "with the lesser side";
    EXPECT_NEAR(bar.centre().x, 100, 1e-9);
    EXPECT_NEAR(bar.centre().y, 200, 1e-9);
}

TEST(Looks, DressOtherLettersAndLeaveTheirText) {
    Kit kit = test::withLetters(test::kitWith("free-frame", {300, 200}), "ONE", 80, {10, 10});
    kit = test::withLetters(kit, "two", 30, {50, 90});
    Layer one = kit.pieces[0].layers[0];
    one.finishes = {outlineOf(7, {1, 2, 3, 255}), makeFinish("shadow")};
    one.lettering()->caps = true;
    kit = withLook(kit, lookOf(one, "Loud"));
    const Layer worn = wearing(kit.pieces[0].layers[1], kit.looks[0]);
    EXPECT_EQ(worn.lettering()->text, "two");
    EXPECT_EQ(worn.lettering()->at, (RealPoint{50, 90}));
    EXPECT_EQ(worn.lettering()->size, 80);
    EXPECT_TRUE(worn.lettering()->caps);
    EXPECT_EQ(worn.finishes, one.finishes);
    EXPECT_EQ(withLook(kit, lookOf(one, "Loud")).looks.size(), 1u);
    EXPECT_TRUE(withoutLook(kit, "Loud").looks.empty());
    // All of it comes back from a file.
    kit = withColours(kit, {{1, 2, 3, 255}, {1, 2, 3, 255}, {9, 9, 9, 128}});
    kit.pieces[0].guides = {{true, 0.25, true}, {false, 33, false}};
    const Kit back =
        good(unpackKit(good(packKit(kit)), good(schemaNamed("kit.schema.json")), "kit"));
    EXPECT_EQ(back, kit);
    EXPECT_EQ(back.colours.size(), 2u);
}

TEST(Variants, StandBehindTheirPieceAndKnowIt) {
    Kit kit = good(withPieceDoubled(threeBars(), "p", true));
    kit = good(withPieceDoubled(kit, kit.pieces[1].id, true));
    ASSERT_EQ(kit.pieces.size(), 3u);
    EXPECT_EQ(kit.pieces[2].variantOf, "p");
    EXPECT_EQ(variantsOf(kit, kit.pieces[1]).size(), 3u);
    EXPECT_EQ(variantsOf(kit, kit.pieces[1]).front()->id, "p");
    EXPECT_NE(kit.pieces[1].release.name, kit.pieces[0].release.name);
    EXPECT_EQ(good(withPieceDoubled(threeBars(), "p", false)).pieces[1].variantOf, "");
}

TEST(Lettering, CapsTrackingAndStackingChangeWhatIsSet) {
    LetteringLayer letters;
    letters.text = "abc é";
    letters.size = 50;
    const double plain = good(measure(letters)).block.width;
    letters.tracking = 200;  // a fifth of 50 px between each of five letters
    EXPECT_NEAR(good(measure(letters)).block.width, plain + 4 * 10, 1);
    letters.tracking = 0;
    letters.caps = true;
    EXPECT_EQ(shownText(letters), "ABC É");
    letters.vertical = true;
    EXPECT_EQ(shownText(letters), "A\nB\nC\n \nÉ");
    EXPECT_GT(good(measure(letters)).block.height, 4 * 50);
    letters.vertical = false;
    letters.size = *sizeForWidth(letters, 600);
    EXPECT_NEAR(good(measure(letters)).block.width, 600, 2);
}

TEST(Lettering, TellsWhichLettersTheFontLacks) {
    LetteringLayer letters;
    letters.text = "Ab ☃";
    letters.size = 40;
    const auto lacking = lackingGlyphs(letters);
    ASSERT_EQ(lacking.size(), 1u);
    EXPECT_EQ(lacking[0].letter, "☃");
    EXPECT_NE(lacking[0].family, "League Spartan");
    letters.text = "Abc";
    EXPECT_TRUE(lackingGlyphs(letters).empty());
}

TEST(OlderKits, BringTheirOutlineAlong) {
    const Json json = Json::parse(
        R"({"id":1,"kind":"lettering","name":"n","hidden":false,"opacity":1,"at":[1,2],"text":"T",
        "family":"League Spartan","style":"Bold","size":50,"align":"left","colour":"#FFFFFF",
        "outline":{"px":6,"colour":"#102030"}})");
    Kit kit = test::kitWith("free-frame", {20, 20});
    OrderedJson whole = jsonOf(kit);
    whole["version"] = 2;
    whole["pieces"][0]["layers"].push_back(OrderedJson(json));
    const Kit back = good(kitFrom(Json(whole), "old"));
    EXPECT_EQ(back.pieces[0].layers[0].finishes, std::vector{outlineOf(6, {16, 32, 48, 255})});
}

}  // namespace
}  // namespace zl
