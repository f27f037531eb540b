// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of frames that nearly every video has, in whole numbers: 8 bits, light and colour in
// planes of their own, colour at every place or at every second one.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

#include <optional>

#include "raster/raster.h"

namespace zl::video {

// sRGB as it is coded, opaque, of the frame's size; where colour is kept at fewer places it is
// filled in along straight lines, as the siting of the frame says. Within 0.51 of a code of the
// matrix in double precision, and the same on every processor. Nothing for other kinds of frames.
std::optional<Straight8> plainPixelsOf(const AVFrame& frame);

}  // namespace zl::video
