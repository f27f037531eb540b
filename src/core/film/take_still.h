// SPDX-License-Identifier: GPL-3.0-or-later
// A frame of a video that becomes the picture of a piece.
#pragma once

#include <optional>

#include "base/file.h"
#include "kit/kit.h"
#include "video/video.h"

namespace zl {

// The frame as a PNG, of 16 bits where the video has more than 8.
[[nodiscard]] Result<Bytes> pngOf(const VideoFrame& frame);
// The frame as an original: that PNG, named after the video and the time.
[[nodiscard]] Result<Asset> stillOf(const VideoFrame& frame, const std::string& videoName);

// Where a video that a kit remembers lies; `kitFile` is where the kit lies, if it was saved.
Path videoAt(const std::string& remembered, const std::optional<Path>& kitFile);
// How the kit remembers the video: from the kit's folder on where it lies under it.
std::string rememberedAs(const Path& video, const std::optional<Path>& kitFile);

// Whether the file is a video that a piece shows, was taken from or goes with.
bool isVideoOf(const Kit& kit, const std::optional<Path>& kitFile, const Path& file);

// The kit with the whole paths of its videos, for another folder than that of `kitFile`.
Kit withWholeVideoPaths(const Kit& kit, const Path& kitFile);

// The layer that a still replaces: the one of that id when it is a picture that is released, else
// the lowest such picture that covers half of the frame or more; 0: none, it becomes a new layer.
int layerForStill(const Piece& piece, int chosenId);

// The picture replaced by the still, its tone, veils and shape cuts kept, its crop too where the
// shape of the picture allows it; or a new layer at the bottom that fills the frame, laid as
// firstCrop has it. `pixels`: those of the still. `part`: what of it is shown at most, without its
// black bars.
[[nodiscard]] Result<Kit> withStill(const Kit& kit, const std::string& pieceId, int layerId,
                                    Asset still, const Straight8& pixels, const StillFrom& from,
                                    const std::optional<PixelRect>& part = {});

}  // namespace zl
