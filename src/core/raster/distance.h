// SPDX-License-Identifier: GPL-3.0-or-later
// The signed Euclidean distance to an anti-aliased edge, in px, as exact as the alpha tells. An
// edge pixel's coverage and the sums of the columns beside it give a straight piece of the edge
// inside it, as height functions do for a fluid's surface (Cummins, Francois and Kothe, Estimating
// curvature from volume fractions, Computers and Structures 83, 2005); two such lines that meet
// give a corner. The distance goes to the nearest piece, not to a pixel's centre (the idea of
// Gustavson and Strand, Anti-aliased Euclidean distance transform, Pattern Recognition Letters 32,
// 2011).
#pragma once

#include <span>

#include "raster/plane.h"

namespace zl {

class EdgeDistance {
  public:
    // `alpha` is 0..1, the edge where it would be 0.5; outside the plane it is 0. Only what lies
    // within `band` px of the edge is measured. It is exact within 2 px of the distances `exactAt`,
    // and to three quarters of a px elsewhere: a shape that is to be grown by 12 px needs the
    // digits there, and only there.
    EdgeDistance(const Plane& alpha, float band, std::span<const float> exactAt, int threads = 1);
    ~EdgeDistance();

    // Negative inside; beyond the band -band or band. A plane without an edge is `band` all over,
    // or -band where it is full.
    const Plane& plane() const { return plane_; }
    // How much of each pixel lies within `by` px beyond the edge (by < 0: deeper than that inside),
    // 0..1. `by` is one of exactAt.
    Plane grown(float by) const;

  private:
    struct Pieces;
    float countedNear(int x, int y, float by) const;
    Plane plane_;
    std::unique_ptr<Pieces> pieces_;
    int threads_;
};

}  // namespace zl
