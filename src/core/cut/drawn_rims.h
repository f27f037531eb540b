// SPDX-License-Identifier: GPL-3.0-or-later
// Rims of another ink than what lies in them, as most drawings have: on white a grey line round
// dark ink looks like dark ink that covers half the ground. In a lossless picture the way inwards
// tells them apart, since a crisp edge rises from the ground within two pixels and never pauses.
// Used by cut/unmix.cpp.
#pragma once

#include <array>
#include <vector>

#include "cut/edge_scan.h"
#include "cut/regions.h"

namespace zl {

// A pixel beside the ground, or some pixels in, and the alpha 0..1 by which its colour is a mixture
// of the ground's and of ink further in.
struct EdgeInk {
    Spot spot;
    int depth = 1;  // px from the ground
    double alpha = 1;
    bool shade = false;  // of a thin shadow
};

class DrawnRims {
  public:
    // `ground` in code values 0..255; `edge` has each pixel once. The picture and its regions are
    // looked at only now.
    DrawnRims(const Straight8& picture, const Regions& regions, const std::array<double, 3>& ground,
              const std::vector<EdgeInk>& edge);

    // Pixels of the edge that are whole ink though a mixture would explain them, row by row: where
    // the way in pauses or turns back before it comes to ink that is no edge, and all behind that.
    const std::vector<Spot>& whole() const { return whole_; }
    // Those of them where the way pauses, which have the rim's colour.
    const std::vector<Spot>& rim() const { return rim_; }

    // For the other pixels of the edge, asked in the order of their depth: the alpha that was found
    // once the whole ink was known, or the most that a pixel beside it and further out has; a thin
    // shadow's is left.
    double settled(Spot spot, double alpha, bool shade);

  private:
    EdgeInk* at(Spot spot);  // nothing where it is no edge

    std::vector<Spot> whole_, rim_;
    std::vector<EdgeInk> edge_;
    PixelSize size_;
    std::vector<std::uint32_t> places_;  // by pixel: 1 + its place in `edge_`; 0: it is no edge
};

}  // namespace zl
