// SPDX-License-Identifier: GPL-3.0-or-later
// Each command: names, options, JSON keys and exit status as docs/zledge.1 has them.
#include <cmath>

#include "picture/decode.h"
#include "render/render.h"
#include "store/kit_file.h"
#include "support/demo_files.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::pictureIn;
using test::put;
using test::zledge;

std::vector<std::string> keysOf(const Json& object) {
    std::vector<std::string> keys;
    for (const auto& [key, value] : object.items()) keys.push_back(key);
    std::sort(keys.begin(), keys.end());
    return keys;
}

Json readingIn(const Json& readings, const std::string& id) {
    for (const auto& reading : readings)
        if (reading["id"] == id) return reading;
    return nullptr;
}

TEST(Words, HelpIsThereAndWhatIsNotIsRefused) {
    const test::Folder folder;
    const auto help = zledge(folder, "--help");
    EXPECT_EQ(help.status, 0);
    for (const char* command : {"briefs", "check", "render", "release", "rehearse", "resize",
                                "crop", "fit", "demo", "burn", "legible"}) {
        EXPECT_NE(help.out.find(command), std::string::npos) << command;
        const auto own = zledge(folder, std::string(command) + " --help");
        EXPECT_EQ(own.status, 0);
        EXPECT_NE(own.out.find("--json"), std::string::npos);
    }
    for (const char* words :
         {"", "frobnicate", "check", "check x.png --colour red", "demo",
          "fit x.png --limit many --out y.png", "fit x.png --limit 0 --out y.jpg"})
        EXPECT_EQ(zledge(folder, words).status, 2) << words;
    EXPECT_EQ(zledge(folder, "--version").status, 0);
}

TEST(BriefsCommand, GivesEachWholeBriefWithItsProvenance) {
    const test::Folder folder;
    const auto ran = zledge(folder, "briefs --json");
    ASSERT_EQ(ran.status, 0);
    const Json briefs = ran.json()["briefs"];
    ASSERT_EQ(briefs.size(), 20u);
    EXPECT_EQ(briefs[0]["id"], "video-thumbnail");
    EXPECT_EQ(briefs[0]["limit"], 2'000'000);
    for (const auto& brief : briefs) {
        EXPECT_TRUE(brief.contains("provenance")) << brief["id"];
        for (const auto& zone : brief["zones"])
            EXPECT_TRUE(zone.contains("provenance")) << brief["id"];
    }
    const auto plain = zledge(folder, "briefs");
    EXPECT_EQ(std::count(plain.out.begin(), plain.out.end(), '\n'), 20);
    EXPECT_NE(plain.out.find("png; moving: webm, 20.00 MB, 60 s at most\n"), std::string::npos);
    // A person's own brief is added; a bad one is told and hides none.
    std::filesystem::create_directories(folder / "data/zinc-ledge/briefs");
    Json own = briefs[0];
    own["id"] = "my-own";
    put(folder, "data/zinc-ledge/briefs/my-own.json", test::bytesOf(own.dump()));
    put(folder, "data/zinc-ledge/briefs/broken.json", test::bytesOf("{\"id\": 3"));
    const auto more = zledge(folder, "briefs --json");
    EXPECT_EQ(more.status, 0);
    EXPECT_EQ(more.json()["briefs"].size(), 21u);
    EXPECT_NE(more.err.find("broken.json"), std::string::npos);
}

TEST(CheckCommand, MeasuresAFile) {
    const test::Folder folder;
    put(folder, "good.png", test::png(test::textured({1280, 720})));
    const auto ran = zledge(folder, "check good.png --brief video-thumbnail --json");
    EXPECT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    EXPECT_EQ(keysOf(json), (std::vector<std::string>{"brief", "bytes", "content", "file", "height",
                                                      "readings", "verdict", "width"}));
    EXPECT_EQ(json["file"], "good.png");
    EXPECT_EQ(json["content"], "image/png");
    EXPECT_EQ(json["bytes"], good(readFile(folder / "good.png")).size());
    EXPECT_EQ(json["verdict"], "pass");
    const Json frame = readingIn(json["readings"], "frame");
    EXPECT_EQ(keysOf(frame), (std::vector<std::string>{"findings", "id", "limit", "mends", "says",
                                                       "title", "unit", "value", "verdict"}));
    EXPECT_EQ(frame["value"], (Json{1280, 720}));
    EXPECT_TRUE(readingIn(json["readings"], "stretch").is_null()) << "a file has no layers";
    EXPECT_EQ(readingIn(json["readings"], "weight")["value"], json["bytes"]);

    put(folder, "wide.png", test::png(test::textured({1920, 1200}, 0)));
    const auto bad = zledge(folder, "check wide.png --brief video-thumbnail --json");
    EXPECT_EQ(bad.status, 1) << "a reading failed";
    EXPECT_EQ(bad.json()["verdict"], "fail");
    EXPECT_EQ(readingIn(bad.json()["readings"], "frame")["mends"],
              (Json{"crop-to-frame", "pad-to-frame"}));
    EXPECT_EQ(readingIn(bad.json()["readings"], "frame")["findings"][0]["rect"],
              (Json{0, 60, 1920, 1080}));
    EXPECT_EQ(zledge(folder, "check wide.png --brief free-frame").status, 0);
    EXPECT_EQ(zledge(folder, "check wide.png").status, 2);
    EXPECT_EQ(zledge(folder, "check wide.png --brief no-such").status, 2);
    EXPECT_EQ(zledge(folder, "check wide.png --brief free-frame --piece p").status, 2);
}

