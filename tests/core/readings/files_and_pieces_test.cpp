// SPDX-License-Identifier: GPL-3.0-or-later
// Each reading against numbers worked out by hand; what each measures is in docs/readings.md.
#include <set>

#include "core/support/files_read.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "readings/naming.h"
#include "support/support.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(Registry, IdsAreUniqueAndEachHasWords) {
    std::set<std::string_view> ids;
    for (const ReadingRow& row : allReadings()) {
        EXPECT_TRUE(ids.insert(row.id).second);
        EXPECT_NE(english({"reading." + std::string(row.id), {}}),
                  "reading." + std::string(row.id));
    }
    for (const MendRow& row : allMends()) {
        EXPECT_TRUE(ids.insert(row.id).second);
        EXPECT_NE(mendTitle(row.id, test::brief("video-thumbnail"), {1, 1}),
                  "mend." + std::string(row.id));
        EXPECT_TRUE(row.onPiece || row.onFile);
    }
    std::set<std::string_view> phrases;
    for (const Phrase& phrase : allPhrases())
        EXPECT_TRUE(phrases.insert(phrase.id).second) << phrase.id;
}

TEST(Registry, WhatIsOfTheFileIsReadOnceItIsWeighed) {
    Subject subject;
    const Brief& brief = test::brief("video-thumbnail");
    const Straight8 pixels = test::textured({1280, 720});
    subject.brief = &brief;
    subject.pixels = &pixels;
    subject.opaque = true;
    int asked = 0;
    const auto readings = measureAll(subject, [&] {
        ++asked;
        subject.file.bytes = 3'000'000;
        subject.file.content = Content::jpeg;
    });
    EXPECT_EQ(asked, 1);
    EXPECT_EQ(one(readings, "weight").verdict, Verdict::fail) << "3 MB of 2";
    std::vector<std::string> order, known;
    for (const Reading& reading : readings) order.push_back(reading.id);
    for (const ReadingRow& row : allReadings())
        if (std::find(order.begin(), order.end(), row.id) != order.end())
            known.emplace_back(row.id);
    EXPECT_EQ(order, known) << "in the table's order, whenever each was taken";
    subject.file = {};
    subject.file.bytes = 100;
    EXPECT_EQ(one(measureAll(subject), "weight").verdict, Verdict::pass)
        << "a file's facts are there from the start";
}

TEST(FrameReading, FollowsItsTable) {
    const auto verdict = [](int w, int h, const char* brief) {
        return one(ofPiece(test::kitWith(brief, {w, h})), "frame").verdict;
    };
    EXPECT_EQ(verdict(1280, 720, "video-thumbnail"), Verdict::pass);
    EXPECT_EQ(verdict(2560, 1440, "video-thumbnail"), Verdict::pass)
        << "a whole multiple is welcome";
    EXPECT_EQ(verdict(1920, 1080, "video-thumbnail"), Verdict::watch) << "the shape holds";
    EXPECT_EQ(verdict(1284, 720, "video-thumbnail"), Verdict::watch) << "0.31 % off the shape";
    EXPECT_EQ(verdict(1288, 720, "video-thumbnail"), Verdict::fail) << "0.63 % off the shape";
    EXPECT_EQ(verdict(1270, 714, "video-thumbnail"), Verdict::watch) << "smaller by less than 1 %";
    EXPECT_EQ(verdict(1264, 711, "video-thumbnail"), Verdict::fail) << "smaller by more than 1 %";
    EXPECT_EQ(verdict(640, 360, "video-thumbnail"), Verdict::fail);
    EXPECT_EQ(verdict(300, 300, "corner-mark"), Verdict::watch) << "no multiples there";
    EXPECT_EQ(verdict(2560, 1440, "channel-banner"), Verdict::pass);
    EXPECT_EQ(verdict(3840, 2160, "channel-banner"), Verdict::pass);
    EXPECT_EQ(verdict(2559, 1440, "channel-banner"), Verdict::fail);
    EXPECT_EQ(verdict(3000, 1440, "channel-banner"), Verdict::fail);
    EXPECT_EQ(verdict(17, 3, "free-frame"), Verdict::pass);
}

