// SPDX-License-Identifier: GPL-3.0-or-later
// Repairs of straight 8-bit ink, one for each kind of fault that cut/edge_scan.h finds. Each leaves
// alone what has no such fault.
#pragma once

#include "kit/cut_values.h"
#include "raster/raster.h"

namespace zl {

//   fringe         edge pixels get the nearest clean ink's colour; where a threshold left matte in
//   full pixels, their coverage is
//                  solved from C = aF + (1 - a)B as well
//   steps          the contour along straight slants gets the coverage of the line through it
//   specks         alpha 0;  haze: alpha 0
//   pinholes       opaque, in the colour round them
//   premultiplied  colour divided by alpha
Straight8 cleaned(const Straight8& ink, const CleanCut& what, int threads = 1);

}  // namespace zl
