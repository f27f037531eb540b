// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/support/pieces_read.h"
#include "encode/encode.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "mend/mend_parts.h"
#include "store/kit_file.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
using test::one;

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

TEST(OutlineContrast, MakesLettersReadableOnAnything) {
    for (const char* fill : {"#1B1A2B", "#FFF6E3", "#777777"})
        for (const char* ground : {"#24213A", "#FFFFFF", "#808080"}) {
            const Kit kit = after("outline-contrast", lettered(fill, ground));
            EXPECT_NE(ofPiece("lettering", kit).verdict, Verdict::fail) << fill << " on " << ground;
            EXPECT_EQ(kit.pieces[0].layers[0], lettered(fill, ground).pieces[0].layers[0])
                << "the rest is left alone";
        }
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
