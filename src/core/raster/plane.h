// SPDX-License-Identifier: GPL-3.0-or-later
// One float for each pixel: an alpha 0..1, a distance in px, one channel while it is worked on.
// Move-only.
#pragma once

#include <algorithm>
#include <memory>

#include "base/geometry.h"

namespace zl {

class Plane {
  public:
    Plane() = default;
    // Values start as `value`.
    explicit Plane(PixelSize size, float value = 0)
        : size_(size.empty() ? PixelSize{} : size),
          values_(
              std::make_unique_for_overwrite<float[]>(static_cast<std::size_t>(size_.count()))) {
        std::fill_n(values_.get(), size_.count(), value);
    }
    // Values start undefined: every one must be written.
    static Plane unset(PixelSize size) {
        Plane plane;
        plane.size_ = size.empty() ? PixelSize{} : size;
        plane.values_ =
            std::make_unique_for_overwrite<float[]>(static_cast<std::size_t>(plane.size_.count()));
        return plane;
    }
    Plane clone() const {
        Plane copy(size_);
        std::copy_n(values_.get(), size_.count(), copy.values_.get());
        return copy;
    }
    PixelSize size() const { return size_; }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    bool empty() const { return size_.empty(); }
    float* row(int y) { return values_.get() + static_cast<std::ptrdiff_t>(y) * size_.width; }
    const float* row(int y) const {
        return values_.get() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    // 0 outside.
    float at(int x, int y) const {
        return x < 0 || y < 0 || x >= size_.width || y >= size_.height ? 0.0f : row(y)[x];
    }

  private:
    PixelSize size_;
    std::unique_ptr<float[]> values_;
};

}  // namespace zl
