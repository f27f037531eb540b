// SPDX-License-Identifier: GPL-3.0-or-later
// `zones`, `lettering`, `profile` and their mends, against shapes and numbers worked out by hand.
#include <cmath>
#include <thread>

#include "encode/encode.h"
#include "lettering/lettering.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "mend/mend_parts.h"
#include "readings/zones.h"
#include "store/kit_file.h"
#include "support/support.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;
using test::one;

PieceReadings read(const Kit& kit) {
    InkStore store;
    const Piece& piece = kit.pieces.front();
    return good(readPiece({piece, kit}, test::brief(piece.brief), store, Weighing::quickBound));
}

Reading ofPiece(const std::string& id, const Kit& kit) {
    return one(read(kit).readings, id);
}

Kit after(const std::string& mend, const Kit& kit) {
    InkStore store;
    return good(mended(mend, kit, "p", test::brief(kit.pieces[0].brief), store));
}

Straight8 disc(int size) {
    return test::painted({size, size}, [=](int x, int y) {
        // 8 x 8 samples a pixel: the share of it inside the circle.
        int in = 0;
        for (int j = 0; j < 8; ++j)
            for (int i = 0; i < 8; ++i)
                in += std::hypot(x + (i + 0.5) / 8 - size / 2.0, y + (j + 0.5) / 8 - size / 2.0) <=
                      size / 2.0;
        return packed(250, 120, 20, in * 255 / 64);
    });
}

// The badge is 0.86 .. 0.985 by 0.85 .. 0.965 of 1280 x 720: px 1100.8 .. 1260.8 by 612 .. 694.8.
Kit discAt(double x, double y, int size = 60) {
    return test::withPicture(test::kitWith("video-thumbnail", {1280, 720}), disc(size),
                             {x, y, static_cast<double>(size), static_cast<double>(size)},
                             "disc.png");
}

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

TEST(IntoZone, MovesTheShortestWay) {
    // From y = 582, 30 px up bring the disc's ink above the badge at 612.
    const Kit kit = after("into-zone", discAt(1150, 582));
    EXPECT_EQ(kit.pieces[0].layers[0].picture()->place, (RealRect{1150, 552, 60, 60}));
    EXPECT_EQ(ofPiece("zones", kit).verdict, Verdict::pass);
    // Off the frame: straight back in.
    EXPECT_EQ(after("into-zone", discAt(-30, 100)).pieces[0].layers[0].picture()->place.x, 0);
    // Too large to lie anywhere: it becomes smaller.
    const Kit huge = test::withLetters(test::kitWith("video-thumbnail", {1280, 720}),
                                       "A VERY LONG TITLE INDEED", 200, {-300, 500});
    EXPECT_LT(std::get<double>(ofPiece("zones", huge).value), 0.9);
    const Kit fits = after("into-zone", huge);
    EXPECT_GE(std::get<double>(ofPiece("zones", fits).value), 0.999);
    EXPECT_EQ(shortestMove({0, 0, 10, 10}, {0, 0, 5, 5}, {}), std::nullopt);
    EXPECT_EQ(shortestMove({3, 3, 4, 4}, {0, 0, 10, 10}, {{0, 0, 5, 10}}), (RealPoint{2, 0}));
}

Kit lettered(const char* fill, const char* ground, double size = 120, double outline = 0,
             const char* rim = "#000000") {
    const Colour behind = good(parseColour(ground));
    Kit kit = test::withPicture(
        test::kitWith("video-thumbnail", {1280, 720}),
        Straight8::cleared({1280, 720}, packed(behind.red, behind.green, behind.blue, 255)),
        {0, 0, 1280, 720});
    kit = test::withLetters(kit, "HELLO", size, {200, 200});
    Layer layer = kit.pieces[0].layers[1];
    layer.lettering()->colour = good(parseColour(fill));
    if (outline > 0) layer.finishes = {outlineOf(outline, good(parseColour(rim)))};
    return good(withChangedLayer(kit, "p", layer));
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

TEST(OutlineContrast, MakesLettersReadableOnAnything) {
    for (const char* fill : {"#1B1A2B", "#FFF6E3", "#777777"})
        for (const char* ground : {"#24213A", "#FFFFFF", "#808080"}) {
            const Kit kit = after("outline-contrast", lettered(fill, ground));
            EXPECT_NE(ofPiece("lettering", kit).verdict, Verdict::fail) << fill << " on " << ground;
            EXPECT_EQ(kit.pieces[0].layers[0], lettered(fill, ground).pieces[0].layers[0])
                << "the rest is left alone";
        }
}

TEST(ReferenceLayers, AreSeenAndNeverReleased) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                Straight8::cleared({64, 36}, packed(10, 200, 30, 255)),
                                {0, 0, 1280, 720}, "Screenshot 3.png");
    const Reading before = ofPiece("naming", kit);
    EXPECT_EQ(before.mends, (std::vector<std::string>{"to-reference", "rename"}));
    kit = after("to-reference", kit);
    EXPECT_TRUE(kit.pieces[0].layers[0].isReference());
    EXPECT_EQ(ofPiece("naming", kit).verdict, Verdict::pass) << "counted, not blamed";
    InkStore store;
    EXPECT_EQ(good(render({kit.pieces[0], kit}, store)).row(100)[100], packed(10, 200, 30, 255));
    EXPECT_EQ(good(releaseFrame({kit.pieces[0], kit}, store)).row(100)[100], 0u);
    EXPECT_EQ(ofPiece("enlargement", kit).verdict, Verdict::notMeasured)
        << "what is not released is not measured";
}

