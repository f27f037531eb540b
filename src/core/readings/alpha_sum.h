// SPDX-License-Identifier: GPL-3.0-or-later
// A summed-area table of a raster's alpha (Crow 1984): the ink inside any real rectangle in a few
// look-ups. A pixel partly in the rectangle counts in part, since the sum goes straight from one
// pixel's edge to the next. Positions are px from the raster's own corner.
#pragma once

#include <vector>

#include "raster/over.h"
#include "raster/raster.h"

namespace zl {

class AlphaSum {
  public:
    explicit AlphaSum(const Ink& ink);
    explicit AlphaSum(const Straight8& pixels);
    double all() const;                  // px of full alpha
    double in(const RealRect& r) const;  // the same, inside `r`

  private:
    template <class Alpha>
    void fill(const Alpha& alpha);
    double upTo(double x, double y) const;  // left of and above a point
    PixelSize size_;
    std::size_t stride_ = 0;
    std::vector<std::uint64_t> table_;
};

}  // namespace zl
