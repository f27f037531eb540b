// SPDX-License-Identifier: GPL-3.0-or-later
// Mirrored and turned pixels. Quarter turns and mirrors move pixels and change none; any other
// angle is resampled once more, with Lanczos' window at the scale it has (docs/decisions/006).
#pragma once

#include <stop_token>

#include "raster/over.h"

namespace zl {

// Mirrored first, then turned clockwise by `quarters` quarter turns, 0..3.
Straight8 turnedQuarters(const Straight8& raster, int quarters, bool flipX, bool flipY);
// Where a rectangle of the raster lies after the same turn.
RealRect turnedQuarters(const RealRect& part, PixelSize raster, int quarters, bool flipX,
                        bool flipY);

// `ink`, whose box starts at (0, 0) and stands for `place` of the frame, turned clockwise by
// `degrees` about the place's centre; the pixels `want` of it. Its edge is anti-aliased.
Ink turned(const Ink& ink, const RealRect& place, double degrees, PixelRect want, int threads = 1,
           std::stop_token stop = {});

}  // namespace zl
