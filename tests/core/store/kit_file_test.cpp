// SPDX-License-Identifier: GPL-3.0-or-later
#include <zip.h>
#include <random>

#include "edit/arrange.h"
#include "edit/snapping.h"
#include "edit/stack.h"
#include "store/kit_file.h"
#include "store/layer_json.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

Json kitSchema() {
    return good(schemaNamed("kit.schema.json"));
}

Kit sample() {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                test::textured({20, 10}), {-3.5, 2.25, 200, 100});
    kit = test::withLetters(kit, "two\nlines \"quoted\" é", 80, {10.5, 20});
    Layer layer = *kit.piece("p")->layer(2);
    layer.finishes = {outlineOf(6.5, {1, 2, 3, 255})};
    layer.lettering()->align = Align::right;
    layer.opacity = 0.25;
    layer.essential = false;
    layer.hidden = true;
    kit = good(withChangedLayer(kit, "p", layer));
    Piece piece = *kit.piece("p");
    piece.release = {"named.jpg", FormatChoice::jpeg,  77, ChromaChoice::half,
                     false,       Colour{9, 8, 7, 255}};
    return good(withChangedPiece(kit, piece));
}

// A zip of the given entries, written by libzip.
Bytes zipOf(const std::vector<std::pair<std::string, std::string>>& entries) {
    const test::Folder folder;
    const std::string file = (folder / "z.zip").string();
    int error = 0;
    zip_t* zip = zip_open(file.c_str(), ZIP_CREATE, &error);
    for (const auto& [name, text] : entries) {
        zip_source_t* source = zip_source_buffer(zip, text.data(), text.size(), 0);
        zip_file_add(zip, name.c_str(), source, ZIP_FL_ENC_UTF_8);
    }
    zip_close(zip);
    return good(readFile(file));
}

std::string why(const Bytes& bytes) {
    const auto kit = unpackKit(bytes, kitSchema(), "test.zlkit");
    return kit ? "opened" : kit.error().sentence();
}

std::string kitJson(const std::string& pieces, const std::string& version = "1",
                    const std::string& assets = "[]") {
    return "{\"format\":\"zinc-ledge-kit\",\"version\":" + version +
           ",\"title\":\"T\",\"pieces\":[" + pieces + "],\"assets\":" + assets + "}";
}

TEST(KitFile, HoldsEverythingOfAKit) {
    const Kit kit = sample();
    const Kit back = good(unpackKit(good(packKit(kit)), kitSchema(), "x"));
    EXPECT_EQ(back, kit);
    EXPECT_EQ(*back.assets.begin()->second.bytes, *kit.assets.begin()->second.bytes);
}

TEST(KitFile, HoldsSubjectsThatWereCutOut) {
    Kit kit = sample();
    Layer layer = *kit.piece("p")->layer(1);
    SubjectCut cut;
    cut.box = RealRect{1, 2, 15.5, 7};
    cut.edge = SubjectEdge::tighter;
    cut.part = SubjectPart::filled;
    cut.keepsShadow = true;
    cut.strokes = {{true, 2.5, {{3, 4}, {5, 6}}}, {false, 1, {{9, 9}}}};
    SubjectCut guessed;
    guessed.guess = 2;
    guessed.part = SubjectPart::ground;
    layer.picture()->cuts = {{cut}, {guessed, true}};
    kit = good(withChangedLayer(kit, "p", layer));
    EXPECT_EQ(good(unpackKit(good(packKit(kit)), kitSchema(), "x")), kit);
    // What a file may not hold.
    guessed.guess = 3;
    layer.picture()->cuts = {{guessed}};
    EXPECT_FALSE(withChangedLayer(kit, "p", layer));
    cut.strokes.front().radius = 0;
    layer.picture()->cuts = {{cut}};
    EXPECT_FALSE(withChangedLayer(kit, "p", layer));
}

