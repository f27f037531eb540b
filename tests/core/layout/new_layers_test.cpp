// SPDX-License-Identifier: GPL-3.0-or-later
// Layers that are added begin within the frame, whatever its shape.
#include "layout/new_layers.h"

#include <gtest/gtest.h>

#include "render/render.h"

namespace zl {
namespace {

Piece pieceOf(PixelSize frame) {
    Piece piece;
    piece.frame = frame;
    return piece;
}

void expectWithin(const Layer& layer, PixelSize frame) {
    const RealRect box = boxOf(layer);
    EXPECT_GE(box.x, 0) << layer.name << " in " << frame.width;
    EXPECT_GE(box.y, 0) << layer.name << " in " << frame.width;
    EXPECT_LE(box.right(), frame.width) << layer.name << " in " << frame.width;
    EXPECT_LE(box.bottom(), frame.height) << layer.name << " in " << frame.width;
}

TEST(NewLayers, BeginWithinTheFrame) {
    for (const PixelSize frame :
         {PixelSize{1280, 720}, {1080, 1920}, {150, 150}, {970, 150}, {300, 2000}}) {
        const Piece piece = pieceOf(frame);
        expectWithin(newLettering(piece, nullptr, "Your title", "Lettering"), frame);
        for (int shape = 0; shape < 6; ++shape)
            expectWithin(newBar(piece, static_cast<BarShape>(shape), std::to_string(shape)), frame);
    }
    const auto letters = [](PixelSize frame) {
        return newLettering(pieceOf(frame), nullptr, "Your title", "Lettering").lettering()->size;
    };
    EXPECT_EQ(letters({1280, 720}), 115);
    EXPECT_EQ(letters({1080, 1920}), 173) << "the shorter side counts";
    const Layer wide = newLettering(pieceOf({1080, 1920}), nullptr, "A title of many words", "L");
    expectWithin(wide, {1080, 1920});
    EXPECT_LT(wide.lettering()->size, 173) << "the frame holds the words";
}

// A plain ground with one patch that draws the eye.
Straight8 withPatch(PixelSize size, const PixelRect& patch) {
    Straight8 made(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            made.row(y)[x] =
                patch.contains(x, y) ? ((x ^ y) & 8 ? 0xffd23a2au : 0xff7a120cu) : 0xff8c9096u;
    return made;
}

TEST(NewLayers, APictureThatIsCutByHalfShowsWhereTheEyeIsDrawn) {
    const PixelRect patch{260, 90, 340, 170};
    const auto shown = [&](PixelSize size, PixelSize frame) {
        const PictureLayer layer = newPicture("h", withPatch(size, patch), frame);
        EXPECT_LE(layer.place.x, 0);
        EXPECT_LE(layer.place.y, 0);
        EXPECT_GE(layer.place.right(), frame.width - 1e-9);
        EXPECT_GE(layer.place.bottom(), frame.height - 1e-9);
        return layer.place;
    };
    // 600 x 900 in 900 x 300: 200 of 900 px are seen, in the middle none of the patch.
    const RealRect tall = shown({600, 900}, {900, 300});
    EXPECT_LE(-tall.y / 1.5, patch.top);
    EXPECT_GE((300 - tall.y) / 1.5, patch.bottom);
    // More than half of it is seen: the middle.
    EXPECT_EQ(shown({600, 500}, {600, 300}), (RealRect{0, -100, 600, 500}));
}

TEST(NewLayers, TakeANameThatIsFree) {
    Piece piece = pieceOf({1280, 720});
    piece.layers.push_back(newLettering(piece, nullptr, "a", "Lettering"));
    piece.layers.push_back(newLettering(piece, nullptr, "a", "Lettering"));
    EXPECT_EQ(piece.layers[1].name, "Lettering 2");
}

}  // namespace
}  // namespace zl