TEST(Mends, ScaleToSourceEndsTheEnlargement) {
    // Twice the frame, from a picture with the pixels of one: the frame goes back to one.
    Kit twice = test::withPicture(test::kitWith("video-thumbnail", {2560, 1440}),
                                  test::textured({1280, 720}), {0, 0, 2560, 1440});
    EXPECT_EQ(ofPiece("enlargement", twice).verdict, Verdict::fail);
    twice = after("scale-to-source", twice);
    EXPECT_EQ(twice.pieces[0].frame, (PixelSize{1280, 720}));
    EXPECT_EQ(ofPiece("enlargement", twice).verdict, Verdict::pass);
    // A crop that is too tight becomes wider.
    Kit tight = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                  test::textured({1280, 720}), {0, 0, 1280, 720});
    Layer layer = tight.pieces[0].layers[0];
    layer.picture()->crop = {100, 100, 640, 360};
    tight = after("scale-to-source", good(withChangedLayer(tight, "p", layer)));
    EXPECT_EQ(tight.pieces[0].layers[0].picture()->crop, (RealRect{0, 0, 1280, 720}));
    // A small picture that was blown up becomes as small as its pixels.
    Kit small = after("scale-to-source",
                      test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                        test::textured({100, 50}), {300, 300, 400, 200}));
    EXPECT_EQ(small.pieces[0].layers[0].picture()->place, (RealRect{450, 375, 100, 50}));
}

TEST(Mends, PadToFrameKeepsEverything) {
    const Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1000, 1000}),
                                      test::textured({500, 500}), {0, 0, 1000, 1000});
    const Kit done = after("pad-to-frame", kit);
    EXPECT_EQ(done.pieces[0].frame, (PixelSize{1280, 720}));
    EXPECT_EQ(done.pieces[0].layers[0].picture()->place, (RealRect{280, 0, 720, 720}));
    EXPECT_EQ(ofPiece("frame", done).verdict, Verdict::pass);
    const MendedFile file = good(mendedFile(
        "pad-to-frame", test::png(Straight8::cleared({100, 100}, packed(40, 80, 120, 255))),
        "x.png", test::brief("video-thumbnail")));
    const Picture picture = good(decode(file.bytes, "x"));
    EXPECT_EQ(picture.facts.size, (PixelSize{1280, 720}));
    EXPECT_EQ(picture.pixels->row(5)[5], packed(40, 80, 120, 255))
        << "the rim has the border's colour";
}

TEST(Mends, KeepAlphaTakesAFormatThatHasIt) {
    Kit kit =
        test::withPicture(test::kitWith("corner-mark", {150, 150}), disc(150), {0, 0, 150, 150});
    Piece piece = kit.pieces[0];
    piece.release.format = FormatChoice::jpeg;
    piece.release.quality = 90;
    piece.release.matte = Colour{255, 255, 255, 255};
    InkStore store;
    kit = good(withChangedPiece(kit, piece));
    const auto exact = [&](const Kit& k) {
        return one(
            good(readPiece({k.pieces[0], k}, test::brief("corner-mark"), store, Weighing::exact))
                .readings,
            "format");
    };
    EXPECT_EQ(exact(kit).mends, (std::vector<std::string>{"keep-alpha"}));
    EXPECT_EQ(exact(after("keep-alpha", kit)).verdict, Verdict::pass);
}