TEST(KitFile, HoldsReferencesAndFontsOfItsOwnAndStillOpensTheFirstFormat) {
    Kit kit = sample();
    Layer layer = *kit.piece("p")->layer(1);
    layer.picture()->reference = true;
    kit = good(withChangedLayer(kit, "p", layer));
    kit = withFont(kit, makeAsset(test::bytesOf("not looked at here"), "mine.otf"));
    kit = withFont(kit, makeAsset(test::bytesOf("not looked at here"), "mine.otf"));
    EXPECT_EQ(kit.fonts.size(), 1u) << "once is enough";
    EXPECT_EQ(good(unpackKit(good(packKit(kit)), kitSchema(), "x")), kit);
    EXPECT_EQ(why(zipOf({{"kit.json", kitJson("", "1")}})), "opened");
    const std::string lost = kitJson("", "2");
    EXPECT_NE(why(zipOf({{"kit.json", lost.substr(0, lost.size() - 1) + ",\"fonts\":[\"" +
                                          std::string(64, 'a') + "\"]}"}}))
                  .find("a font of it is missing"),
              std::string::npos);
}

TEST(KitFile, TheSameKitGivesTheSameBytes) {
    EXPECT_EQ(good(packKit(sample())), good(packKit(sample())));
}

TEST(KitFile, OnlyOriginalsInUseAreWritten) {
    Kit kit = sample();
    kit = good(withoutLayer(kit, "p", 1));
    EXPECT_EQ(kit.assets.size(), 1u) << "history may still want it";
    EXPECT_TRUE(good(unpackKit(good(packKit(kit)), kitSchema(), "x")).assets.empty());
}

TEST(KitFile, OriginalsAreNamedByTheirHash) {
    const Kit kit = sample();
    const std::string text = test::textOf(good(packKit(kit)));
    EXPECT_NE(text.find("originals/" + kit.assets.begin()->first), std::string::npos);
}

TEST(KitFile, AFinishWithANumberThatNobodyKnowsIsRefused) {
    Layer layer;
    layer.id = 1;
    layer.name = "Bar";
    layer.what = BarLayer{BarShape::rectangle, {0, 0, 4, 4}};
    layer.finishes = {outlineOf(6.5, {1, 2, 3, 255})};
    Json json = Json::parse(jsonOf(layer).dump());
    EXPECT_EQ(good(layerFrom(json, "kit.json")), layer);
    json["finishes"][0]["wobble"] = 2;
    const auto refused = layerFrom(json, "kit.json");
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().what.find("outline has no \"wobble\""), std::string::npos);
}

