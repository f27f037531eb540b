// SPDX-License-Identifier: GPL-3.0-or-later
#include <zip.h>
#include <random>
#include <set>

#include "store/kit_file.h"
#include "store/layer_json.h"
#include "store/recovery.h"
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

// What is on disk stays whole though an edit let something pass that no kit may hold.
TEST(KitFile, WhatCouldNotBeOpenedAgainTakesNothingsPlace) {
    const test::Folder folder;
    const Path file = folder / "k.zlkit";
    ASSERT_TRUE(saveKit(sample(), file, Replace::no));
    Kit bad = sample();
    bad.pieces[0].layers[1].lettering()->size = 0.3;
    const auto saved = saveKit(bad, file, Replace::yes);
    ASSERT_FALSE(saved);
    EXPECT_NE(saved.error().sentence().find("could not be opened again"), std::string::npos);
    EXPECT_NE(saved.error().sentence().find("pieces[0].layers[1].size"), std::string::npos);
    EXPECT_EQ(good(openKit(file)), sample());
    std::set<std::string> originals;
    ASSERT_TRUE(writeRecovery(folder / "journal", sample(), file, originals));
    EXPECT_FALSE(writeRecovery(folder / "journal", bad, file, originals));
    EXPECT_EQ(good(readRecovery(folder / "journal")).kit, sample());
}

}  // namespace
}  // namespace zl
