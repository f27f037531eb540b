// SPDX-License-Identifier: GPL-3.0-or-later
// A small value for each pixel: a label, a mark. Copies are deep.
#pragma once

#include <cstdint>
#include <vector>

#include "base/geometry.h"

namespace zl {

template <class T>
class Cells {
  public:
    Cells() = default;
    explicit Cells(PixelSize size, T value = {})
        : size_(size.empty() ? PixelSize{} : size),
          values_(static_cast<std::size_t>(size_.count()), value) {}

    PixelSize size() const { return size_; }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    bool empty() const { return values_.empty(); }
    T* row(int y) { return values_.data() + static_cast<std::ptrdiff_t>(y) * size_.width; }
    const T* row(int y) const {
        return values_.data() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }
    T& at(int x, int y) { return row(y)[x]; }
    const T& at(int x, int y) const { return row(y)[x]; }
    bool holds(int x, int y) const {
        return x >= 0 && y >= 0 && x < size_.width && y < size_.height;
    }
    std::vector<T>& all() { return values_; }
    const std::vector<T>& all() const { return values_; }
    bool operator==(const Cells& o) const {
        return size_.width == o.size_.width && size_.height == o.size_.height &&
               values_ == o.values_;
    }

  private:
    PixelSize size_;
    std::vector<T> values_;
};

// What a pixel is said to belong to.
using Labels = Cells<std::uint8_t>;
inline constexpr std::uint8_t ofGround = 0, ofSubject = 1, undecided = 2;

}  // namespace zl
