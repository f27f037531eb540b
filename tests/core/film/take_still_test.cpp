// SPDX-License-Identifier: GPL-3.0-or-later
// A frame becomes the picture of a piece: which layer it replaces, and what stays.
#include "film/take_still.h"

#include "edit/edits.h"
#include "picture/decode.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

VideoFrame frameOf(PixelSize size) {
    VideoFrame frame;
    frame.pixels = test::textured(size);
    frame.number = 45;
    frame.time = 1.5;
    return frame;
}

StillFrom from(PixelSize size) {
    return {"/films/clip.mp4", 1.5, 45, size};
}

TEST(TakeStill, TheOriginalIsThePixelsNamedAfterVideoAndTime) {
    const VideoFrame frame = frameOf({64, 36});
    const Asset still = good(stillOf(frame, "clip.mp4"));
    EXPECT_EQ(still.name, "clip 1.500.png");
    const Picture back = good(decode(*still.bytes, still.name));
    ASSERT_EQ(back.pixels->size(), frame.pixels.size());
    for (int y = 0; y < 36; ++y)
        EXPECT_TRUE(std::equal(back.pixels->row(y), back.pixels->row(y) + 64, frame.pixels.row(y)));
}

TEST(TakeStill, WithoutAPictureItBecomesTheLowestLayerAndFillsTheFrame) {
    Kit kit = good(withLayer(test::kitWith("video-thumbnail", {1280, 720}), "p", [] {
        Layer bar;
        bar.name = "Bar";
        bar.what = BarLayer{};
        std::get<BarLayer>(bar.what).place = {0, 0, 100, 50};
        return bar;
    }()));
    const PixelSize size{64, 64};
    EXPECT_EQ(layerForStill(kit.pieces[0], 0), 0);
    kit = good(withStill(kit, "p", 0, good(stillOf(frameOf(size), "clip.mp4")),
                         frameOf(size).pixels, from(size)));
    const Piece& piece = std::as_const(kit).pieces[0];
    ASSERT_EQ(piece.layers.size(), 2u);
    const PictureLayer* picture = piece.layers[0].picture();
    ASSERT_TRUE(picture);
    // The smallest cover: as wide as the frame, reaching past it above and below alike.
    EXPECT_EQ(picture->place, (RealRect{0, -280, 1280, 1280}));
    EXPECT_EQ(picture->crop, (RealRect{0, 0, 64, 64}));
    EXPECT_EQ(picture->still, from(size));
}

TEST(TakeStill, ReplacesTheMainPictureAndKeepsItsToneCropAndShapes) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                test::textured({160, 90}), {0, 0, 1280, 720});
    Layer layer = kit.pieces[0].layers[0];
    PictureLayer& old = *layer.picture();
    old.place = {0, 0, 1280, 720};
    old.crop = {40, 20, 80, 45};
    old.tone.contrast = 12;
    SubjectCut subject;
    subject.box = RealRect{1, 2, 30, 40};
    subject.strokes = {{true, 3, {{9, 9}}}};
    subject.edge = SubjectEdge::fuller;
    old.cuts = {{ShapeCut{}, false}, {KeyCut{}, false}, {subject, false}};
    std::get<ShapeCut>(old.cuts[0].what).box = {40, 20, 80, 45};
    kit = good(withChangedLayer(kit, "p", layer));
    const int id = layerForStill(kit.pieces[0], 0);
    EXPECT_EQ(id, layer.id) << "the picture that covers the frame";
    // The same shape at twice the size: the crop goes along.
    const PixelSize size{320, 180};
    kit = good(withStill(kit, "p", id, good(stillOf(frameOf(size), "clip.mp4")),
                         frameOf(size).pixels, from(size)));
    const PictureLayer now = *std::as_const(kit).pieces[0].layers[0].picture();
    EXPECT_EQ(now.crop, (RealRect{80, 40, 160, 90}));
    EXPECT_EQ(now.place, (RealRect{0, 0, 1280, 720}));
    EXPECT_EQ(now.tone.contrast, 12);
    ASSERT_EQ(now.cuts.size(), 2u) << "a key belonged to the pixels that are gone";
    EXPECT_TRUE(now.cuts[0].shape());
    SubjectCut anew;
    anew.edge = SubjectEdge::fuller;
    EXPECT_EQ(*now.cuts[1].subject(), anew) << "another picture is asked anew";
    // Another shape: nothing is stretched.
    const PixelSize upright{90, 160};
    kit = good(withStill(kit, "p", id, good(stillOf(frameOf(upright), "clip.mp4")),
                         frameOf(upright).pixels, from(upright)));
    const PictureLayer last = *std::as_const(kit).pieces[0].layers[0].picture();
    EXPECT_NEAR(last.crop.width / last.crop.height, last.place.width / last.place.height, 1e-9);
}

TEST(TakeStill, ASmallPictureIsNotTheMainOneUnlessItIsChosen) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                test::textured({160, 90}), {0, 0, 1280, 720});
    Layer layer = kit.pieces[0].layers[0];
    layer.picture()->place = {0, 0, 160, 90};
    kit = good(withChangedLayer(kit, "p", layer));
    EXPECT_EQ(layerForStill(kit.pieces[0], 0), 0);
    EXPECT_EQ(layerForStill(kit.pieces[0], layer.id), layer.id);
    EXPECT_FALSE(withStill(kit, "gone", 0, {}, Straight8({1, 1}), {}));
}

}  // namespace
}  // namespace zl