TEST(CheckCommand, MendsAFileIntoAnotherOne) {
    const test::Folder folder;
    const Bytes before = test::png(test::textured({1920, 1200}, 0));
    put(folder, "wide.png", before);
    EXPECT_EQ(zledge(folder, "check wide.png --brief video-thumbnail --mend crop-to-frame").status,
              2)
        << "no --out";
    EXPECT_EQ(zledge(folder, "check wide.png --brief video-thumbnail --mend unheard-of --out x.png")
                  .status,
              2);
    EXPECT_EQ(
        zledge(
            folder,
            "check wide.png --brief video-thumbnail --mend crop-to-frame --out wide.png --replace")
            .status,
        4)
        << "an input is never overwritten";
    const auto ran = zledge(
        folder,
        "check wide.png --brief video-thumbnail --mend crop-to-frame --out fixed.png --json");
    EXPECT_EQ(ran.status, 0) << ran.err << ran.out;
    EXPECT_EQ(ran.json()["width"], 1280);
    EXPECT_EQ(ran.json()["file"], "fixed.png");
    EXPECT_EQ(pictureIn(folder, "fixed.png").facts.size, (PixelSize{1280, 720}));
    EXPECT_EQ(
        zledge(folder, "check wide.png --brief video-thumbnail --mend all --out fixed.png").status,
        4)
        << "it stands there already";
    EXPECT_EQ(zledge(folder,
                     "check wide.png --brief video-thumbnail --mend all --out fixed.png --replace")
                  .status,
              0);
    EXPECT_EQ(good(readFile(folder / "wide.png")), before);
    put(folder, "small.png", test::png(test::textured({640, 360})));
    EXPECT_EQ(
        zledge(folder, "check small.png --brief video-thumbnail --mend crop-to-frame --out s.png")
            .status,
        1)
        << "cropping adds no pixels";
    EXPECT_FALSE(std::filesystem::exists(folder / "s.png"));
}

TEST(CheckCommand, MeasuresAndMendsAKit) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const auto all = zledge(folder, "check kit/mossgate-signals.zlkit --json");
    EXPECT_EQ(all.status, 1);
    const Json json = all.json();
    EXPECT_EQ(keysOf(json), (std::vector<std::string>{"kit", "pieces"}));
    ASSERT_EQ(json["pieces"].size(), 17u);
    EXPECT_EQ(keysOf(json["pieces"][0]),
              (std::vector<std::string>{"brief", "piece", "readings", "title", "verdict"}));
    for (const auto& piece : json["pieces"]) {
        const std::set<std::string> faults{
            "thumbnail-first-try", "corner-mark-old", "corner-mark-on-white", "overlay-crowded",
            "banner-wide",         "header-tangled",  "cat-first-try"};
        const bool faulty = faults.contains(piece["piece"].get<std::string>());
        EXPECT_EQ(piece["verdict"] == "fail", faulty) << piece["piece"];
    }
    EXPECT_EQ(zledge(folder, "check kit/mossgate-signals.zlkit --piece thumbnail").status, 0);
    EXPECT_EQ(zledge(folder, "check kit/mossgate-signals.zlkit --piece nobody").status, 2);
    EXPECT_EQ(zledge(folder, "check kit/mossgate-signals.zlkit --brief video-thumbnail").status, 2);

    const auto mended = zledge(folder,
                               "check kit/mossgate-signals.zlkit --piece thumbnail-first-try "
                               "--mend all --out mended.zlkit --json");
    EXPECT_EQ(mended.status, 0) << mended.err << mended.out;
    EXPECT_EQ(mended.json()["pieces"][0]["verdict"], "pass");
    const Kit kit = good(openKit(folder / "mended.zlkit"));
    EXPECT_EQ(kit.piece("thumbnail-first-try")->frame, (PixelSize{1280, 720}));
    EXPECT_EQ(*kit.piece("corner-mark-old"),
              *good(openKit(folder / "kit/mossgate-signals.zlkit")).piece("corner-mark-old"))
        << "the rest is left alone";
}

