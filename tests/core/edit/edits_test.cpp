// SPDX-License-Identifier: GPL-3.0-or-later
#include "edit/arrange.h"
#include "edit/snapping.h"
#include "edit/stack.h"
#include "store/kit_file.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

Kit reopened(const Kit& kit) {
    return good(unpackKit(good(packKit(kit)), good(schemaNamed("kit.schema.json")), "kit"));
}

TEST(Edits, AMatteIsSolid) {
    Kit kit = test::kitWith("corner-mark", {150, 150});
    kit.pieces[0].release.matte = Colour{1, 2, 3, 128};
    EXPECT_FALSE(withChangedPiece(kit, kit.pieces[0])) << "a kit that could not be opened again";
    kit.pieces[0].release.matte = Colour{1, 2, 3, 255};
    EXPECT_TRUE(withChangedPiece(kit, kit.pieces[0]));
}

TEST(Edits, LayersAreAddedMovedDoubledAndTakenAway) {
    Kit kit = test::kitWith("free-frame", {100, 100});
    for (const char* name : {"a", "b", "c"}) kit = test::withLetters(kit, name, 20, {0, 0});
    const auto order = [&] {
        std::string names;
        for (const Layer& l : kit.piece("p")->layers) names += l.name + ";";
        return names;
    };
    EXPECT_EQ(order(), "a;b;c;");
    kit = good(withLayerMoved(kit, "p", 1, 99));
    EXPECT_EQ(order(), "b;c;a;");
    kit = good(withLayersDoubled(kit, "p", {2}));
    EXPECT_EQ(order(), "b;b copy;c;a;");
    EXPECT_EQ(kit.piece("p")->layers[1].lettering()->at, (RealPoint{24, 24}));
    EXPECT_EQ(kit.piece("p")->layers[1].id, 4);
    kit = good(withoutLayer(kit, "p", 2));
    EXPECT_EQ(order(), "b copy;c;a;");
    EXPECT_FALSE(withoutLayer(kit, "p", 2));
    EXPECT_FALSE(withLayer(kit, "gone", Layer{}));
}

