// SPDX-License-Identifier: GPL-3.0-or-later
// Colour under alpha 0: what a careless resize at the destination would pull into the edge.
#pragma once

#include "raster/raster.h"

namespace zl {

// Gives pixels with alpha 0 within `reach` px of ink (alpha >= 8) the colour of the nearest ink
// (chamfer distance), the others 0. Alpha is unchanged; nothing happens to a raster without ink or
// without see-through pixels.
void bleedColour(Straight8& raster, int reach = 8);

// Lays the raster over one colour; every alpha is 255 afterwards. Exact rounding.
void flattenOnto(Straight8& raster, std::uint8_t red, std::uint8_t green, std::uint8_t blue);

}  // namespace zl
