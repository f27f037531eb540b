// SPDX-License-Identifier: GPL-3.0-or-later
// What a piece is built from: bars, turns, blend modes, tone, groups, arranging, frames, looks,
// variants.
#include "core/support/drawing.h"
#include "edit/arrange.h"
#include "edit/stack.h"
#include "render/render.h"
#include "store/kit_file.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

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
    EXPECT_EQ(kit.pieces[1].title, "Made for a test, variant 2");
    EXPECT_EQ(kit.pieces[2].title, "Made for a test, variant 3");
    EXPECT_EQ(kit.pieces[1].release.name, "made-for-a-test-variant-2");
    EXPECT_EQ(kit.pieces[2].release.name, "made-for-a-test-variant-3");
    EXPECT_EQ(good(withPieceDoubled(threeBars(), "p", false)).pieces[1].variantOf, "");
}

}  // namespace
}  // namespace zl
