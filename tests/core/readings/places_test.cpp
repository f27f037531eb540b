// SPDX-License-Identifier: GPL-3.0-or-later
// `zones`, `lettering`, `profile` and their mends, against shapes and numbers worked out by hand.
#include "core/support/pieces_read.h"
#include "encode/encode.h"
#include "lettering/lettering.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "mend/mend_parts.h"
#include "readings/zones.h"
#include "support/support.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(ZonesReading, CountsInkNotBoxes) {
    // The badge's upper edge, y = 612, goes through the disc's middle: half of the ink is covered.
    const Reading half = ofPiece("zones", discAt(1150, 582));
    EXPECT_NEAR(std::get<double>(half.value), 0.5, 0.001);
    EXPECT_EQ(half.verdict, Verdict::fail);
    ASSERT_EQ(half.findings.size(), 1u);
    EXPECT_EQ(half.findings[0].layer, 1);
    EXPECT_NE(english(half.findings[0].says).find("50.0 %"), std::string::npos);
    // A corner of the box reaches into the badge, the ink does not.
    EXPECT_EQ(ofPiece("zones", discAt(1046, 558)).verdict, Verdict::pass);
    EXPECT_EQ(ofPiece("zones", discAt(200, 100)).verdict, Verdict::pass);
    // Half of it lies outside the frame.
    EXPECT_NEAR(std::get<double>(ofPiece("zones", discAt(-30, 100)).value), 0.5, 0.001);
}

TEST(ZonesReading, APixelPartlyInAZoneCountsInPart) {
    // A square of 10 x 10 px from y = 690: the badge ends at 694.8, so 4.8 rows of 10 are covered.
    const Kit kit =
        test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                          Straight8::cleared({10, 10}, packed(9, 9, 9, 255)), {1150, 690, 10, 10});
    EXPECT_NEAR(std::get<double>(ofPiece("zones", kit).value), 0.52, 0.001);
}

TEST(ZonesReading, SignsOnTopAreNeverMoreThanAWatch) {
    // The play sign, 0.44 .. 0.56 by 0.41 .. 0.59, is shown on the embed only.
    const Reading sign = ofPiece("zones", discAt(610, 330));
    EXPECT_NEAR(std::get<double>(sign.value), 0, 0.001);
    EXPECT_EQ(sign.verdict, Verdict::watch);
}

TEST(ZonesReading, KnowsWhatIsEssential) {
    Kit kit = discAt(1150, 582);
    Layer layer = kit.pieces[0].layers[0];
    layer.essential = false;
    EXPECT_EQ(ofPiece("zones", good(withChangedLayer(kit, "p", layer))).verdict,
              Verdict::notMeasured);
    layer.essential.reset();
    layer.picture()->reference = true;
    EXPECT_EQ(ofPiece("zones", good(withChangedLayer(kit, "p", layer))).verdict,
              Verdict::notMeasured)
        << "a reference is never released";
    const Layer ground = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                           test::textured({64, 36}), {0, 0, 1280, 720})
                             .pieces[0]
                             .layers[0];
    EXPECT_FALSE(isEssential(ground, {1280, 720})) << "half of the frame or more";
    EXPECT_EQ(ofPiece("zones", test::kitWith("corner-mark", {150, 150})).verdict,
              Verdict::notMeasured)
        << "a brief without zones";
}

TEST(ZonesReading, AnOverlayKeepsThePlayAreaFree) {
    // The play area is 0.2 .. 0.8 both ways, 1152 x 648 px, of which 2 % may be covered: 14,929.9
    // px.
    const auto covered = [](int w, int h) {
        const Kit kit =
            test::withPicture(test::kitWith("stream-overlay", {1920, 1080}),
                              Straight8::cleared({w, h}, packed(9, 9, 9, 255)),
                              {500, 300, static_cast<double>(w), static_cast<double>(h)});
        return ofPiece("zones", kit);
    };
    const Reading over = covered(150, 100);
    EXPECT_EQ(over.verdict, Verdict::fail);
    bool said = false;
    for (const Finding& finding : over.findings)
        said = said || finding.says.id == "zones.allowance";
    EXPECT_TRUE(said) << "15,000 px are 2.01 %";
    for (const Finding& finding : covered(149, 100).findings)
        EXPECT_NE(finding.says.id, "zones.allowance") << "14,900 px are 1.996 %";
}

