// SPDX-License-Identifier: GPL-3.0-or-later
// Black bars at the borders of an opaque picture, as the reading `black-bars` finds them.
#pragma once

#include <optional>

#include "raster/raster.h"

namespace zl {

// What lies between the bars, px; nothing where there are none.
std::optional<PixelRect> insideBars(const Straight8& frame);

}  // namespace zl
