// SPDX-License-Identifier: GPL-3.0-or-later
// What is ink, what is background and what is a soft shadow on it, pixel by pixel, before the edge
// between them is solved.
#pragma once

#include <vector>

#include "cut/cut.h"

namespace zl {

enum class Region : std::uint8_t { ink, background, shadow };

class Regions {
  public:
    explicit Regions(PixelSize size)
        : size_(size), regions_(static_cast<std::size_t>(size.count()), Region::ink) {}
    PixelSize size() const { return size_; }
    Region* row(int y) { return regions_.data() + static_cast<std::ptrdiff_t>(y) * size_.width; }
    const Region* row(int y) const {
        return regions_.data() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }

  private:
    PixelSize size_;
    std::vector<Region> regions_;
};

// `level` has no drift. A pixel counts as ink until the background is followed to it: through
// openings of at least three pixels at the background's own colour, and where noise hides it as far
// as it is nearer to background than to ink.
Regions regionsOf(const Straight8& level, const KeyCut& key, const KeyPlan& plan);

// How far from the background, code values, what noise has left of it may be.
double ringing(const Noise& noise);

// px: a closed area of the ground's colour that is smaller is a glint.
long long leastHole(PixelSize size);

}  // namespace zl