TEST(ZonesReading, AFileIsJudgedByItsWholeInk) {
    const auto ofFile = [](const Straight8& frame, const char* brief) {
        return one(good(readPictureFile(test::png(frame), "x.png", test::brief(brief))).readings,
                   "zones");
    };
    EXPECT_EQ(ofFile(test::textured({1280, 720}), "video-thumbnail").verdict, Verdict::notMeasured);
    Straight8 rim = Straight8::cleared({1920, 1080}, 0);
    for (int x = 0; x < 1920; ++x) rim.row(0)[x] = packed(9, 9, 9, 255);
    EXPECT_EQ(ofFile(rim, "stream-overlay").verdict, Verdict::watch)
        << "outside the safe areas, but a file cannot tell a title from a bar";
}

TEST(LetteringReading, MeasuresContrastByWcag) {
    const auto verdict = [](const char* fill, const char* ground) {
        return ofPiece("lettering", lettered(fill, ground, 300));
    };
    // Large enough to keep a core of its own colour at 168 px. WCAG 2.2: #777777 on white is 4.48 :
    // 1, just short of 4.5; #767676 is 4.54 : 1. Bringing them to 168 px costs a few hundredths of
    // it.
    EXPECT_EQ(verdict("#777777", "#FFFFFF").verdict, Verdict::watch);
    EXPECT_NEAR(std::stod(verdict("#777777", "#FFFFFF")
                              .shownBeside.substr(
                                  verdict("#777777", "#FFFFFF").shownBeside.find("· ") + 3)),
                4.48, 0.15);
    EXPECT_EQ(verdict("#727272", "#FFFFFF").verdict, Verdict::pass) << "4.81 : 1";
    EXPECT_EQ(verdict("#000000", "#FFFFFF").verdict, Verdict::pass);
    EXPECT_EQ(verdict("#1B1A2B", "#24213A").verdict, Verdict::fail);
    EXPECT_EQ(verdict("#1B1A2B", "#24213A").mends, (std::vector<std::string>{"outline-contrast"}));
}

// 168 of 1280 px: an outline counts for as much as is left of it there, and more of it never makes
// letters harder to read.
TEST(LetteringReading, AnOutlineCountsForWhatIsLeftOfIt) {
    const auto contrast = [](double outline) {
        const std::string beside =
            ofPiece("lettering", lettered("#FFFFFF", "#FFFFFF", 120, outline, "#000000"))
                .shownBeside;
        return std::stod(beside.substr(beside.find("· ") + 3));
    };
    double before = 1;
    for (const double px : {1.0, 3.0, 5.0, 8.0, 12.0}) {
        EXPECT_GE(contrast(px), before) << px;
        before = contrast(px);
    }
    EXPECT_LT(contrast(2), 2) << "0.3 px there";
    const Reading thin = ofPiece("lettering", lettered("#FFFFFF", "#FFFFFF", 120, 2, "#000000"));
    EXPECT_EQ(thin.verdict, Verdict::fail);
    EXPECT_EQ(
        english(thin.findings.back().says)
                .find("its outline is 0.4 px there. 12 px would carry it.") != std::string::npos,
        true)
        << english(thin.findings.back().says);
    EXPECT_EQ(mendTitle("outline-contrast", test::brief("video-thumbnail"), {1280, 720}, &thin),
              "Widen its outline to 12 px");
    EXPECT_EQ(mendTitle("outline-contrast", test::brief("video-thumbnail"), {1280, 720}),
              "Give it an outline");
    const Kit large = after("outline-contrast", lettered("#FFFFFF", "#FFFFFF", 300, 2, "#000000"));
    EXPECT_EQ(outerWidth(large.pieces[0].layers[1].finishes[0]), 12)
        << "as the button says, however large the letters";
    const Reading wrongColour =
        ofPiece("lettering", lettered("#FFFFFF", "#FFFFFF", 120, 14, "#F0F0F0"));
    EXPECT_EQ(wrongColour.verdict, Verdict::fail);
    EXPECT_EQ(wrongColour.mendWords.id, "") << "it is wide enough";
    const Kit wider = after("outline-contrast", lettered("#FFFFFF", "#FFFFFF", 120, 2, "#000000"));
    EXPECT_EQ(wider.pieces[0].layers[1].finishes.size(), 1u) << "the outline that is there";
    EXPECT_EQ(outerWidth(wider.pieces[0].layers[1].finishes[0]), 12);
    EXPECT_EQ(ofPiece("lettering", wider).verdict, Verdict::pass);
    EXPECT_EQ(ofPiece("lettering", lettered("#FFFFFF", "#FFFFFF", 120, 12, "#000000")).verdict,
              Verdict::pass);
}

