// SPDX-License-Identifier: GPL-3.0-or-later
// rehearse for every brief, map, release with slices and pages, report: as a script meets them.
#include "support/demo_files.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::pictureIn;
using test::put;
using test::Ran;
using test::zledge;

TEST(RehearseCommand, DrawsEveryBriefsSurfaces) {
    const test::Folder folder;
    for (const Brief& brief : test::briefs().all) {
        if (brief.id == "free-frame" || brief.id == "video-thumbnail") continue;
        // Round, so that a see-through brief has something see-through.
        const PixelSize size = brief.frame;
        put(folder, brief.id + ".png", test::png(test::painted(size, [&](int x, int y) {
                const double dx = (x + 0.5) / size.width - 0.5, dy = (y + 0.5) / size.height - 0.5;
                return dx * dx + dy * dy < 0.2                  ? packed(180, 60, 40, 255)
                       : brief.alpha == AlphaDemand::seeThrough ? 0u
                                                                : packed(20, 30, 40, 255);
            })));
        const bool png = brief.accepts("png");
        const Ran ran = zledge(folder, "rehearse " + brief.id + ".png --brief " + brief.id +
                                           " --out r-" + brief.id + " --json");
        EXPECT_EQ(ran.status, png ? 0 : 1) << brief.id << ran.err;
        const Json json = ran.json();
        std::set<std::string> drawn;
        for (const auto& surface : json["surfaces"]) {
            drawn.insert(surface["id"].get<std::string>());
            const Picture picture =
                pictureIn(folder, "r-" + brief.id + "/" + surface["file"].get<std::string>());
            EXPECT_EQ(picture.facts.size, (PixelSize{surface["width"], surface["height"]}));
            const auto r = surface["piece_rect"].get<std::array<int, 4>>();
            EXPECT_TRUE(r[0] >= 0 && r[1] >= 0 && r[2] > 0 && r[3] > 0) << surface["id"];
            EXPECT_TRUE(r[0] + r[2] <= picture.facts.size.width &&
                        r[1] + r[3] <= picture.facts.size.height)
                << surface["id"];
        }
        if (!png) continue;
        EXPECT_GE(drawn.size(), brief.surfaces.size()) << brief.id;
    }
}

