// SPDX-License-Identifier: GPL-3.0-or-later
// cut, edges, and the mends of edges through check --mend: names, options, JSON keys, exit status.
#include <fmt/core.h>

#include <cmath>
#include <map>
#include <set>

#include "support/demo_files.h"
#include "support/scenes.h"
#include "support/subject_scenes.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::pictureIn;
using test::put;
using test::zledge;

Straight8 logo(std::uint32_t ground = 0xFFFFFFFFu) {
    return test::painted({80, 60}, [=](int x, int y) {
        const double r = std::hypot(x + 0.5 - 40, y + 0.5 - 30);
        return r < 20 && r > 6 ? packed(30, 60, 90, 255) : ground;
    });
}

long long inkIn(const Straight8& p) {
    return std::count_if(p.pixels().begin(), p.pixels().end(),
                         [](std::uint32_t v) { return v >> 24 >= 128; });
}

TEST(CutCommand, KeysAutoByColourLinkedAndEverywhere) {
    const test::Folder folder;
    put(folder, "logo.png", test::png(logo()));
    const auto ran = zledge(folder, "cut logo.png --key auto --out a.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(ran.json()["key"]["colour"], "#FFFFFF");
    EXPECT_EQ(ran.json()["key"]["sure"], 1.0);
    EXPECT_FALSE(ran.json()["key"]["lossy"].get<bool>());
    const Picture linked = pictureIn(folder, "a.png");
    EXPECT_EQ(linked.facts.size, (PixelSize{80, 60}));
    EXPECT_EQ(alphaOf(linked.pixels->row(0)[0]), 0);
    EXPECT_EQ(alphaOf(linked.pixels->row(30)[40]), 255) << "the hole";
    ASSERT_EQ(
        zledge(folder, "cut logo.png --key '#FFFFFF' --reach everywhere --tolerance 10 --out b.png")
            .status,
        0);
    EXPECT_EQ(alphaOf(pictureIn(folder, "b.png").pixels->row(30)[40]), 0);
    ASSERT_EQ(zledge(folder, "cut logo.png --key auto --trim 3 --out c.png").status, 0);
    EXPECT_EQ(pictureIn(folder, "c.png").facts.size, (PixelSize{46, 46}))
        << "40 px of ink and 3 px on each side";
}

TEST(CutCommand, CutsCirclesAndRoundCorners) {
    const test::Folder folder;
    put(folder, "flat.png",
        test::png(test::painted({100, 80}, [](int, int) { return packed(10, 20, 30, 255); })));
    ASSERT_EQ(zledge(folder, "cut flat.png --circle --out a.png").status, 0);
    EXPECT_NEAR(static_cast<double>(inkIn(*pictureIn(folder, "a.png").pixels)),
                3.14159265 * 40 * 40, 30);
    ASSERT_EQ(zledge(folder, "cut flat.png --circle 50.5,40,20.25 --out b.png").status, 0);
    EXPECT_NEAR(static_cast<double>(inkIn(*pictureIn(folder, "b.png").pixels)),
                3.14159265 * 20.25 * 20.25, 12);
    ASSERT_EQ(zledge(folder, "cut flat.png --round 10 --out c.png").status, 0);
    EXPECT_NEAR(static_cast<double>(inkIn(*pictureIn(folder, "c.png").pixels)),
                8000 - (4 - 3.14159265) * 100, 8);
    ASSERT_EQ(zledge(folder, "cut flat.png --circle 50,40,20 --feather 10 --out d.png").status, 0);
    const auto soft = pictureIn(folder, "d.png");
    EXPECT_NEAR(alphaOf(soft.pixels->row(40)[69]), 128, 12) << "half covered where the edge was";
}

TEST(CutCommand, RefusesWhatCannotBe) {
    const test::Folder folder;
    put(folder, "logo.png", test::png(logo()));
    put(folder, "flat.png",
        test::png(test::painted({30, 30}, [](int, int) { return 0xFFFFFFFFu; })));
    put(folder, "photo.png", test::png(test::textured({90, 60}, 200)));
    put(folder, "clear.png", test::png(Straight8::cleared({20, 20})));
    for (const char* words :
         {"cut logo.png --out x.png", "cut logo.png --key purple --out x.png",
          "cut logo.png --key auto --reach far --out x.png",
          "cut logo.png --key auto --tolerance 101 --out x.png",
          "cut logo.png --key auto --tolerance nan --out x.png",
          "cut logo.png --circle 1,2 --out x.png", "cut logo.png --circle 5,5,0 --out x.png",
          "cut logo.png --round -3 --out x.png", "cut logo.png --tolerance 5 --circle --out x.png",
          "cut logo.png --key auto --feather 3 --out x.png",
          "cut logo.png --key auto --trim -1 --out x.png", "cut logo.png --key auto --out x.jpg"})
        EXPECT_EQ(zledge(folder, words).status, 2) << words;
    const auto everything = zledge(folder, "cut flat.png --key auto --out x.png");
    EXPECT_EQ(everything.status, 1);
    EXPECT_NE(everything.err.find("nothing would be left"), std::string::npos);
    EXPECT_EQ(zledge(folder, "cut clear.png --key auto --out x.png").status, 1);
    EXPECT_EQ(zledge(folder, "cut clear.png --trim --out x.png").status, 1);
    EXPECT_EQ(zledge(folder, "cut nobody.png --key auto --out x.png").status, 3);
    EXPECT_EQ(zledge(folder, "cut logo.png --key auto --out logo.png").status, 4)
        << "an input is never overwritten";
    EXPECT_EQ(zledge(folder, "cut logo.png --key auto --replace --out logo.png").status, 4);
    EXPECT_FALSE(std::filesystem::exists(folder / "x.png"));
    const auto unsure = zledge(folder, "cut photo.png --key auto --out y.png");
    EXPECT_NE(unsure.err.find("% of the border"), std::string::npos) << "a guess is told";
}

Straight8 stained() {
    const test::Scene scene = test::sceneOf({28, 52, 84}, 0);
    return test::painted(scene.size, [&](int x, int y) {
        const double a = scene.alpha[scene.at(x, y)], k = 0.7 * (1 - a);
        const test::Rgb& f = scene.ink[scene.at(x, y)];
        if (x > 150 && x < 154 && y > 3 && y < 7) return packed(90, 90, 90, 255);
        return a <= 0 ? 0x00FFFFFFu
                      : test::rounded({f[0] + (255 - f[0]) * k, f[1] + (255 - f[1]) * k,
                                       f[2] + (255 - f[2]) * k},
                                      static_cast<int>(std::lround(255 * a)));
    });
}

// A smooth disc with its own colour under the edge.
Straight8 cleanDisc() {
    return test::painted({120, 120}, [](int x, int y) {
        const double a = std::clamp(45.5 - std::hypot(x + 0.5 - 60, y + 0.5 - 60), 0.0, 1.0);
        return packed(30, 60, 90, static_cast<int>(std::lround(255 * a)));
    });
}

TEST(EdgesCommand, MeasuresAndMaps) {
    const test::Folder folder;
    put(folder, "mark.png", test::png(stained()));
    const auto ran = zledge(folder, "edges mark.png --map map.png --json");
    EXPECT_EQ(ran.status, 1) << "a reading failed";
    const Json json = ran.json();
    ASSERT_TRUE(json.contains("readings"));
    EXPECT_EQ(json["map"], "map.png");
    std::map<std::string, Json> byId;
    for (const auto& r : json["readings"]) byId[r["id"]] = r;
    for (const char* id : {"coverage", "fringe", "steps", "specks", "hidden-colour"})
        EXPECT_TRUE(byId.count(id)) << id;
    EXPECT_EQ(byId["fringe"]["verdict"], "fail");
    EXPECT_NE(byId["fringe"]["says"].get<std::string>().find("white rim"), std::string::npos);
    EXPECT_EQ(byId["specks"]["value"], 1);
    EXPECT_EQ(pictureIn(folder, "map.png").facts.size, (PixelSize{320, 272}));
    EXPECT_EQ(zledge(folder, "edges mark.png --map map.png").status, 4)
        << "it stands there already";
    EXPECT_EQ(zledge(folder, "edges mark.png --map mark.png --replace").status, 4);
    EXPECT_EQ(zledge(folder, "edges mark.png --map map.jpg").status, 2);
    put(folder, "clean.png", test::png(cleanDisc()));
    EXPECT_EQ(zledge(folder, "edges clean.png").status, 0) << "nothing is wrong with it";
    EXPECT_EQ(zledge(folder, "edges nobody.png").status, 3);
    EXPECT_EQ(zledge(folder, "edges mark.png --json").json()["map"], nullptr);
}

TEST(CheckCommand, MendsEdgesOfAFile) {
    const test::Folder folder;
    put(folder, "mark.png", test::png(stained()));
    const auto verdictOf = [](const test::Ran& ran, const char* id) {
        const Json json = ran.json();
        for (const auto& r : json["readings"])
            if (r["id"] == id) return r["verdict"].get<std::string>();
        return std::string("missing");
    };
    const auto off = zledge(
        folder, "check mark.png --brief free-frame --mend take-fringe-off --out off.png --json");
    EXPECT_EQ(verdictOf(off, "fringe"), "pass");
    EXPECT_EQ(verdictOf(off, "specks"), "watch") << "only what was asked for";
    const auto all =
        zledge(folder, "check mark.png --brief free-frame --mend all --out all.png --json");
    EXPECT_EQ(verdictOf(all, "fringe"), "pass");
    EXPECT_EQ(verdictOf(all, "hidden-colour"), "pass");
    EXPECT_EQ(verdictOf(all, "specks"), "watch") << "that mend asks";
    const auto specks = zledge(
        folder, "check mark.png --brief free-frame --mend remove-specks --out specks.png --json");
    EXPECT_EQ(verdictOf(specks, "specks"), "pass");
}

TEST(CheckCommand, MendsTheDemosFaultyMark) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const auto passes = [&](const std::string& words, const std::set<std::string>& ids) {
        const Json json = zledge(folder, "check kit/mossgate-signals.zlkit --json " + words).json();
        std::size_t seen = 0;
        for (const auto& r : json["pieces"][0]["readings"]) {
            if (!ids.contains(r["id"].get<std::string>())) continue;
            ++seen;
            EXPECT_EQ(r["verdict"], "pass") << r["id"] << ": " << r["says"];
        }
        EXPECT_EQ(seen, ids.size());
    };
    passes("--piece corner-mark-old --mend all --out mended.zlkit",
           {"format", "fringe", "steps", "cut-off", "coverage"});
    passes("--piece corner-mark-on-white --mend key-background --out keyed.zlkit",
           {"coverage", "format", "fringe", "steps", "specks", "hidden-colour"});
}

