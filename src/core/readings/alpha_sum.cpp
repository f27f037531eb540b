// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/alpha_sum.h"

#include <algorithm>

namespace zl {

AlphaSum::AlphaSum(const Ink& ink) : size_(ink.box.empty() ? PixelSize{} : ink.box.size()) {
    if (ink.eight)
        fill([&](int y) {
            const std::uint32_t* row = ink.eight->row(y + ink.fromY) + ink.fromX;
            return [row](int x) { return static_cast<std::uint64_t>(alphaOf(row[x])) * 257; };
        });
    else if (!size_.empty())
        fill([&](int y) {
            const std::uint16_t* row = ink.sixteen->row(3, y);
            return [row](int x) { return static_cast<std::uint64_t>(row[x]); };
        });
}

AlphaSum::AlphaSum(const Straight8& pixels) : size_(pixels.size()) {
    fill([&](int y) {
        const std::uint32_t* row = pixels.row(y);
        return [row](int x) { return static_cast<std::uint64_t>(alphaOf(row[x])) * 257; };
    });
}

// `alpha(y)` gives what gives the alpha at x, 0..65535.
template <class Alpha>
void AlphaSum::fill(const Alpha& alpha) {
    if (size_.empty()) return;
    stride_ = static_cast<std::size_t>(size_.width) + 1;
    table_.assign(stride_ * (static_cast<std::size_t>(size_.height) + 1), 0);
    for (int y = 0; y < size_.height; ++y) {
        const auto at = alpha(y);
        std::uint64_t row = 0;
        std::uint64_t* below = table_.data() + stride_ * (static_cast<std::size_t>(y) + 1);
        const std::uint64_t* above = below - stride_;
        for (int x = 0; x < size_.width; ++x) {
            row += at(x);
            below[x + 1] = above[x + 1] + row;
        }
    }
}

double AlphaSum::all() const {
    return size_.empty() ? 0 : static_cast<double>(table_.back()) / 65535.0;
}

double AlphaSum::in(const RealRect& r) const {
    if (r.width <= 0 || r.height <= 0 || size_.empty()) return 0;
    return (upTo(r.right(), r.bottom()) - upTo(r.x, r.bottom()) - upTo(r.right(), r.y) +
            upTo(r.x, r.y)) /
           65535.0;
}

double AlphaSum::upTo(double x, double y) const {
    x = std::clamp(x, 0.0, static_cast<double>(size_.width));
    y = std::clamp(y, 0.0, static_cast<double>(size_.height));
    const int ix = std::min(static_cast<int>(x), size_.width - 1),
              iy = std::min(static_cast<int>(y), size_.height - 1);
    const double fx = x - ix, fy = y - iy;
    const auto at = [&](int i, int j) {
        return static_cast<double>(
            table_[stride_ * static_cast<std::size_t>(j) + static_cast<std::size_t>(i)]);
    };
    return (at(ix, iy) * (1 - fx) + at(ix + 1, iy) * fx) * (1 - fy) +
           (at(ix, iy + 1) * (1 - fx) + at(ix + 1, iy + 1) * fx) * fy;
}

}  // namespace zl