// A dark outline over a light cup behind light words: what is beside the outline is not what the
// letters meet.
TEST(LetteringReading, LetteringThatTakesHalfTheFrameIsTold) {
    Kit kit = lettered("#FFFFFF", "#24213A", 120);
    EXPECT_EQ(ofPiece("lettering", kit).verdict, Verdict::pass);
    Layer layer = kit.pieces[0].layers[1];
    layer.lettering()->text = "MMMMM\nMMMMM\nMMMMM";
    layer.lettering()->size = 330;
    layer.lettering()->leading = 0.75;
    layer.lettering()->at = {0, -20};
    kit = good(withChangedLayer(kit, "p", layer));
    const Reading reading = ofPiece("lettering", kit);
    EXPECT_EQ(reading.verdict, Verdict::watch);
    EXPECT_EQ(reading.findings.back().says.id, "lettering.share");
}

// What stands in front of a title hides letters on purpose: they are not read, and too many of them
// are told.
TEST(LetteringReading, LettersBehindALayerAreNotRead) {
    Kit kit = lettered("#FFFFFF", "#24213A", 200);
    const Layer title = kit.pieces[0].layers[1];
    const PixelRect box = [&] {
        InkStore store;
        return good(store.ink(title, kit, kit.pieces[0].frame)).box;
    }();
    const auto covered = [&](double share) {
        // As bright as the letters: against it they would have no contrast at all.
        Layer over;
        over.name = "In front";
        over.what = BarLayer{BarShape::rectangle,
                             {static_cast<double>(box.left), 0, share * box.width(), 720},
                             12,
                             12,
                             {255, 255, 255, 255}};
        return ofPiece("lettering", good(withLayer(kit, "p", over)));
    };
    const Reading few = covered(0.2);
    EXPECT_EQ(few.verdict, Verdict::pass) << english(few.says);
    const Reading many = covered(0.6);
    EXPECT_EQ(many.verdict, Verdict::watch);
    ASSERT_FALSE(many.findings.empty());
    EXPECT_EQ(many.findings.front().says.id, "lettering.hidden");
    EXPECT_EQ(covered(1.1).verdict, Verdict::watch) << "none of it is seen";
}

// A button mark stands 90 px wide on a small player: its words count there.
TEST(LetteringReading, AMarkIsReadAtTheSizeItIsMet) {
    Kit kit = test::withLetters(test::kitWith("button-mark", {300, 100}), "JOIN", 31, {20, 30});
    const Reading reading = ofPiece("lettering", kit);
    const double height = good(capHeight(*kit.pieces[0].layers[0].lettering()));
    EXPECT_NEAR(std::get<double>(reading.value), height * 0.3, 1e-6)
        << "30 px high on a player of 640";
    EXPECT_EQ(reading.verdict, Verdict::fail);
    EXPECT_NE(reading.shownBeside.find("at 640"), std::string::npos);
}

