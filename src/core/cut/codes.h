// SPDX-License-Identifier: GPL-3.0-or-later
// A byte for each pixel of a picture, and the least or the most of them round each. Used by
// cut/regions.cpp.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "raster/raster.h"

namespace zl {

// One byte for each pixel.
class Codes {
  public:
    explicit Codes(PixelSize size) : size_(size), values_(static_cast<std::size_t>(size.count())) {}
    std::uint8_t* row(int y) {
        return values_.data() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    const std::uint8_t* row(int y) const {
        return values_.data() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    PixelSize size() const { return size_; }

  private:
    PixelSize size_;
    std::vector<std::uint8_t> values_;
};

// Each pixel's `best` over a square of 2 * reach + 1 px, cut at the frame; rows first, then
// columns.
template <class Best>
Codes square(const Codes& in, int reach, const Best& best) {
    const int w = in.width(), h = in.height();
    Codes across(in.size()), out(in.size());
    // Shifted by one pixel after the other, so that a row is a loop over bytes.
    for (int y = 0; y < h; ++y) {
        const std::uint8_t* from = in.row(y);
        std::uint8_t* to = across.row(y);
        std::copy_n(from, w, to);
        for (int by = 1; by <= std::min(reach, w - 1); ++by) {
            for (int x = 0; x < w - by; ++x) to[x] = best(to[x], from[x + by]);
            for (int x = by; x < w; ++x) to[x] = best(to[x], from[x - by]);
        }
    }
    for (int y = 0; y < h; ++y) {
        std::copy_n(across.row(y), w, out.row(y));
        std::uint8_t* to = out.row(y);
        for (int sy = std::max(0, y - reach); sy <= std::min(h - 1, y + reach); ++sy) {
            const std::uint8_t* from = across.row(sy);
            for (int x = 0; x < w; ++x) to[x] = best(to[x], from[x]);
        }
    }
    return out;
}
inline constexpr auto lesser = [](std::uint8_t a, std::uint8_t b) { return std::min(a, b); };
inline constexpr auto greater = [](std::uint8_t a, std::uint8_t b) { return std::max(a, b); };

}  // namespace zl
