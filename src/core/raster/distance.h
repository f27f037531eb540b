// SPDX-License-Identifier: GPL-3.0-or-later
// The signed Euclidean distance to an anti-aliased edge, in px, as exact as the alpha tells: an edge pixel's coverage and its
// neighbours give a straight piece of the edge inside it (after Gustavson and Strand, Anti-aliased Euclidean distance
// transform, Pattern Recognition Letters 32, 2011), and the distance goes to the nearest such piece, not to a pixel's centre.
#pragma once

#include "raster/plane.h"

namespace zl {

// `alpha` is 0..1, the edge where it would be 0.5; outside the plane it is 0. Negative inside. Only what lies within `band`
// px of the edge is measured; all else is -band or band. A plane without an edge is `band` all over, or -band where full.
Plane signedDistance(const Plane& alpha, float band, int threads = 1);

// How much of each pixel lies within `by` px beyond the edge (by < 0: deeper than that inside), 0..1. |by| <= band - 1.
Plane grown(const Plane& distance, float by, int threads = 1);

}  // namespace zl
