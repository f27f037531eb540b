// SPDX-License-Identifier: GPL-3.0-or-later
// A shape cut as an outline, and an outline as coverage.
#pragma once

#include <span>
#include <vector>

#include "kit/cut_values.h"
#include "raster/plane.h"

namespace zl {

// The closed outline in px of the original; `scale` is how large it will be drawn, so that curves
// are fine enough there.
std::vector<RealPoint> outlineOf(const ShapeCut& cut, double scale);

// How much of each pixel lies inside the closed polygon (non-zero rule), 0..1, exact to float. It
// may reach beyond the plane.
Plane coverageOf(std::span<const RealPoint> outline, PixelSize size, int threads = 1);

}  // namespace zl
