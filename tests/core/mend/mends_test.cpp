// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/support/files_read.h"
#include "mend/mend.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(Mends, CropToFrameKeepsShapesAndTheMiddle) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1920, 1200}),
                                test::textured({480, 300}), {0, 0, 1920, 1200});
    kit = test::withLetters(kit, "Title", 90, {960, 600});
    const Mended done = mend("crop-to-frame", "frame", kit);
    EXPECT_EQ(done.reading.verdict, Verdict::pass);
    const Piece& piece = done.after.pieces[0];
    EXPECT_EQ(piece.frame, (PixelSize{1280, 720}));
    EXPECT_EQ(piece.layers[0].picture()->place, (RealRect{0, -40, 1280, 800}));
    EXPECT_NEAR(piece.layers[1].lettering()->size, 60, 1e-9);
    EXPECT_NEAR(piece.layers[1].lettering()->at.x, 640, 1e-9);
    EXPECT_NEAR(piece.layers[1].lettering()->at.y, 360, 1e-9);
}

TEST(Mends, CropToFrameKeepsTheLargestWelcomeMultiple) {
    const Mended done =
        mend("crop-to-frame", "frame", test::kitWith("video-thumbnail", {2700, 1500}));
    EXPECT_EQ(done.after.pieces[0].frame, (PixelSize{2560, 1440}));
}

TEST(Mends, UnstretchKeepsTheBoxOfAGroundAndTheWholeOfASmallPicture) {
    const Mended ground = mend("unstretch", "stretch", placed({0, 0, 1280, 720}, {400, 300}));
    EXPECT_EQ(ground.reading.verdict, Verdict::pass);
    EXPECT_EQ(ground.after.pieces[0].layers[0].picture()->place, (RealRect{0, 0, 1280, 720}));
    EXPECT_EQ(ground.after.pieces[0].layers[0].picture()->crop, (RealRect{0, 37.5, 400, 225}));
    const Mended mark = mend("unstretch", "stretch", placed({10, 20, 100, 100}, {200, 100}));
    EXPECT_EQ(mark.reading.verdict, Verdict::pass);
    EXPECT_EQ(mark.after.pieces[0].layers[0].picture()->crop, (RealRect{0, 0, 200, 100}));
    EXPECT_EQ(mark.after.pieces[0].layers[0].picture()->place, (RealRect{10, 45, 100, 50}));
}

TEST(Mends, FitLimitMakesTheReleaseFit) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                test::noisy({1280, 720}), {0, 0, 1280, 720});
    Piece piece = kit.pieces[0];
    piece.release.format = FormatChoice::png;
    piece.release.name = "mine.png";
    kit = good(withChangedPiece(kit, piece));
    const Mended done = mend("fit-limit", "weight", kit);
    EXPECT_EQ(done.reading.verdict, Verdict::pass);
    EXPECT_EQ(done.after.pieces[0].layers, kit.pieces[0].layers);
    EXPECT_EQ(done.after.pieces[0].release.name, "mine.jpg") << "the ending follows what was found";
}

TEST(Mends, RenameNamesByContentAndDistinctly) {
    Kit kit = placed({0, 0, 200, 100});
    kit = test::withLetters(kit, "the lever that stuck", 60, {10, 10});
    for (const int id : {1, 2}) {
        Layer layer = *kit.pieces[0].layer(id);
        layer.name = "layer 7";
        kit = good(withChangedLayer(kit, "p", layer));
    }
    const Mended done = mend("rename", "naming", kit);
    EXPECT_EQ(done.reading.verdict, Verdict::pass);
    EXPECT_EQ(done.after.pieces[0].layers[0].name, "dusk");
    EXPECT_EQ(done.after.pieces[0].layers[1].name, "the lever that stuck");
}

TEST(Mends, OfFilesGiveFilesThatPass) {
    const Bytes wrong = test::png(test::textured({1600, 1200}));
    EXPECT_EQ(ofFile("frame", wrong, "video-thumbnail").verdict, Verdict::fail);
    const MendedFile cropped =
        good(mendedFile("crop-to-frame", wrong, "x.png", test::brief("video-thumbnail")));
    EXPECT_EQ(ofFile("frame", cropped.bytes, "video-thumbnail").verdict, Verdict::pass);
    EXPECT_FALSE(mendedFile("crop-to-frame", test::png(test::textured({640, 360})), "x.png",
                            test::brief("video-thumbnail")))
        << "cropping adds no pixels";
    const Bytes heavy = test::png(test::noisy({1280, 720}));
    EXPECT_EQ(ofFile("weight", heavy, "video-thumbnail").verdict, Verdict::fail);
    EXPECT_EQ(
        ofFile("weight",
               good(mendedFile("fit-limit", heavy, "x.png", test::brief("video-thumbnail"))).bytes,
               "video-thumbnail")
            .verdict,
        Verdict::pass);
    EXPECT_EQ(good(mendedFile("rename", wrong, "x.jpg", test::brief("video-thumbnail"))).bytes,
              wrong);
    EXPECT_EQ(mendedFile("unstretch", wrong, "x.png", test::brief("video-thumbnail")).error().code,
              Code::badUsage);
}

}  // namespace
}  // namespace zl