TEST(RenderCommand, WritesWhatTheReleaseWouldWrite) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const auto ran =
        zledge(folder, "render kit/mossgate-signals.zlkit --piece overlay --out o.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(ran.json()["content"], "image/png");
    const Kit kit = good(openKit(folder / "kit/mossgate-signals.zlkit"));
    InkStore store;
    const Straight8 frame = good(releaseFrame({*kit.piece("overlay"), kit}, store));
    const Picture written = pictureIn(folder, "o.png");
    EXPECT_TRUE(
        std::equal(frame.pixels().begin(), frame.pixels().end(), written.pixels->pixels().begin()));
    EXPECT_EQ(zledge(folder,
                     "render kit/mossgate-signals.zlkit --piece thumbnail --out t.jpg --quality 70")
                  .status,
              0);
    EXPECT_EQ(pictureIn(folder, "t.jpg").facts.content, Content::jpeg);
    EXPECT_EQ(
        zledge(folder,
               "render kit/mossgate-signals.zlkit --piece thumbnail --out t.bin --format jpeg")
            .status,
        0);
    EXPECT_EQ(pictureIn(folder, "t.bin").facts.content, Content::jpeg);
    EXPECT_EQ(
        zledge(folder, "render kit/mossgate-signals.zlkit --piece overlay --out o.jpg").status, 1)
        << "it would lose its alpha";
    EXPECT_EQ(
        zledge(folder, "render kit/mossgate-signals.zlkit --piece overlay --out o.doc").status, 2);
    EXPECT_EQ(zledge(folder, "render kit/mossgate-signals.zlkit --piece nobody --out n.png").status,
              2);
    EXPECT_EQ(
        zledge(folder, "render kit/mossgate-signals.zlkit --piece overlay --out o.png").status, 4);
    EXPECT_EQ(zledge(folder, "render kit/mossgate-signals.zlkit --piece overlay --out no/where.png")
                  .status,
              4);
}

