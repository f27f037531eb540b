// SPDX-License-Identifier: GPL-3.0-or-later
// The edge of a cut-out solved from its background. Used by cut/key.cpp.
#pragma once

#include <vector>

#include "cut/cut.h"

namespace zl {

enum class Region : std::uint8_t { ink, background, shadow };

class Regions {
  public:
    explicit Regions(PixelSize size) : size_(size), regions_(static_cast<std::size_t>(size.count()), Region::ink) {}
    PixelSize size() const { return size_; }
    Region* row(int y) { return regions_.data() + static_cast<std::ptrdiff_t>(y) * size_.width; }
    const Region* row(int y) const { return regions_.data() + static_cast<std::ptrdiff_t>(y) * size_.width; }

  private:
    PixelSize size_;
    std::vector<Region> regions_;
};

// Background comes out with alpha 0, shadow black with the alpha that darkens the background as much (or 0), ink as it is, and
// what lies between with the alpha and the colour that C = aF + (1 - a)B asks for.
Straight8 unmixed(const Straight8& picture, const Regions& regions, const KeyPlan& plan, bool keepsShadow, int threads,
                  const std::stop_token& stop);

}  // namespace zl
