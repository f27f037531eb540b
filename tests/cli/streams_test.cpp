// SPDX-License-Identifier: GPL-3.0-or-later
// Several files at once, standard input and output, sizes and limits as people write them, errors
// that help.
#include "encode/encode.h"
#include "support/walls.h"
#include "zledge.h"

namespace zl::test {
namespace {

TEST(Streams, SeveralFilesGiveOneDocumentAndAFailureStopsNoOther) {
    const Folder folder;
    put(folder, "a.png", png(textured({64, 36})));
    put(folder, "b.png", png(textured({1280, 720}, 0)));
    put(folder, "bad.png", bytesOf("no picture"));
    const Ran ran = zledge(folder, "check a.png bad.png b.png --brief video-thumbnail --json");
    EXPECT_EQ(ran.status, 3) << "the unreadable one";
    const Json files = ran.json()["files"];
    ASSERT_EQ(files.size(), 3u);
    EXPECT_EQ(files[0]["width"], 64);
    EXPECT_TRUE(files[1].contains("error"));
    EXPECT_EQ(files[2]["verdict"], "pass");
    EXPECT_EQ(zledge(folder, "check b.png --brief video-thumbnail --json").json()["file"], "b.png")
        << "one file has no list";
    EXPECT_EQ(zledge(folder, "edges a.png b.png --json").json()["files"].size(), 2u);
}

TEST(Streams, SeveralOutputsGoIntoAFolderAndInputsStay) {
    const Folder folder;
    put(folder, "a.png", png(textured({64, 36})));
    put(folder, "b.png", png(textured({80, 40})));
    std::filesystem::create_directory(folder / "out");
    const Bytes before = good(readFile(folder / "a.png"));
    EXPECT_EQ(zledge(folder, "resize a.png b.png --size 32x --out out").status, 0);
    EXPECT_EQ(pictureIn(folder, "out/a.png").facts.size, (PixelSize{32, 18}));
    EXPECT_EQ(pictureIn(folder, "out/b.png").facts.size, (PixelSize{32, 16}));
    EXPECT_EQ(zledge(folder, "fit a.png b.png --limit 200k --formats jpeg --out out").status, 0);
    EXPECT_EQ(pictureIn(folder, "out/b.jpg").facts.content, Content::jpeg);
    const Ran over = zledge(folder, "resize a.png b.png --size x20 --out . --replace");
    EXPECT_EQ(over.status, 4) << "the folder of the inputs: they are never overwritten";
    EXPECT_EQ(good(readFile(folder / "a.png")), before);
}

TEST(Streams, StandardInputAndOutput) {
    const Folder folder;
    put(folder, "a.png", png(textured({64, 36})));
    EXPECT_EQ(zledge(folder, "check - --brief video-thumbnail --json < a.png").json()["width"], 64);
    EXPECT_EQ(zledge(folder, "resize - --size x18 --format png --out - < a.png > small.png").status,
              0);
    EXPECT_EQ(pictureIn(folder, "small.png").facts.size, (PixelSize{32, 18}));
    EXPECT_EQ(zledge(folder, "fit - --limit 4k --formats jpeg --out - < a.png > small.jpg").status,
              0);
    EXPECT_LE(good(readFile(folder / "small.jpg")).size(), 4000u);
    EXPECT_EQ(zledge(folder, "fit a.png --limit 4k --out -").status, 2)
        << "nothing tells the format";
    EXPECT_EQ(zledge(folder, "check - --brief video-thumbnail < /dev/null").status, 3);
    EXPECT_EQ(
        zledge(folder, "crop - --aspect 1:1 --format png --out - < a.png > square.png").status, 0);
    EXPECT_EQ(pictureIn(folder, "square.png").facts.size, (PixelSize{36, 36}));
    EXPECT_EQ(zledge(folder, "cut - --circle --format png --out - < a.png > round.png").status, 0);
    EXPECT_EQ(alphaOf(pictureIn(folder, "round.png").pixels->row(0)[0]), 0);
    EXPECT_EQ(zledge(folder, "over - small.png --format png --out - < a.png > over.png").status, 0);
    EXPECT_EQ(pictureIn(folder, "over.png").facts.size, (PixelSize{64, 36}));
    EXPECT_EQ(zledge(folder, "over - - --out x.png < a.png").status, 2);
    EXPECT_EQ(zledge(folder, "crop a.png --aspect 1:1 --out -").status, 2)
        << "nothing tells the format";
}

// A matte wherever alpha can be lost, the ink's colour bled under what is see-through, and
// enlarging told.
TEST(Streams, CropCutAndOverTakeAMatte) {
    const Folder folder;
    put(folder, "half.png", png(painted({64, 48}, [](int x, int) {
            return x < 32 ? packed(10, 20, 30, 255) : packed(0, 0, 0, 0);
        })));
    EXPECT_EQ(zledge(folder, "crop half.png --aspect 1:1 --out a.jpg").status, 1);
    EXPECT_EQ(zledge(folder, "crop half.png --aspect 1:1 --matte '#C86400' --out a.jpg").status, 0);
    EXPECT_NEAR(redOf(pictureIn(folder, "a.jpg").pixels->row(20)[44]), 200, 3);
    EXPECT_EQ(zledge(folder, "cut half.png --circle --out b.jpg").status, 2);
    EXPECT_EQ(zledge(folder, "cut half.png --circle --matte '#C86400' --out b.jpg").status, 0);
    EXPECT_NEAR(greenOf(pictureIn(folder, "b.jpg").pixels->row(2)[2]), 100, 3);
    EXPECT_EQ(zledge(folder, "over half.png half.png --matte '#C86400' --out c.jpg").status, 0);
    EXPECT_NEAR(redOf(pictureIn(folder, "c.jpg").pixels->row(20)[60]), 200, 3);
    const Ran larger =
        zledge(folder, "crop half.png --rect 20,0,40,40 --size 120x120 --out d.png --json");
    EXPECT_EQ(larger.json()["enlarged"], 3.0);
    const Picture bled = pictureIn(folder, "d.png");
    const std::uint32_t clear = bled.pixels->row(60)[44];
    EXPECT_EQ(alphaOf(clear), 0);
    EXPECT_EQ(clear & 0xFFFFFF, packed(10, 20, 30, 0)) << "the ink's colour";
    EXPECT_TRUE(zledge(folder, "crop half.png --aspect 1:1 --out e.png --json")
                    .json()["enlarged"]
                    .is_null());
}

// A large JPEG keeps its shape and its place when a part of it is read; the picture is that of the
// whole, but for a whisker.
TEST(Streams, ALargeJpegIsMadeSmallFromAPartOfItsCoefficients) {
    const Folder folder;
    const Straight8 large = painted({1003, 667}, [](int x, int y) {
        return packed(40 + x / 8, 200 - y / 5, (x / 40 + y / 40) % 2 * 90, 255);
    });
    put(folder, "large.jpg", good(encode(large, {Content::jpeg, 95, Chroma::full, Effort::quick})));
    put(folder, "same.png", png(*pictureIn(folder, "large.jpg").pixels));
    for (const char* how : {"--size 100x", "--size 100x100 --fit cover",
                            "--size 120x100 --fit contain", "--size 120x120 --fit pad"}) {
        ASSERT_EQ(
            zledge(folder, std::string("resize large.jpg --replace --out a.png ") + how).status, 0);
        ASSERT_EQ(
            zledge(folder, std::string("resize same.png --replace --out b.png ") + how).status, 0);
        const Picture part = pictureIn(folder, "a.png"), whole = pictureIn(folder, "b.png");
        ASSERT_EQ(part.pixels->size(), whole.pixels->size()) << how;
        double sum = 0;
        for (std::size_t i = 0; i < part.pixels->pixels().size(); ++i)
            sum += std::abs(greenOf(part.pixels->pixels()[i]) - greenOf(whole.pixels->pixels()[i]));
        EXPECT_LT(sum / static_cast<double>(part.pixels->pixels().size()), 1.0) << how;
    }
}

// A mark over a JPEG that stays one: only what it touches is coded again, and a quality that is
// asked for codes all of it.
TEST(Streams, AMarkOverAJpegLeavesTheRestAsItWas) {
    const Folder folder;
    put(folder, "photo.jpg",
        good(encode(textured({320, 200}, 30), {Content::jpeg, 85, Chroma::half, Effort::release})));
    put(folder, "mark.png",
        png(painted({40, 24}, [](int, int) { return packed(250, 240, 20, 200); })));
    const Json told =
        zledge(folder,
               "over photo.jpg mark.png --at bottom-right --inset 16,16 --out marked.jpg --json")
            .json();
    EXPECT_GT(told["blocks_changed"].get<int>(), 0);
    EXPECT_LT(told["blocks_changed"].get<int>(), told["blocks"].get<int>() / 10);
    const Picture before = pictureIn(folder, "photo.jpg"), after = pictureIn(folder, "marked.jpg");
    for (int y = 0; y < 140; ++y)
        for (int x = 0; x < 320; ++x)
            ASSERT_EQ(after.pixels->row(y)[x], before.pixels->row(y)[x]) << x << ' ' << y;
    EXPECT_GT(redOf(after.pixels->row(170)[285]), 200);
    EXPECT_FALSE(zledge(folder, "over photo.jpg mark.png --quality 60 --out other.jpg --json")
                     .json()
                     .contains("blocks"));
}

TEST(Streams, SizesPlacesAndMattes) {
    const Folder folder;
    const Straight8 mark = painted({20, 10}, [](int x, int y) {
        return x < 10 ? packed(200, 30, 40, 255) : packed(10 * y, 0, 0, 0);
    });
    put(folder, "mark.png", png(mark));
    EXPECT_EQ(zledge(folder,
                     "resize mark.png --size 40x30 --fit place --at bottom-right --out placed.png")
                  .status,
              0);
    const Picture placed = pictureIn(folder, "placed.png");
    EXPECT_EQ(placed.pixels->row(20)[20], packed(200, 30, 40, 255));
    EXPECT_EQ(alphaOf(placed.pixels->row(19)[20]), 0);
    EXPECT_EQ(alphaOf(placed.pixels->row(20)[30]), 0);
    EXPECT_EQ(zledge(folder, "resize mark.png --size 10x5 --out no.jpg").status, 1)
        << "alpha would be lost";
    EXPECT_EQ(zledge(folder, "resize mark.png --size 10x5 --matte '#FFFFFF' --out yes.jpg").status,
              0);
    const Ran larger = zledge(folder, "resize mark.png --size 60x30 --out large.png");
    EXPECT_NE(larger.err.find("enlarged 3.00 times"), std::string::npos) << larger.err;
    const Ran huge = zledge(folder, "resize mark.png --size 20001x1 --out huge.png");
    EXPECT_EQ(huge.status, 2);
    EXPECT_NE(huge.err.find("at most 20,000 px"), std::string::npos) << huge.err;
}

TEST(Streams, WordsThatAreNearlyRightAreRecognised) {
    const Folder folder;
    put(folder, "a.png", png(textured({64, 36})));
    EXPECT_NE(zledge(folder, "chek a.png").err.find("Did you mean check?"), std::string::npos);
    EXPECT_EQ(zledge(folder, "chek a.png").status, 2);
    EXPECT_NE(zledge(folder, "check a.png --brief video-thumbnial")
                  .err.find("Did you mean video-thumbnail?"),
              std::string::npos);
    const Ran failed = zledge(folder, "check nowhere.png --brief video-thumbnail --json");
    EXPECT_EQ(failed.status, 3);
    EXPECT_EQ(failed.json()["exit"], 3);
    EXPECT_NE(failed.json()["error"]["what"].get<std::string>().find("nowhere.png"),
              std::string::npos);
    EXPECT_EQ(zledge(folder, "check a.png --brief digital-prop --json").json()["brief"],
              "digital-prop")
        << "the old id still opens";
}

TEST(Streams, AMendedFileIsWhatItsEndingSays) {
    const Folder folder;
    put(folder, "a.jpg", jpeg(textured({1300, 700})));
    const Ran ran =
        zledge(folder, "check a.jpg --brief video-thumbnail --mend all --out out.png --json");
    EXPECT_EQ(ran.json()["content"], "image/png");
    EXPECT_EQ(pictureIn(folder, "out.png").facts.content, Content::png);
}

// A card of light grey on white, and its soft shadow: neither is taken for the other.
TEST(Streams, AKeySaysWhatItLeavesAndWhatBecomesOfAShadow) {
    const Folder folder;
    const auto card = [](int x, int y) { return x >= 60 && x < 140 && y >= 50 && y < 130; };
    const Straight8 scene = painted({200, 200}, [&](int x, int y) {
        if (card(x, y))
            return x >= 90 && x < 110 && y >= 80 && y < 100 ? packed(255, 255, 255, 255)
                                                            : packed(70, 100, 160, 255);
        const double dx = std::max({62.0 - x, 0.0, x - 142.0}),
                     dy = std::max({60.0 - y, 0.0, y - 140.0});
        const int v =
            static_cast<int>(std::lround(255 - 90 * std::max(0.0, 1 - std::hypot(dx, dy) / 18)));
        return packed(v, v, v, 255);
    });
    put(folder, "card.png", png(scene));
    const Ran kept = zledge(folder, "cut card.png --key auto --out kept.png --json");
    EXPECT_EQ(kept.status, 0) << kept.err;
    EXPECT_EQ(kept.json()["key"]["closed_areas"], 1);
    EXPECT_NE(kept.err.find("One closed area"), std::string::npos) << kept.err;
    EXPECT_EQ(alphaOf(pictureIn(folder, "kept.png").pixels->row(90)[100]), 255);
    EXPECT_GT(alphaOf(pictureIn(folder, "kept.png").pixels->row(138)[100]), 40)
        << "the shadow stays, see-through";
    EXPECT_EQ(
        zledge(folder, "cut card.png --key auto --shadow drop --reach everywhere --out dropped.png")
            .status,
        0);
    EXPECT_EQ(alphaOf(pictureIn(folder, "dropped.png").pixels->row(138)[100]), 0);
    EXPECT_EQ(alphaOf(pictureIn(folder, "dropped.png").pixels->row(90)[100]), 0)
        << "the hole goes, too";
    EXPECT_EQ(zledge(folder, "cut card.png --key auto --shadow off --out ink.png").status, 0);
    EXPECT_EQ(alphaOf(pictureIn(folder, "ink.png").pixels->row(138)[100]), 255);
    EXPECT_EQ(zledge(folder, "cut card.png --key auto --shadow perhaps --out no.png").status, 2);
    // On a wall as a camera takes it, too; what stands alone there is told.
    put(folder, "wall.png", png(spottedWall(3)));
    const Ran wall = zledge(folder, "cut wall.png --key auto --out disc.png --json");
    EXPECT_EQ(wall.status, 0) << wall.err;
    EXPECT_EQ(wall.json()["key"]["spots"], 3);
    EXPECT_NE(wall.err.find("3 spots of nearly the background's colour"), std::string::npos)
        << wall.err;
    const Straight8 disc = pictureIn(folder, "disc.png").pixels->clone();
    EXPECT_EQ(alphaOf(disc.row(100)[150]), 255);
    EXPECT_EQ(alphaOf(disc.row(150)[230]), 0) << "where the wall is darkest";
    // No flat ground: nothing is keyed without a word, and nothing is written.
    put(folder, "photo.png", png(textured({200, 150}, 200)));
    const Ran refused = zledge(folder, "cut photo.png --key auto --out photo-cut.png");
    EXPECT_EQ(refused.status, 1);
    EXPECT_FALSE(std::filesystem::exists(folder / "photo-cut.png"));
}

}  // namespace
}  // namespace zl::test