TEST(CropCommand, KeepsTheShapeExactly) {
    const test::Folder folder;
    put(folder, "in.png", test::png(test::textured({1000, 1000})));
    const auto ran = zledge(folder, "crop in.png --aspect 16:9 --out a.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    EXPECT_EQ(json["rect"], (Json{0, 218.75, 1000, 562.5})) << "a box is real-valued";
    // 562.5 px: the whole-pixel frame nearest in shape, within 0.1 %.
    EXPECT_LT(std::abs(json["width"].get<double>() / json["height"].get<double>() / (16.0 / 9) - 1),
              0.001);
    EXPECT_EQ(zledge(folder, "crop in.png --aspect 16:9 --size 1280x720 --out b.png").status, 0);
    EXPECT_EQ(pictureIn(folder, "b.png").facts.size, (PixelSize{1280, 720}));
    EXPECT_EQ(zledge(folder, "crop in.png --aspect 16:9 --size 1280x800 --out c.png").status, 2)
        << "refuses to stretch";
    EXPECT_EQ(zledge(folder, "crop in.png --rect 10,20,607.5,300 --out d.png --json").status, 0);
    EXPECT_EQ(zledge(folder, "crop in.png --aspect 16:9 --focus 0.5,0 --out e.png --json")
                  .json()["rect"][1],
              0);
    EXPECT_EQ(zledge(folder, "crop in.png --aspect 16:9 --focus auto --out f.png").status, 0);
    for (const char* words :
         {"--aspect 16", "--aspect 0:9", "--rect 1,2,3", "--rect 900,900,200,200", "--rect 0,0,0,5",
          "--aspect 16:9 --focus 2,2", "--aspect 16:9 --rect 0,0,50,50 --focus 0,0", ""})
        EXPECT_EQ(zledge(folder, std::string("crop in.png ") + words + " --out z.png").status, 2)
            << words;
    EXPECT_FALSE(std::filesystem::exists(folder / "z.png"));
}

// A part of an SVG that is made larger is drawn anew: sharp, and not said to be enlarged.
TEST(CropCommand, DrawsAPartOfAnSvgAnew) {
    const test::Folder folder;
    put(folder, "half.svg",
        test::bytesOf("<svg xmlns='http://www.w3.org/2000/svg' width='40' height='40'><rect "
                      "width='20' height='40' fill='#FF0000'/></svg>"));
    const auto ran =
        zledge(folder, "crop half.svg --rect 10,10,20,10 --size 800x400 --out part.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(ran.json()["rect"], (Json{10, 10, 20, 10})) << "in px of its own size";
    EXPECT_TRUE(ran.json()["enlarged"].is_null());
    const Picture part = pictureIn(folder, "part.png");
    ASSERT_EQ(part.facts.size, (PixelSize{800, 400}));
    EXPECT_EQ(part.pixels->row(200)[398], packed(255, 0, 0, 255));
    EXPECT_EQ(alphaOf(part.pixels->row(200)[401]), 0);
}

TEST(FitCommand, FindsTheBestUnderTheLimit) {
    const test::Folder folder;
    put(folder, "in.png", test::png(test::noisy({1280, 720})));
    const auto ran = zledge(folder, "fit in.png --brief video-thumbnail --out a.jpg --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    for (const char* key :
         {"out", "content", "bytes", "limit", "quality", "alpha_kept", "difference", "tried"})
        EXPECT_TRUE(json.contains(key)) << key;
    EXPECT_EQ(keysOf(json["difference"]), (std::vector<std::string>{"de00_p99", "ssim"}));
    EXPECT_EQ(json["bytes"], good(readFile(folder / "a.jpg")).size());
    EXPECT_LE(json["bytes"].get<int>(), 2'000'000);
    EXPECT_EQ(zledge(folder, "fit in.png --limit 700 --out b.jpg").status, 1)
        << "no quality meets it";
    EXPECT_FALSE(std::filesystem::exists(folder / "b.jpg"));
    EXPECT_EQ(zledge(folder, "fit in.png --out b.jpg").status, 2);
    EXPECT_EQ(zledge(folder, "fit in.png --brief video-thumbnail --limit 5 --out b.jpg").status, 2);
    EXPECT_EQ(zledge(folder, "fit in.png --limit 300000 --formats png,tga --out b").status, 2);
    const auto both =
        zledge(folder, "fit in.png --limit 300000 --formats png,jpeg --out c.png --json");
    EXPECT_EQ(both.status, 0);
    EXPECT_EQ(both.json()["out"], "c.jpg") << "the ending follows the content";

    put(folder, "glass.png", test::png(Straight8::cleared({64, 64}, packed(200, 10, 10, 100))));
    EXPECT_EQ(zledge(folder, "fit glass.png --limit 90000 --out g.jpg").status, 1)
        << "alpha would be lost";
    const auto matted =
        zledge(folder, "fit glass.png --limit 90000 --matte '#FFFFFF' --out g.jpg --json");
    EXPECT_EQ(matted.status, 0);
    EXPECT_EQ(matted.json()["alpha_kept"], false);
    EXPECT_EQ(zledge(folder, "fit glass.png --limit 90000 --out g.png --json").json()["alpha_kept"],
              true);
    EXPECT_EQ(zledge(folder, "fit glass.png --limit 90000 --matte pink --out h.jpg").status, 2);
}

TEST(DemoCommand, WritesTheKitAndItsMedia) {
    const test::Folder folder;
    test::putDemo(folder, "there");
    EXPECT_EQ(zledge(folder, "demo --out there").status, 4);
    std::filesystem::remove_all(folder / "there/media");
    const auto ran = zledge(folder, "demo --out there --replace --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(test::demoFolder()))
        if (entry.is_regular_file()) {
            const Path name = std::filesystem::relative(entry.path(), test::demoFolder());
            EXPECT_EQ(good(readFile(folder / ("there" / name).string())),
                      good(readFile(entry.path())))
                << name << ": the same each time";
        }
    EXPECT_TRUE(std::filesystem::exists(folder / "there/mossgate-signals.zlkit"));
    int videos = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder / "there/media")) {
        if (entry.path().extension() != ".mp4") {
            EXPECT_TRUE(decode(good(readFile(entry.path())), "m").has_value()) << entry.path();
            continue;
        }
        ++videos;
        const auto facts = zledge(folder, "video " + entry.path().string() + " --json").json();
        EXPECT_EQ(facts["frames"], entry.path().stem() == "up-the-mast" ? 75 : 300);
        EXPECT_EQ(facts["sound"].size(), 1u);
    }
    EXPECT_EQ(videos, 2);
    const Kit kit = good(openKit(folder / "there/mossgate-signals.zlkit"));
    std::vector<std::string> ids;
    for (const Piece& piece : kit.pieces) ids.push_back(piece.id);
    EXPECT_EQ(ids, (std::vector<std::string>{
                       "thumbnail", "thumbnail-first-try", "corner-mark", "corner-mark-old",
                       "corner-mark-on-white", "overlay", "card", "overlay-crowded", "banner",
                       "banner-wide", "header", "header-tangled", "page-background",
                       "cat-thumbnail", "cat-first-try", "moving-card", "film-with-mark"}));
    EXPECT_EQ(zledge(folder, "demo --out there/mossgate-signals.zlkit").status, 4)
        << "a file is no folder";
}

}  // namespace
}  // namespace zl
