// SPDX-License-Identifier: GPL-3.0-or-later
// The smallest rectangle round the ink of a raster.
#pragma once

#include <algorithm>
#include <optional>

#include "raster/over.h"
#include "raster/raster.h"

namespace zl {

namespace ink_box_detail {
template <class Alpha>
std::optional<PixelRect> boxOf(PixelSize size, const Alpha& alpha, int least) {
    PixelRect box{size.width, size.height, 0, 0};
    for (int y = 0; y < size.height; ++y) {
        int first = size.width, last = -1;
        for (int x = 0; x < size.width; ++x)
            if (alpha(x, y) >= least) {
                first = std::min(first, x);
                last = x;
            }
        if (last < 0) continue;
        box = {std::min(box.left, first), std::min(box.top, y), std::max(box.right, last + 1),
               y + 1};
    }
    return box.empty() ? std::nullopt : std::optional(box);
}
}  // namespace ink_box_detail

// Pixels of at least that alpha, of 255; nothing when there is none.
inline std::optional<PixelRect> inkBoxOf(const Straight8& raster, int leastAlpha) {
    return ink_box_detail::boxOf(
        raster.size(), [&](int x, int y) { return alphaOf(raster.row(y)[x]); }, leastAlpha);
}
// The same of a layer's ink, in frame px.
inline std::optional<PixelRect> inkBoxOf(const Ink& ink, int leastAlpha) {
    const auto alpha = [&](int x, int y) {
        return ink.eight ? alphaOf(ink.eight->row(y + ink.fromY)[x + ink.fromX])
                         : ink.sixteen->row(3, y)[x] / 257;
    };
    const auto box = ink_box_detail::boxOf(ink.box.size(), alpha, leastAlpha);
    return box ? std::optional(box->moved(ink.box.left, ink.box.top)) : std::nullopt;
}

}  // namespace zl
