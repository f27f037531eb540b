// SPDX-License-Identifier: GPL-3.0-or-later
// Where a picture draws the eye.
#pragma once

#include "raster/raster.h"

namespace zl {

// The point of most attention as shares of width and height, 0..1 (libvips' measure: edges, skin tones, saturation).
// The centre when it cannot be told.
RealPoint attentionPoint(const Straight8& picture);

}  // namespace zl