TEST(RehearseCommand, AMarkShowsWhenItIsTold) {
    const test::Folder folder;
    put(folder, "mark.png", test::png(test::painted({150, 150}, [](int x, int y) {
            return x > 30 && y > 30 && x < 120 && y < 120 ? packed(250, 0, 0, 255) : 0u;
        })));
    const std::string rehearse = "rehearse mark.png --brief corner-mark --json ";
    const Ran from = zledge(folder, rehearse + "--out f --show from:30");
    ASSERT_EQ(from.status, 0) << from.err;
    const Json json = from.json();
    int pairs = 0;
    for (const auto& surface : json["surfaces"]) {
        const std::string id = surface["id"];
        if (!id.ends_with("-after")) continue;
        const std::string before = id.substr(0, id.size() - 6) + "-before.png";
        ASSERT_TRUE(std::filesystem::exists(folder / ("f/" + before))) << before;
        const auto r = surface["piece_rect"].get<std::array<int, 4>>();
        const int x = r[0] + r[2] / 2, y = r[1] + r[3] / 2;
        EXPECT_EQ(pictureIn(folder, "f/" + id + ".png").pixels->row(y)[x], packed(250, 0, 0, 255))
            << id;
        EXPECT_NE(pictureIn(folder, "f/" + before).pixels->row(y)[x], packed(250, 0, 0, 255)) << id;
        ++pairs;
    }
    EXPECT_EQ(pairs, 6) << "two widths, three footages";
    EXPECT_EQ(zledge(folder, rehearse + "--out c --show closing").status, 0);
    EXPECT_EQ(zledge(folder, rehearse + "--out t --show throughout").status, 0);
    const Ran late = zledge(folder, rehearse + "--out l --show from:900");
    EXPECT_EQ(late.status, 2);
    EXPECT_NE(late.err.find("14:05"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(folder / "l"));
    EXPECT_EQ(zledge(folder, rehearse + "--out l --show from:900 --length 20:00").status, 0);
    for (const char* bad : {"--show sometimes", "--show from:x", "--length 0:00", "--length abc"})
        EXPECT_EQ(zledge(folder, rehearse + "--out b " + bad).status, 2) << bad;
    put(folder, "t.png", test::png(test::textured({1280, 720})));
    EXPECT_EQ(
        zledge(folder, "rehearse t.png --brief video-thumbnail --out v --show closing").status, 2)
        << "it has no player";
}

TEST(MapCommand, WritesThePageAndItsPicture) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const std::string kit = "kit/mossgate-signals.zlkit";
    const Ran ran = zledge(folder, "map " + kit + " --piece header --out page.html --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    EXPECT_EQ(json["regions"], 3);
    EXPECT_EQ(pictureIn(folder, "page.png").facts.size, (PixelSize{970, 150}));
    const std::string html = test::textOf(good(readFile(folder / "page.html")));
    EXPECT_NE(html.find("src=\"page.png\""), std::string::npos);
    EXPECT_EQ(zledge(folder, "map " + kit + " --piece header --out page.html").status, 4)
        << "it stands there already";
    EXPECT_EQ(zledge(folder, "map " + kit + " --piece header --out page.html --replace").status, 0);
    EXPECT_EQ(
        zledge(folder, "map " + kit + " --piece page-background --slice header --out strip.html")
            .status,
        0);
    EXPECT_EQ(pictureIn(folder, "strip.png").facts.size, (PixelSize{970, 150}));
    const Ran tangled = zledge(folder, "map " + kit + " --piece header-tangled --out bad.html");
    EXPECT_EQ(tangled.status, 1);
    EXPECT_NE(tangled.err.find("no scheme"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(folder / "bad.html"));
    EXPECT_EQ(zledge(folder, "map " + kit + " --piece thumbnail --out none.html").status, 2)
        << "no link regions";
    EXPECT_EQ(zledge(folder, "map " + kit + " --piece nobody --out none.html").status, 2);
    EXPECT_EQ(
        zledge(folder, "map " + kit + " --piece header --slice nothing --out none.html").status, 2);
    EXPECT_EQ(zledge(folder, "map missing.zlkit --piece header --out none.html").status, 3);
    EXPECT_EQ(zledge(folder, "map " + kit + " --piece header --out page.png --replace").status, 2)
        << "the page would be the picture";
}

TEST(CheckCommand, NamesEachFaultOfTheDemosPlacesAndTheGoodOnesPass) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const std::string check = "check kit/mossgate-signals.zlkit --json --piece ";
    const std::map<std::string, std::vector<std::string>> faults{
        {"overlay-crowded", {"zones"}},
        {"banner-wide", {"zones"}},
        {"header-tangled", {"links", "lettering"}}};
    for (const auto& [piece, readings] : faults) {
        const Ran ran = zledge(folder, check + piece);
        EXPECT_EQ(ran.status, 1) << piece;
        const Json json = ran.json();
        for (const std::string& id : readings) {
            bool failed = false;
            for (const auto& reading : json["pieces"][0]["readings"])
                failed = failed || (reading["id"] == id && reading["verdict"] == "fail");
            EXPECT_TRUE(failed) << piece << ' ' << id;
        }
    }
    for (const char* piece : {"overlay", "banner", "header", "page-background"})
        EXPECT_EQ(zledge(folder, check + piece).status, 0) << piece;
}

TEST(ReleaseCommand, BringsSlicesAndPagesAlong) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const Ran ran = zledge(
        folder, "release kit/mossgate-signals.zlkit --piece page-background --out out --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    EXPECT_EQ(json["beside"].size(), 3u);
    for (const auto& file : json["beside"])
        EXPECT_TRUE(std::filesystem::exists(folder / file.get<std::string>())) << file;
}

TEST(ReportCommand, WritesOnePage) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const Ran ran = zledge(folder, "report kit/mossgate-signals.zlkit --out report.html --json");
    EXPECT_EQ(ran.status, 1) << "pieces of it fail";
    const Json json = ran.json();
    EXPECT_EQ(json["pieces"], 17);
    EXPECT_EQ(json["verdict"], "fail");
    const std::string html = test::textOf(good(readFile(folder / "report.html")));
    EXPECT_NE(html.find("Channel banner, too wide"), std::string::npos);
    EXPECT_EQ(zledge(folder, "report kit/mossgate-signals.zlkit --out report.html").status, 4);
    EXPECT_EQ(zledge(folder, "report nothing.zlkit --out other.html").status, 3);
}

}  // namespace
}  // namespace zl