// A small zip that would fill the memory: refused by what its directory says, before anything is
// unpacked.
TEST(KitFile, ATrapIsRefusedByWhatItWouldUnpackTo) {
    const std::string letters = "0123456789abcdef";
    std::mt19937 random(1);
    std::string words(25'000, ' ');
    for (char& c : words) c = letters[random() % letters.size()];
    std::string text = "x";
    while (text.size() <= 32'000'000) text += words;  // a kit's text may have 32 MB
    EXPECT_NE(why(zipOf({{"kit.json", text}})).find("would unpack"), std::string::npos);
    // Each original packs less well than a single one may, together they are more than packs that
    // well in an honest kit.
    std::string drawing;
    while (drawing.size() < 70'000'000) drawing += words;
    std::vector<std::pair<std::string, std::string>> entries{{"kit.json", kitJson("")}};
    for (const char id : {'a', 'b', 'c'})
        entries.emplace_back("originals/" + std::string(64, id), drawing);
    EXPECT_NE(why(zipOf(entries)).find("would unpack"), std::string::npos);
}

TEST(KitFile, HostileFilesAreRefusedWithOneSentence) {
    const std::string empty = kitJson("");
    EXPECT_EQ(why(zipOf({{"kit.json", empty}})), "opened");
    EXPECT_NE(why({}).find("it is empty"), std::string::npos);
    EXPECT_NE(why(test::bytesOf("no zip at all")).find("no zip file"), std::string::npos);
    EXPECT_NE(why(zipOf({{"other.txt", "x"}})).find("does not belong"), std::string::npos);
    EXPECT_NE(why(zipOf({{"kit.json", empty}, {"../../etc/passwd", "x"}})).find("does not belong"),
              std::string::npos);
    EXPECT_NE(why(zipOf({{"kit.json", empty}, {"originals/../x", "x"}})).find("does not belong"),
              std::string::npos);
    EXPECT_NE(why(zipOf({{"kit.json", "{"}})).find("not good JSON"), std::string::npos);
    EXPECT_NE(why(zipOf({{"kit.json", "[]"}})).find("refused"), std::string::npos);
    EXPECT_NE(why(zipOf({{"kit.json", kitJson("", "11")}})).find("newer Zinc Ledge"),
              std::string::npos);
    const std::string hash(64, 'a');
    EXPECT_NE(why(zipOf({{"kit.json",
                          kitJson("", "1", "[{\"sha256\":\"" + hash + "\",\"name\":\"a.png\"}]")},
                         {"originals/" + hash, "x"}}))
                  .find("was changed"),
              std::string::npos);
    EXPECT_NE(why(zipOf({{"kit.json",
                          kitJson("", "1", "[{\"sha256\":\"" + hash + "\",\"name\":\"a.png\"}]")}}))
                  .find("is missing"),
              std::string::npos);
    EXPECT_NE(
        why(zipOf({{"kit.json",
                    kitJson("", "1", "[{\"sha256\":\"" + hash + "\",\"name\":\"../a.png\"}]")},
                   {"originals/" + hash, "x"}}))
            .find("name"),
        std::string::npos);
}

TEST(KitFile, PiecesThatCannotBeAreRefused) {
    const auto piece = [](const std::string& id, const std::string& name,
                          const std::string& layers) {
        return "{\"id\":\"" + id +
               "\",\"title\":\"t\",\"brief\":\"free-frame\",\"frame\":[9,9],\"release\":{\"name\":"
               "\"" +
               name + "\",\"format\":\"best\"},\"layers\":[" + layers + "]}";
    };
    const auto opens = [&](const std::string& pieces) {
        return why(zipOf({{"kit.json", kitJson(pieces)}}));
    };
    EXPECT_EQ(opens(piece("a", "n", "")), "opened");
    EXPECT_NE(opens(piece("a", "../../n", "")).find("release.name"), std::string::npos);
    EXPECT_NE(opens(piece("a", "..", "")).find("cannot be a file name"), std::string::npos);
    EXPECT_NE(opens(piece("a", "n", "") + "," + piece("a", "n", "")).find("two pieces"),
              std::string::npos);
    const std::string picture =
        R"({"id":1,"kind":"picture","name":"x","hidden":false,"opacity":1,"source":")" +
        std::string(64, 'b') + R"(","crop":[0,0,1,1],"place":[0,0,1,1]})";
    EXPECT_NE(opens(piece("a", "n", picture)).find("is missing"), std::string::npos);
    EXPECT_NE(opens(piece("a", "n",
                          R"({"id":1,"kind":"lettering","name":"x","hidden":false,"opacity":1})"))
                  .find("needs \"at\""),
              std::string::npos);
}

TEST(KitFile, AZipBombIsNotUnpacked) {
    EXPECT_NE(
        why(zipOf({{"kit.json", std::string(60'000'000, ' ')}})).find("far more than it should"),
        std::string::npos);
}

TEST(KitFile, EveryTruncationIsRefusedAndNoneHarms) {
    const Bytes whole = good(packKit(sample()));
    for (std::size_t n = 0; n < whole.size(); n += std::max<std::size_t>(1, whole.size() / 97))
        EXPECT_NE(why(Bytes(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(n))),
                  "opened")
            << n;
}

TEST(KitFile, SavingNeverLosesTheOldOne) {
    const test::Folder folder;
    const Path file = folder / "k.zlkit";
    ASSERT_TRUE(saveKit(sample(), file, Replace::no));
    EXPECT_FALSE(saveKit(Kit{}, file, Replace::no));
    EXPECT_EQ(good(openKit(file)), sample());
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
    EXPECT_EQ(good(unpackKit(good(packKit(kit)), kitSchema(), "x")), kit);
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

}  // namespace
}  // namespace zl