TEST(LetteringReading, MeasuresCapitalsWhereTheyAreSmallest) {
    Kit kit = lettered("#000000", "#FFFFFF", 160);
    const double height = good(capHeight(*kit.pieces[0].layers[1].lettering()));
    EXPECT_NEAR(std::get<double>(ofPiece("lettering", kit).value), height * 168 / 1280, 1e-6);
    EXPECT_EQ(ofPiece("lettering", lettered("#000000", "#FFFFFF", 30)).verdict, Verdict::fail);
    EXPECT_EQ(ofPiece("lettering", test::kitWith("video-thumbnail", {1280, 720})).verdict,
              Verdict::notMeasured);
    for (const SurfaceNote& note : read(kit).notes) {
        EXPECT_EQ(note.covered.id, note.surface == "blog-embed" ? "note.covered" : "note.clear")
            << note.surface << ": only its play sign is in the way";
        EXPECT_EQ(note.letters.id, "note.letters") << note.surface;
    }
    // The ledge and the note under the surface tell the same number, cut to a tenth.
    EXPECT_EQ(told(13.88), 13.8);
    EXPECT_EQ(told(10), 10);
    for (int size = 120; size < 180; size += 7) {
        const Kit other = lettered("#000000", "#FFFFFF", size);
        const std::string shown = ofPiece("lettering", other).shown;
        for (const SurfaceNote& note : read(other).notes)
            if (note.surface == "suggestion") {
                EXPECT_EQ(english(note.letters), "capitals " + shown) << size;
            }
    }
}

TEST(Format, WhatAnSvgShowsAndDoesNotHoldIsTold) {
    const Bytes svg = test::bytesOf(
        "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'><image href='p.png' "
        "width='9' height='9'/></svg>");
    const Reading format =
        one(good(readPictureFile(svg, "a.svg", test::brief("free-frame"))).readings, "format");
    EXPECT_TRUE(std::any_of(format.findings.begin(), format.findings.end(),
                            [](const Finding& f) { return f.says.id == "format.missing"; }));
}

TEST(ProfileReading, WatchesWhatADestinationWouldReadInAnotherWay) {
    Subject subject;
    subject.brief = &test::brief("video-thumbnail");
    EXPECT_EQ(measureProfile(subject).verdict, Verdict::pass);
    subject.file.srgb = false;
    EXPECT_EQ(measureProfile(subject).verdict, Verdict::watch);
    EXPECT_EQ(measureProfile(subject).mends, (std::vector<std::string>{"to-srgb"}));
    subject.file = {};
    subject.file.cmyk = true;
    EXPECT_EQ(english(measureProfile(subject).says).find("It is CMYK"), 0u);
    subject.file = {};
    subject.file.bitsPerChannel = 16;
    EXPECT_EQ(measureProfile(subject).verdict, Verdict::watch);
}

// Lettering that the frame cuts is lost wherever the piece goes, also under a brief without zones.
TEST(Frame, LetteringThatItCutsIsALossAndMovesBackInside) {
    const Kit whole =
        test::withLetters(test::kitWith("square-post", {1080, 1080}), "Signals", 120, {60, 400});
    EXPECT_EQ(ofPiece("zones", whole).verdict, Verdict::pass);
    const Kit cut =
        test::withLetters(test::kitWith("square-post", {1080, 1080}), "Signals", 120, {-140, 400});
    const Reading reading = ofPiece("zones", cut);
    EXPECT_EQ(reading.verdict, Verdict::fail);
    ASSERT_EQ(reading.findings.size(), 1u);
    EXPECT_EQ(reading.findings[0].says.id, "zones.frame");
    ASSERT_EQ(reading.mends.size(), 1u);
    EXPECT_EQ(ofPiece("zones", after(reading.mends[0], cut)).verdict, Verdict::pass);
}

