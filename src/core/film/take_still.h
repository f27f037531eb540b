// SPDX-License-Identifier: GPL-3.0-or-later
// A frame of a video that becomes the picture of a piece.
#pragma once

#include "kit/kit.h"
#include "video/video.h"

namespace zl {

// The frame as an original: a PNG named after the video and the time.
[[nodiscard]] Result<Asset> stillOf(const VideoFrame& frame, const std::string& videoName);

// The layer that a still replaces: the one of that id when it is a picture that is released, else
// the lowest such picture that covers half of the frame or more; 0: none, it becomes a new layer.
int layerForStill(const Piece& piece, int chosenId);

// The picture replaced by the still, its tone, veils and shape cuts kept, its crop too where the
// shape of the picture allows it; or a new layer at the bottom that fills the frame.
[[nodiscard]] Result<Kit> withStill(const Kit& kit, const std::string& pieceId, int layerId,
                                    Asset still, PixelSize size, const StillFrom& from);

}  // namespace zl