TEST(Edits, WhatCannotBeDrawnIsRefusedAndChangesNothing) {
    const Kit kit = test::withPicture(test::kitWith("free-frame", {100, 100}),
                                      test::textured({4, 4}), {0, 0, 4, 4});
    const auto tried = [&](auto change) {
        Layer layer = kit.piece("p")->layers.front();
        change(layer);
        return withChangedLayer(kit, "p", layer).has_value();
    };
    EXPECT_TRUE(tried([](Layer& l) { l.picture()->place.x = -50; }));
    EXPECT_FALSE(tried([](Layer& l) { l.picture()->place.width = 0; }));
    EXPECT_FALSE(tried([](Layer& l) { l.picture()->place.width = std::nan(""); }));
    EXPECT_FALSE(tried([](Layer& l) { l.picture()->place.x = 1e300; }));
    EXPECT_FALSE(tried([](Layer& l) { l.picture()->source = "gone"; }));
    EXPECT_FALSE(tried([](Layer& l) { l.opacity = 1.01; }));
    LetteringLayer letters;
    const auto lettered = [&](auto change) {
        LetteringLayer next = letters;
        change(next);
        return tried([&](Layer& l) { l.what = next; });
    };
    EXPECT_TRUE(lettered([](LetteringLayer&) {}));
    EXPECT_FALSE(lettered([](LetteringLayer& l) { l.size = 0; }));
    EXPECT_FALSE(lettered([](LetteringLayer& l) { l.size = 1e6; }));
    EXPECT_FALSE(lettered([](LetteringLayer& l) { l.tracking = -1000; }));
    EXPECT_FALSE(lettered([](LetteringLayer& l) { l.text = std::string(100'000, 'x'); }));
    Piece piece = *kit.piece("p");
    piece.frame = {40'000, 40'000};
    EXPECT_FALSE(withChangedPiece(kit, piece));
}

// What an edit lets pass is what a file may hold: a kit that was saved opens again.
TEST(Edits, NamesAreNeverLongerThanTheFileAllows) {
    Kit kit = test::withLetters(test::kitWith("video-thumbnail", {1280, 720}), "x", 50, {0, 0});
    std::string longName;
    while (longName.size() < 199) longName += "é";
    Layer layer = kit.pieces[0].layers[0];
    layer.name = longName.substr(0, 200);
    kit = good(withChangedLayer(kit, "p", layer));
    kit = good(withLayersDoubled(kit, "p", {1}));
    EXPECT_LE(kit.pieces[0].layers[1].name.size(), 200u);
    layer.name += "e";
    EXPECT_FALSE(withChangedLayer(kit, "p", layer));
    Piece piece = kit.pieces[0];
    piece.title = std::string(201, 't');
    EXPECT_FALSE(withChangedPiece(kit, piece));
    kit = withTitle(withTitle(kit, longName + longName), longName + longName);
    EXPECT_EQ(reopened(kit), kit);
    EXPECT_EQ(withTitle(kit, "").title, "New kit");
    EXPECT_EQ(cutToFit("aé", 2), "a") << "no half letters";
    EXPECT_EQ(cutToFit("aé", 3), "aé");
}

TEST(Edits, IdsComeFromTitlesAndAreUnique) {
    Kit kit = test::kitWith("free-frame", {10, 10});
    EXPECT_EQ(idFromTitle("Thumbnail, ep. 12", kit), "thumbnail-ep-12");
    EXPECT_EQ(idFromTitle("  ", kit), "piece");
    EXPECT_EQ(idFromTitle("P", kit), "p-2");
}

TEST(Edits, ACropNeverStretches) {
    PictureLayer picture{"x", {0, 0, 400, 200}, {100, 100, 200, 100}};
    const PictureLayer same = cropped(picture, {50, 20, 200, 100});
    EXPECT_EQ(same.place, picture.place) << "the same shape stays where it is";
    const PictureLayer square = cropped(picture, {50, 20, 100, 100});
    EXPECT_EQ(square.place, (RealRect{100, 50, 200, 200}))
        << "another shape is taken on about the centre";
    EXPECT_TRUE(checkCrop({0, 0, 400, 200}, {400, 200}));
    EXPECT_TRUE(checkCrop({0.25, 0.5, 399.75, 199.5}, {400, 200})) << "real numbers";
    EXPECT_FALSE(checkCrop({0.25, 0, 400, 200}, {400, 200}));
    EXPECT_FALSE(checkCrop({-1, 0, 10, 10}, {400, 200}));
    EXPECT_FALSE(checkCrop({0, 0, 0, 10}, {400, 200}));
}

TEST(Edits, TwiceTheFrameIsTwiceEverything) {
    Kit kit = test::withLetters(test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                                  test::textured({20, 10}), {10, 20, 200, 100}),
                                "x", 50, {30, 40});
    kit = good(withPieceScaled(kit, "p", 2));
    EXPECT_EQ(kit.pieces[0].frame, (PixelSize{2560, 1440}));
    EXPECT_EQ(kit.pieces[0].layers[0].picture()->place, (RealRect{20, 40, 400, 200}));
    EXPECT_EQ(kit.pieces[0].layers[1].lettering()->size, 100);
    EXPECT_EQ(kit.pieces[0].layers[1].lettering()->at, (RealPoint{60, 80}));
    EXPECT_FALSE(withPieceScaled(kit, "p", 20)) << "a frame that cannot be made";
}

// Worked by hand on a frame of 1200 x 600.
TEST(Snapping, DrawsToTheNearestLineOfEachDirection) {
    const auto lines = snapLines({1200, 600}, {{1000, 500, 100, 50}}, {});
    const auto at = [&](double x, double y) { return snap({x, y, 100, 50}, lines, 6); };
    EXPECT_EQ(at(4, 200).by, (RealPoint{-4, 0})) << "the left edge; 200 is a third already";
    EXPECT_EQ(at(4, 200).upright->of, SnapLine::Of::edge);
    EXPECT_EQ(at(553, 272).by, (RealPoint{-3, 3})) << "the centre";
    EXPECT_EQ(at(395, 100).by.x, 5) << "a third";
    EXPECT_EQ(at(903, 452).by, (RealPoint{-3, -2})) << "up to the zone's corner";
    EXPECT_EQ(at(903, 452).upright->of, SnapLine::Of::zone);
    EXPECT_EQ(at(250, 100).by, (RealPoint{0, 0}));
    EXPECT_FALSE(at(250, 100).upright);
}

TEST(Edits, APictureFillsTheFrameWithoutStretching) {
    // 1600 x 900 into 1000 x 1000: scale 10/9, so 1777.8 x 1000, half of the rest on each side.
    const PictureLayer filled = fillingFrame("h", {1600, 900}, {1000, 1000});
    EXPECT_NEAR(filled.place.width, 1600 * 10.0 / 9, 1e-9);
    EXPECT_NEAR(filled.place.x, -(1600 * 10.0 / 9 - 1000) / 2, 1e-9);
    EXPECT_NEAR(filled.place.height, 1000, 1e-9);
    // Its left 900 x 900 are to be seen, and what is asked for outside of it is not.
    const auto seen = [](double x) {
        return fillingFrame("h", {1600, 900}, {1000, 1000}, RealRect{x, 0, 900, 900}).place.x;
    };
    EXPECT_NEAR(seen(0), 0, 1e-9);
    EXPECT_NEAR(seen(90), -100, 1e-9);
    EXPECT_EQ(seen(350), filled.place.x) << "the middle, to the last bit";
    EXPECT_NEAR(seen(5000), -700 * 10.0 / 9, 1e-9);
}

// One more than a kit file takes is refused by the edit, and what is full is saved and opened.
TEST(Edits, WhatIsFullTakesNoMore) {
    Kit kit = test::withLetters(test::kitWith("video-thumbnail", {1280, 720}), "x", 50, {0, 0});
    const Layer layer = kit.pieces[0].layers[0];
    Piece full = kit.pieces[0];
    full.layers.assign(mostLayers, layer);
    for (std::size_t i = 0; i < full.layers.size(); ++i)
        full.layers[i].id = static_cast<int>(i) + 1;
    for (int i = 0; i < 100; ++i)
        full.slices.push_back({"slice-" + std::to_string(i), {0, 0, 10, 10}});
    full.links = {{{0, 0, 9, 9}, "https://" + std::string(1992, 'a'), std::string(300, 'b')}};
    kit = good(withChangedPiece(kit, full));
    EXPECT_FALSE(withLayer(kit, "p", layer));
    EXPECT_FALSE(withLayersDoubled(kit, "p", {1}));
    const auto refused = [&](auto change) {
        Piece piece = full;
        change(piece);
        return !withChangedPiece(kit, piece);
    };
    EXPECT_TRUE(refused([](Piece& p) { p.slices.push_back({"more", {0, 0, 10, 10}}); }));
    EXPECT_TRUE(refused([](Piece& p) { p.slices[0].name = std::string(61, 'a'); }));
    EXPECT_TRUE(refused([](Piece& p) { p.links[0].address += 'a'; }));
    EXPECT_TRUE(refused([](Piece& p) { p.links[0].says += 'a'; }));
    EXPECT_TRUE(refused([](Piece& p) { p.layers[3].lettering()->size = 0.5; }));
    EXPECT_EQ(reopened(kit), kit);

    Kit many = test::kitWith("video-thumbnail", {1280, 720});
    while (many.pieces.size() < mostPieces)
        many = good(withPieceDoubled(many, "p", many.pieces.size() % 2 == 0));
    EXPECT_FALSE(withPieceDoubled(many, "p", false));
    Piece another;
    another.title = "One more";
    another.brief = "video-thumbnail";
    another.frame = {1280, 720};
    EXPECT_FALSE(withPiece(many, another));
    EXPECT_TRUE(readsBack(many));
}

}  // namespace
}  // namespace zl
