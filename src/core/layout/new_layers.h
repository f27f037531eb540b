// SPDX-License-Identifier: GPL-3.0-or-later
// Layers as they come into a piece: sized and placed by its frame. Their names and words come from
// whoever asks.
#pragma once

#include "brief/brief.h"
#include "kit/kit.h"
#include "raster/raster.h"

namespace zl {

// The name, with a number behind it when a layer has it already.
std::string freeName(const Piece& piece, const std::string& name);

// A picture that fills the frame, laid as firstCrop has it. `source`: the original's hash.
PictureLayer newPicture(const std::string& source, const Straight8& picture, PixelSize frame);
// In the middle, with an outline that is seen where the piece is smallest.
Layer newLettering(const Piece& piece, const Brief* brief, std::string text, std::string name);
// A bar along the foot, a line or an arrow in the middle, as its shape asks.
Layer newBar(const Piece& piece, BarShape shape, std::string name);

// What a stream's overlay is built of, inside the safe title area (common practice, no source): a
// box for the camera, one for the chat, a list of links.
enum class OverlayBox { camera, chat, links };
struct OverlayBoxWords {
    std::string box, list, lines;  // names of the box and of the list's lettering, and its text
};
// From below; the last one is the one to be chosen.
std::vector<Layer> newOverlayBox(const Piece& piece, OverlayBox which,
                                 const OverlayBoxWords& words);

}  // namespace zl