// A scene with known alpha: a box, strokes, what stays, what the JSON tells.
TEST(CutCommand, CutsASubjectOut) {
    const test::Folder folder;
    const test::SubjectScene scene =
        test::subjectScene(test::Form::person, test::Contrast::easy, 3, 320);
    put(folder, "photo.png", test::png(scene.picture));
    const std::string box =
        fmt::format("{},{},{},{}", scene.box.x, scene.box.y, scene.box.width, scene.box.height);
    const auto ran = zledge(folder, "cut photo.png --subject " + box + " --out a.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json told = ran.json()["subject"];
    EXPECT_EQ(told["trust"], 1.0);
    EXPECT_GT(told["unsure"].get<double>(), 0);
    EXPECT_LT(told["unsure"].get<double>(), 0.5);
    EXPECT_TRUE(told["timings"].contains("matte"));
    EXPECT_GT(test::errorsOf(scene, *pictureIn(folder, "a.png").pixels).overlap, 0.97);
    // A hole, by a drop stroke; a place far away, by a keep stroke.
    const RealPoint middle = scene.box.centre();
    ASSERT_EQ(zledge(folder, "cut photo.png --subject " + box +
                                 fmt::format(" --drop {},{} --keep 5,5,15,5 --stroke 8 --out b.png",
                                             middle.x, middle.y))
                  .status,
              0);
    const Picture b = pictureIn(folder, "b.png");
    EXPECT_EQ(alphaOf(b.pixels->row(static_cast<int>(middle.y))[static_cast<int>(middle.x)]), 0);
    EXPECT_EQ(alphaOf(b.pixels->row(5)[10]), 255);
    ASSERT_EQ(
        zledge(folder, "cut photo.png --subject " + box + " --part filled --out c.png").status, 0);
    EXPECT_TRUE(isOpaque(*pictureIn(folder, "c.png").pixels));
    // The file may stand behind a stroke.
    EXPECT_EQ(zledge(folder, "cut --subject=" + box + " --keep 5,5 photo.png --out d.png").status,
              0);
}

TEST(CutCommand, DoesNotTakeAGuessThatIsNotSure) {
    const test::Folder folder;
    put(folder, "plain.png",
        test::png(test::painted({90, 60}, [](int, int) { return packed(90, 90, 90, 255); })));
    const auto ran = zledge(folder, "cut plain.png --subject --out a.png");
    EXPECT_EQ(ran.status, 1);
    EXPECT_NE(ran.err.find("not sure"), std::string::npos) << ran.err;
    EXPECT_FALSE(std::filesystem::exists(folder / "a.png"));
    const auto taken = zledge(folder, "cut plain.png --subject --take-guess --out a.png");
    EXPECT_EQ(taken.status, 1) << "one colour has no subject";
    EXPECT_NE(taken.err.find("nothing is left"), std::string::npos) << taken.err;
    // A subject that is plain to see is taken.
    const test::SubjectScene scene =
        test::subjectScene(test::Form::blob, test::Contrast::easy, 3, 320);
    put(folder, "photo.png", test::png(scene.picture));
    const auto sure = zledge(folder, "cut photo.png --subject --out b.png --json");
    ASSERT_EQ(sure.status, 0) << sure.err;
    EXPECT_GE(sure.json()["subject"]["trust"].get<double>(), 0.85);
    EXPECT_GT(test::errorsOf(scene, *pictureIn(folder, "b.png").pixels).overlap, 0.97);
}

TEST(CutCommand, RefusesWordsOfASubjectThatMakeNoSense) {
    const test::Folder folder;
    put(folder, "photo.png",
        test::png(test::painted({90, 60}, [](int, int) { return packed(90, 90, 90, 255); })));
    for (const char* words :
         {"--keep 3,3", "--subject --key auto", "--subject 1,2,3", "--subject 100,0,10,10",
          "--subject 0,0,0,5", "--subject --keep 1,2,3", "--subject --keep a,b",
          "--subject --edge soft", "--subject --part sky", "--subject --shadow off",
          "--subject --keep 1,1 --stroke 0"}) {
        const auto ran = zledge(folder, std::string("cut photo.png ") + words + " --out a.png");
        EXPECT_EQ(ran.status, 2) << words << ": " << ran.err;
        EXPECT_FALSE(std::filesystem::exists(folder / "a.png"));
    }
}

}  // namespace
}  // namespace zl
