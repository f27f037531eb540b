// SPDX-License-Identifier: GPL-3.0-or-later
// A decoded frame as sRGB pixels.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

#include "video/video.h"

namespace zl::video {

// What the frame says of its colours; where it is silent, as its height suggests.
VideoColour colourOf(const AVFrame& frame);

// Straight 8-bit sRGB, as it is coded: not turned. Within half a code value of the matrix in double
// precision. PQ and HLG are brought to a display of 203 nits by the curve of docs/video.md, and
// `toned` says so.
[[nodiscard]] Result<Straight8> pixelsOf(const AVFrame& frame, bool& toned);

// Luma made as small as `width` px, each the mean of what it covers.
SmallFrame smallOf(const AVFrame& frame, int width);

}  // namespace zl::video
