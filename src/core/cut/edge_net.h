// SPDX-License-Identifier: GPL-3.0-or-later
// How much ink covers the pixels of an edge in a JPEG. There a pixel's own colour tells little:
// halved chroma has bled from up to three pixels around, and thin rims lie between. A small network
// reads it off the seven by seven pixels around. It was trained on drawn shapes alone
// (scripts/edge_net/train.sh); docs/truth.md tells how good it is on others.
#pragma once

#include <array>

#include "cut/regions.h"
#include "raster/raster.h"

namespace zl {

namespace edge_net {
inline constexpr int reach = 3, side = 2 * reach + 1;  // px around
// A pixel's luma and chroma beside the ground's and whether it is ground, by place; then what they
// were divided by, and the coverage that the pixel's own colour tells.
inline constexpr int inputs = 3 * side * side + 2;
}  // namespace edge_net

class EdgeNet {
  public:
    // `level` has no drift; both are kept by reference.
    EdgeNet(const Straight8& level, const Regions& regions);

    // Coverage 0..1 at a pixel over the colour `ground`, code values; `told` is what the pixel's
    // own colour says. Mirrored and turned by quarters it is the same.
    double coverage(int x, int y, const std::array<double, 3>& ground, double told) const;

    // What the network is given for that: turned so that ink is where the window's right half and
    // more than its lower half has it, with luma mostly positive and all of it at most 1.
    std::array<float, edge_net::inputs> seen(int x, int y, const std::array<double, 3>& ground,
                                             double told) const;

  private:
    const Straight8& level_;
    const Regions& regions_;
};

}  // namespace zl
