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

TEST(NewLayers, TakeANameThatIsFree) {
    Piece piece = pieceOf({1280, 720});
    piece.layers.push_back(newLettering(piece, nullptr, "a", "Lettering"));
    piece.layers.push_back(newLettering(piece, nullptr, "a", "Lettering"));
    EXPECT_EQ(piece.layers[1].name, "Lettering 2");
}

}  // namespace
}  // namespace zl