// A photograph between bars that a JPEG has disturbed: found, cropped away, and the bars' picture
// fills the frame.
TEST(BlackBars, ThatAJpegDisturbedAreFoundAndCroppedAway) {
    const auto barred = [](int bar) {
        return test::painted({640, 360}, [=](int x, int y) {
            const Straight8& photo = []() -> const Straight8& {
                static const Straight8 made = test::textured({640, 360}, 60);
                return made;
            }();
            return y < bar || y >= 360 - bar ? packed(0, 0, 0, 255) : photo.row(y)[x] | 0x00404040u;
        });
    };
    for (const int quality : {75, 95}) {
        const Bytes bytes =
            good(encode(barred(41), {Content::jpeg, quality, Chroma::half, Effort::release}));
        const Reading reading =
            one(good(readPictureFile(bytes, "a.jpg", test::brief("free-frame"))).readings,
                "black-bars");
        EXPECT_EQ(reading.verdict, Verdict::fail) << quality;
        EXPECT_EQ(reading.mends, (std::vector<std::string>{"crop-bars", "fill-bars"}));
        EXPECT_NEAR(std::get<double>(reading.value), 82, 8);
        const auto mended =
            good(mendedFile("crop-bars", bytes, "a.jpg", test::brief("free-frame")));
        EXPECT_EQ(
            one(good(readPictureFile(mended.bytes, "a.jpg", test::brief("free-frame"))).readings,
                "black-bars")
                .verdict,
            Verdict::pass);
    }
    EXPECT_FALSE(mendedFile("crop-bars", test::jpeg(test::textured({64, 36})), "a.jpg",
                            test::brief("free-frame")));
    const Kit kit = test::withPicture(test::kitWith("video-thumbnail", {640, 360}), barred(40),
                                      {0, 0, 640, 360});
    EXPECT_EQ(ofPiece("black-bars", kit).verdict, Verdict::fail);
    EXPECT_EQ(ofPiece("black-bars", after("crop-bars", kit)).verdict, Verdict::pass);
}

TEST(BlackBars, AreFilledWithABlurredCopyAndNothingIsLost) {
    const Straight8 barred = test::painted({640, 360}, [](int x, int y) {
        return y < 60 || y >= 300 ? packed(0, 0, 0, 255)
                                  : packed(40 + x / 4, 200 - y / 3, 120, 255);
    });
    const Bytes bytes = test::png(barred);
    const Brief& brief = test::brief("free-frame");
    const MendedFile file = good(mendedFile("fill-bars", bytes, "a.png", brief));
    const Picture filled = good(decode(file.bytes, "a.png"));
    const Kit kit = after(
        "fill-bars",
        test::withPicture(test::kitWith("video-thumbnail", {640, 360}), barred, {0, 0, 640, 360}));
    InkStore store;
    const Straight8 piece = good(releaseFrame({kit.pieces[0], kit}, store));
    ASSERT_EQ(kit.pieces[0].layers.size(), 2u);
    for (const Straight8* out : {filled.pixels.get(), static_cast<const Straight8*>(&piece)}) {
        ASSERT_EQ(out->size(), barred.size());
        for (int y = 62; y < 298; y += 5)
            for (int x = 0; x < 640; x += 13)
                EXPECT_EQ(out->row(y)[x], barred.row(y)[x]) << x << ' ' << y;
        for (const int y : {2, 30, 330, 357})
            for (int x = 10; x < 640; x += 90)
                EXPECT_GT(greenOf(out->row(y)[x]), 60) << "no black " << x << ' ' << y;
    }
    EXPECT_EQ(one(good(readPictureFile(file.bytes, "a.png", brief)).readings, "black-bars").verdict,
              Verdict::pass);
    EXPECT_EQ(ofPiece("black-bars", kit).verdict, Verdict::pass);
    EXPECT_EQ(ofPiece("enlargement", kit).verdict, Verdict::pass);
}

}  // namespace
}  // namespace zl