TEST(FrameReading, GivesWidthAndHeightAsItsValue) {
    const Reading reading = one(ofPiece(test::kitWith("video-thumbnail", {1920, 1200})), "frame");
    EXPECT_EQ(std::get<1 + 1>(reading.value), (std::array<double, 2>{1920, 1200}));
    ASSERT_EQ(reading.findings.size(), 1u);
    // The largest 16:9 inside 1920 x 1200 is 1920 x 1080, 60 px from the top.
    EXPECT_EQ(*reading.findings[0].rect, (PixelRect{0, 60, 1920, 1140}));
    // Of a picture of hardly a pixel the part is at least the pixels that it touches.
    const Reading tiny = one(ofPiece(test::kitWith("video-thumbnail", {1, 2})), "frame");
    EXPECT_EQ(*tiny.findings.at(0).rect, (PixelRect{0, 0, 1, 2}));
}

TEST(WeightReading, ComparesWholeBytes) {
    const auto at = [](long long bytes) {
        Subject subject;
        subject.brief = &test::brief("video-thumbnail");
        subject.file.bytes = bytes;
        return measureWeight(subject);
    };
    EXPECT_EQ(at(2'000'000).verdict, Verdict::pass);
    EXPECT_EQ(at(2'000'001).verdict, Verdict::watch);
    EXPECT_EQ(at(2'097'152).verdict, Verdict::watch) << "2 MB read as 2 x 1,048,576";
    EXPECT_EQ(at(2'097'153).verdict, Verdict::fail);
    EXPECT_EQ(english(at(2'182'337).says),
              "2,182,337 bytes are 182,337 over the limit of 2,000,000.");
    Subject bound;
    bound.brief = &test::brief("video-thumbnail");
    bound.file.bytes = 1'999'999;
    bound.file.exact = false;
    bound.file.content = Content::png;
    EXPECT_EQ(measureWeight(bound).verdict, Verdict::pass);
    bound.file.bytes = 2'500'000;
    EXPECT_EQ(measureWeight(bound).verdict, Verdict::notMeasured)
        << "a bound over the limit proves nothing";
}

TEST(FormatReading, LooksAtTheBytes) {
    const Straight8 opaque = test::textured({150, 150});
    Straight8 glass = test::textured({150, 150});
    glass.row(0)[0] = 0;
    EXPECT_EQ(ofFile("format", test::png(opaque), "video-thumbnail").verdict, Verdict::pass);
    EXPECT_EQ(ofFile("format", test::jpeg(opaque), "video-thumbnail", "a.jpeg").verdict,
              Verdict::pass);
    const Reading lying = ofFile("format", test::png(opaque), "video-thumbnail", "a.jpeg");
    EXPECT_EQ(lying.verdict, Verdict::watch);
    EXPECT_EQ(lying.mends, (std::vector<std::string>{"rename"}));
    EXPECT_EQ(ofFile("format", test::png(opaque), "video-thumbnail", "a").verdict, Verdict::watch);
    EXPECT_EQ(ofFile("format", test::jpeg(opaque), "stream-overlay", "a.jpg").verdict,
              Verdict::fail);
    EXPECT_EQ(ofFile("format", test::jpeg(opaque), "corner-mark", "a.jpg").verdict, Verdict::fail)
        << "accepted, but it has no alpha";
    EXPECT_EQ(ofFile("format", test::png(opaque), "corner-mark").verdict, Verdict::fail);
    EXPECT_EQ(ofFile("format", test::png(glass), "corner-mark").verdict, Verdict::pass);
}

TEST(StretchReading, IsTheRatioOfTheTwoScales) {
    const auto at = [](double w, double h) {
        return one(ofPiece(placed({0, 0, w, h})), "stretch");
    };
    EXPECT_NEAR(std::get<double>(at(400, 200).value), 0, 1e-12);
    EXPECT_NEAR(std::get<double>(at(400, 250).value), 0.25, 1e-12);
    EXPECT_NEAR(std::get<double>(at(500, 200).value), 0.25, 1e-12) << "either way counts the same";
    EXPECT_EQ(at(400, 201).verdict, Verdict::pass) << "0.5 %";
    EXPECT_EQ(at(400, 203).verdict, Verdict::watch) << "1.5 %";
    EXPECT_EQ(at(400, 206).verdict, Verdict::fail) << "3 %";
    EXPECT_EQ(one(ofPiece(test::kitWith("video-thumbnail", {1280, 720})), "stretch").verdict,
              Verdict::notMeasured);
}

