// SPDX-License-Identifier: GPL-3.0-or-later
// The rasters of the core. Pixel kind and alpha state are part of the type; nothing converts
// silently.
//
//   Straight8   8 bit a channel, straight alpha, sRGB-encoded, interleaved: what files hold.
//   Move-only; clone() copies. Ink16       16 bit a channel, straight alpha, sRGB-encoded, four
//   planes: ink that was computed (resampled, lettered)
//               and must not lose its colour at low alpha.
//
// A pixel of Straight8 is one 32-bit word whose bytes in memory are R, G, B, A (little-endian
// machines only). Sizes are in pixels; an empty raster has width or height 0.
#pragma once

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <memory>
#include <span>

#include "base/geometry.h"

namespace zl {

// The most pixels a picture may have that is read, and a frame that is made. Ours: 100 million.
inline constexpr long long mostPixels = 100'000'000;

class Straight8 {
  public:
    Straight8() = default;
    // Pixels start undefined; see cleared().
    explicit Straight8(PixelSize size)
        : size_(size.empty() ? PixelSize{} : size),
          pixels_(std::make_unique_for_overwrite<std::uint32_t[]>(
              static_cast<std::size_t>(size_.count()))) {}

    static Straight8 cleared(PixelSize size, std::uint32_t value = 0) {
        Straight8 made(size);
        std::fill_n(made.pixels_.get(), made.size_.count(), value);
        return made;
    }
    Straight8 clone() const {
        Straight8 copy(size_);
        std::copy(pixels().begin(), pixels().end(), copy.pixels_.get());
        return copy;
    }

    PixelSize size() const { return size_; }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    bool empty() const { return size_.empty(); }
    std::uint32_t* row(int y) {
        return pixels_.get() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    const std::uint32_t* row(int y) const {
        return pixels_.get() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    std::span<const std::uint32_t> pixels() const {
        return {pixels_.get(), static_cast<std::size_t>(size_.count())};
    }
    const std::uint8_t* bytes() const {
        return reinterpret_cast<const std::uint8_t*>(pixels_.get());
    }

  private:
    PixelSize size_;
    std::unique_ptr<std::uint32_t[]> pixels_;
};

inline int redOf(std::uint32_t p) {
    return static_cast<int>(p & 255u);
}
inline int greenOf(std::uint32_t p) {
    return static_cast<int>(p >> 8 & 255u);
}
inline int blueOf(std::uint32_t p) {
    return static_cast<int>(p >> 16 & 255u);
}
inline int alphaOf(std::uint32_t p) {
    return static_cast<int>(p >> 24);
}
inline std::uint32_t packed(int r, int g, int b, int a) {
    return static_cast<std::uint32_t>(r) | static_cast<std::uint32_t>(g) << 8 |
           static_cast<std::uint32_t>(b) << 16 | static_cast<std::uint32_t>(a) << 24;
}

class Ink16 {
  public:
    Ink16() = default;
    explicit Ink16(PixelSize size)
        : size_(size.empty() ? PixelSize{} : size),
          values_(std::make_unique_for_overwrite<std::uint16_t[]>(
              static_cast<std::size_t>(size_.count()) * 4)) {}

    PixelSize size() const { return size_; }
    bool empty() const { return size_.empty(); }
    // Plane 0..3 is red, green, blue, alpha; values 0..65535.
    std::uint16_t* row(int plane, int y) { return values_.get() + offset(plane, y); }
    const std::uint16_t* row(int plane, int y) const { return values_.get() + offset(plane, y); }
    std::size_t byteCount() const { return static_cast<std::size_t>(size_.count()) * 8; }

  private:
    std::ptrdiff_t offset(int plane, int y) const {
        return static_cast<std::ptrdiff_t>(size_.count()) * plane +
               static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    PixelSize size_;
    std::unique_ptr<std::uint16_t[]> values_;
};

// Whether every pixel has alpha 255. An empty raster has.
inline bool isOpaque(const Straight8& raster) {
    constexpr std::size_t atOnce =
        1024;  // a branch a block, so that the compiler can look at many pixels at once
    const std::span<const std::uint32_t> all = raster.pixels();
    for (std::size_t from = 0; from < all.size(); from += atOnce) {
        std::uint32_t common = 0xFF000000u;
        for (const std::uint32_t p : all.subspan(from, std::min(atOnce, all.size() - from)))
            common &= p;
        if (common != 0xFF000000u) return false;
    }
    return true;
}

// A copy of the pixels of `part`, which lies in the raster.
inline Straight8 partOf(const Straight8& raster, const PixelRect& part) {
    Straight8 out(part.size());
    for (int y = 0; y < part.height(); ++y)
        std::copy_n(raster.row(part.top + y) + part.left, part.width(), out.row(y));
    return out;
}

}  // namespace zl
