// SPDX-License-Identifier: GPL-3.0-or-later
// A plane that is known in places, carried on over the rest.
#pragma once

#include "raster/plane.h"

namespace zl {

// `weight`, 0..1, says how much each value is known; where it is 0 the value does not matter.
// Afterwards each has its own by that weight, and for the rest the weighted means of larger and
// larger squares round it (pull and push; Gortler et al., The lumigraph, 1996). Where nothing is
// known at all, values become 0; a plane of one pixel stays as it is.
void carryOn(Plane& value, const Plane& weight);

}  // namespace zl