TEST(EnlargementReading, CountsFramePxPerOriginalPxAfterTheCrop) {
    EXPECT_NEAR(std::get<double>(one(ofPiece(placed({0, 0, 100, 50})), "enlargement").value), 0.5,
                1e-12);
    EXPECT_EQ(one(ofPiece(placed({0, 0, 200, 100})), "enlargement").verdict, Verdict::pass);
    EXPECT_EQ(one(ofPiece(placed({0, 0, 300, 150})), "enlargement").verdict, Verdict::watch);
    EXPECT_EQ(one(ofPiece(placed({0, 0, 302, 151})), "enlargement").verdict, Verdict::fail);
    Kit cropped = placed({0, 0, 200, 100});
    Layer layer = cropped.pieces[0].layers[0];
    layer.picture()->crop = {0, 0, 100, 50};
    EXPECT_NEAR(std::get<double>(
                    one(ofPiece(good(withChangedLayer(cropped, "p", layer))), "enlargement").value),
                2, 1e-12);
}

TEST(EnlargementReading, AnSvgHasThePixelsThatItIsDrawnWith) {
    const Asset asset = makeAsset(
        test::bytesOf("<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'><rect "
                      "width='20' height='20' fill='#FF0000'/></svg>"),
        "half.svg");
    Kit kit = withAsset(test::kitWith("free-frame", {400, 200}), asset);
    Layer layer;
    layer.name = "half";
    layer.what = PictureLayer{asset.sha256, {0, 0, 40, 20}, {0, 0, 280, 140}};
    kit = good(withLayer(kit, kit.pieces.front().id, layer));
    const Reading drawn = one(ofPiece(kit), "enlargement");
    EXPECT_EQ(drawn.verdict, Verdict::pass);
    EXPECT_NEAR(std::get<double>(drawn.value), 7.0 / 8, 1e-12) << "drawn eight times as large";
    // A cleaning works on the pixels of its own size: then it has no more of them.
    layer = kit.pieces[0].layers[0];
    layer.picture()->cuts = {Cut{KeyCut{}}};
    kit = good(withChangedLayer(kit, kit.pieces.front().id, layer));
    EXPECT_EQ(one(ofPiece(kit), "enlargement").verdict, Verdict::fail);
}

// A picture of pixels in an SVG has no more of them for being drawn larger, and is put right by the
// same mend.
TEST(EnlargementReading, WhatAnSvgHoldsOfPixelsHasItsOwn) {
    const std::string held = base64(
        test::png(test::painted({20, 10}, [](int x, int) { return packed(x * 9, 80, 20, 255); })));
    const auto placedIn = [&](const std::string& before, const std::string& after) {
        const Asset asset = makeAsset(
            test::bytesOf("<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'>" +
                          before + "<image width='40' height='20' href='data:image/png;base64," +
                          held + "'/>" + after + "</svg>"),
            "held.svg");
        const Kit kit = withAsset(test::kitWith("free-frame", {400, 200}), asset);
        Layer layer;
        layer.name = "held";
        layer.what = PictureLayer{asset.sha256, {0, 0, 40, 20}, {0, 0, 280, 140}};
        return good(withLayer(kit, kit.pieces.front().id, layer));
    };
    const Kit kit = placedIn("", "");
    const Reading reading = one(ofPiece(kit), "enlargement");
    EXPECT_EQ(reading.verdict, Verdict::fail);
    EXPECT_NEAR(std::get<double>(reading.value), 14, 1e-9) << "280 px for 20";
    EXPECT_EQ(reading.findings.at(0).says.id, "enlargement.held");
    InkStore store;
    const Kit smaller =
        good(mended("scale-to-source", kit, "p", test::brief(kit.pieces[0].brief), store));
    EXPECT_EQ(one(ofPiece(smaller), "enlargement").verdict, Verdict::pass);
    // Out of a pattern: said, not guessed.
    const Reading unknown = one(ofPiece(placedIn("<pattern>", "</pattern>")), "enlargement");
    EXPECT_EQ(unknown.verdict, Verdict::watch);
    EXPECT_EQ(unknown.says.id, "enlargement.unmeasured");
    EXPECT_TRUE(unknown.mends.empty()) << "no other size would answer it";
}