TEST(Format, WhatAnSvgShowsAndDoesNotHoldIsTold) {
    const auto missing = [](const std::string& inside) {
        return missingInSvg(test::bytesOf(
            "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'>" + inside + "</svg>"));
    };
    EXPECT_EQ(missing("<image xlink:href='photo.jpg' width='9' height='9'/>"), "photo.jpg");
    EXPECT_EQ(missing("<svg:image\n href=\"../a b.png\"/>"), "../a b.png");
    EXPECT_EQ(missing("<image href='data:image/png;base64,AAAA'/><image width='3' href='b.png'/>"),
              "b.png");
    EXPECT_EQ(
        missing(
            "<image href='#inside'/><feImage href='x.png'/><text>an image of href='c.png'</text>"),
        "");
    EXPECT_EQ(missing("<image href='unclosed"), "unclosed</svg") << "nothing is read past the end";
    EXPECT_EQ(missing("<image"), "");
    const Bytes svg = test::bytesOf(
        "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'><image href='p.png' "
        "width='9' height='9'/></svg>");
    const Reading format =
        one(good(readPictureFile(svg, "a.svg", test::brief("free-frame"))).readings, "format");
    EXPECT_TRUE(std::any_of(format.findings.begin(), format.findings.end(),
                            [](const Finding& f) { return f.says.id == "format.missing"; }));
}

TEST(Fonts, AFontOfTheKitsOwnIsUsedAndGarbageIsRefused) {
    Bytes font = good(readFile(good(dataFolder()) / "fonts/ZincSans-Regular.otf"));
    // Another family's name of the same length, in UTF-16 as the name table holds it (OpenType 1.9,
    // `name`).
    const std::string from("\0Z\0i\0n\0c", 8), to("\0Q\0u\0a\0y", 8);
    std::string text(font.begin(), font.end());
    for (std::size_t at = text.find(from); at != std::string::npos; at = text.find(from, at + 8))
        text.replace(at, 8, to);
    for (std::size_t at = text.find("Zinc Sans"); at != std::string::npos;
         at = text.find("Zinc Sans", at))
        text.replace(at, 4, "Quay");
    const Asset mine = makeAsset(Bytes(text.begin(), text.end()), "quay.otf");
    LetteringLayer letters;
    letters.family = "Quay Sans";
    letters.style = "Regular";
    EXPECT_NE(familyUsed(letters), "Quay Sans");
    EXPECT_EQ(good(familiesIn(mine)).front(), "Quay Sans");
    EXPECT_NE(familyUsed(letters), "Quay Sans") << "looking at a font changes nothing";
    const Kit with = withFont({}, mine), without;
    useFontsOf(with);
    const unsigned own = fontsInUse();
    EXPECT_EQ(familyUsed(letters), "Quay Sans");
    // The other kit does not lend it, in this thread or in another, and undo takes it away.
    useFontsOf(without);
    EXPECT_NE(familyUsed(letters), "Quay Sans");
    EXPECT_NE(fontsInUse(), own);
    std::thread([&] {
        EXPECT_NE(familyUsed(letters), "Quay Sans");
        useFontsOf(with);
        EXPECT_EQ(familyUsed(letters), "Quay Sans");
        EXPECT_EQ(fontsInUse(), own) << "the same fonts are the same set, for inks that are kept";
    }).join();
    EXPECT_NE(familyUsed(letters), "Quay Sans") << "another thread's fonts are not this one's";
    EXPECT_EQ(familiesIn(makeAsset(test::bytesOf("no font"), "no.otf")).error().code,
              Code::unreadable);
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

// A dark line all round at half strength may be a matte or a design: a watch that says both;
// leaving it is remembered.
TEST(Rim, ADarkOneCanBeLeftAndStaysLeft) {
    const Straight8 rimmed = test::painted({150, 150}, [](int x, int y) {
        const double r = std::hypot(x + 0.5 - 75, y + 0.5 - 75);
        const double ink = std::clamp(50.5 - r, 0.0, 1.0),
                     line = std::clamp(51.4 - r, 0.0, 1.0) *
                            (0.35 + 0.3 * std::sin(7 * std::atan2(y - 75, x - 75)));
        const double a = ink + (1 - ink) * line;
        if (a <= 0) return 0u;
        return packed(static_cast<int>(220 * ink / a), static_cast<int>(190 * ink / a),
                      static_cast<int>(60 * ink / a), static_cast<int>(std::lround(255 * a)));
    });
    const Reading plain = ofPiece(
        "fringe",
        test::withPicture(test::kitWith("corner-mark", {150, 150}), rimmed, {0, 0, 150, 150}));
    EXPECT_LE(plain.verdict, Verdict::watch) << "what cannot be told is never a fail";
    Kit kit = test::withPicture(test::kitWith("corner-mark", {150, 150}), rimmed, {0, 0, 150, 150});
    Layer layer = kit.pieces[0].layers[0];
    layer.rimMeant = true;
    kit = good(withChangedLayer(kit, "p", layer));
    EXPECT_LE(ofPiece("fringe", kit).verdict, Verdict::pass);
    const test::Folder folder;
    ASSERT_TRUE(saveKit(kit, folder / "k.zlkit", Replace::no));
    EXPECT_EQ(good(openKit(folder / "k.zlkit")), kit) << "remembered in the file";
}

}  // namespace
}  // namespace zl
