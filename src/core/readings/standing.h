// SPDX-License-Identifier: GPL-3.0-or-later
// How much of a mark is seen over what is behind it: by its edges, as `standing-out` counts them.
#pragma once

#include <vector>

#include "raster/raster.h"

namespace zl {

// A mark's outer contour, and where two of its inks meet.
struct MarkEdges {
    std::vector<PixelRect> at;    // a pixel each
    std::vector<double> weights;  // the alpha beside it, 0..1
    double own = 0, all = 0;      // the weight of the edges between its own inks, and of all
    // What lies close to an edge, row by row: all that has to be looked at.
    struct Span {
        int y, from, to;  // px; from <= x < to
    };
    std::vector<Span> near{};
};
MarkEdges markEdges(const Straight8& mark);

// The share of the edges, by their weights, that stand out over `behind`, which is opaque and of
// the mark's size; 0..1.
double shareStandingOut(const Straight8& mark, const MarkEdges& edges, const Straight8& behind);

}  // namespace zl