Bytes barred(int top, int bottom, int barLuma, int scene) {
    return test::png(test::painted({320, 180}, [=](int x, int y) {
        const int v = y < top || y >= 180 - bottom ? barLuma : scene + (x * 7 + y * 13) % 30;
        return packed(v, v, v, 255);
    }));
}

TEST(BlackBarsReading, FindsBarsOnBothSidesAndNoDarkScene) {
    const Reading found = ofFile("black-bars", barred(20, 22, 12, 90), "video-thumbnail");
    EXPECT_EQ(found.verdict, Verdict::fail);
    EXPECT_EQ(std::get<double>(found.value), 42);
    EXPECT_EQ(*found.findings[1].rect, (PixelRect{0, 158, 320, 180}));
    EXPECT_EQ(ofFile("black-bars", barred(20, 0, 12, 90), "video-thumbnail").verdict, Verdict::pass)
        << "one side is no bar pair";
    EXPECT_EQ(ofFile("black-bars", barred(1, 1, 12, 90), "video-thumbnail").verdict, Verdict::pass)
        << "under 1 % of the side";
    EXPECT_EQ(ofFile("black-bars", barred(20, 20, 25, 90), "video-thumbnail").verdict,
              Verdict::pass)
        << "too light for a bar";
    EXPECT_EQ(ofFile("black-bars", barred(20, 20, 4, 6), "video-thumbnail").verdict, Verdict::pass)
        << "a night scene has no step";
    EXPECT_EQ(ofFile("black-bars", test::png(Straight8::cleared({320, 180}, packed(0, 0, 0, 255))),
                     "video-thumbnail")
                  .verdict,
              Verdict::pass);
    EXPECT_EQ(ofFile("black-bars", test::png(Straight8::cleared({1, 1}, packed(0, 0, 0, 255))),
                     "video-thumbnail")
                  .verdict,
              Verdict::pass);
    const auto sides = test::png(test::painted({320, 180}, [](int x, int y) {
        const int v = x < 30 || x >= 290 ? 0 : 120 + (x + y) % 9;
        return packed(v, v, v, 255);
    }));
    EXPECT_EQ(std::get<double>(ofFile("black-bars", sides, "video-thumbnail").value), 60);
    for (const Reading& reading :
         good(readPictureFile(sides, "x.png", test::brief("corner-mark"))).readings)
        EXPECT_NE(reading.id, "black-bars");
}

TEST(NamingReading, KnowsNamesThatSayNothing) {
    for (const char* name :
         {"layer 7", "Layer7", "IMG_2041.png", "image (3)", "untitled", "Screenshot 12", "DSC-0042",
          "Picture", "new layer", "photo-1", "copy of layer 2", "thumbnail", "text"})
        EXPECT_TRUE(saysNothing(name)) << name;
    for (const char* name : {"Title", "dusk-at-the-box", "Signal arm, cut out", "thumbnail-ep-12",
                             "layered brick", "Image of a lever", "THE LEVER", "7", ""})
        EXPECT_FALSE(saysNothing(name)) << name;
}

TEST(NamingReading, NamesEachThingToLookAt) {
    Kit kit = placed({0, 0, 200, 100});
    EXPECT_EQ(one(ofPiece(kit), "naming").verdict, Verdict::pass);
    kit = test::withPicture(kit, test::textured({9, 9}), {2000, 0, 9, 9}, "far.png");
    kit = test::withPicture(kit, test::textured({8, 9}), {0, 0, 8, 9}, "dusk.png");
    kit = test::withLetters(kit, "   ", 40, {10, 10});
    Layer hidden = kit.pieces[0].layers[0];
    hidden.hidden = true;
    kit = good(withChangedLayer(kit, "p", hidden));
    const Reading reading = one(ofPiece(kit), "naming");
    std::multiset<std::string> says;
    for (const Finding& finding : reading.findings) says.insert(finding.says.id);
    EXPECT_EQ(says, (std::multiset<std::string>{"naming.repeated", "naming.hidden",
                                                "naming.outside", "naming.empty"}));
    EXPECT_EQ(reading.verdict, Verdict::watch);
}

}  // namespace
}  // namespace zl
