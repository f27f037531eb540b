// SPDX-License-Identifier: GPL-3.0-or-later
// The signal box's cat, as if photographed: striped, with a soft rim of fur, before a busy bank of
// leaves, its shadow on the boards. Every pixel is drawn here.
#pragma once

#include "raster/raster.h"

namespace zl::demo {

// Opaque, with a photograph's grain. The same call gives the same pixels.
Straight8 catOnTheBoards(PixelSize size);

// Where the cat is, in px of a picture of that size: a box round it with a little room.
RealRect catBox(PixelSize size);

}  // namespace zl::demo
