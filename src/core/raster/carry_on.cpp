// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/carry_on.h"

#include <algorithm>
#include <cmath>

namespace zl {

void carryOn(Plane& value, const Plane& weight) {
    const PixelSize size = value.size();
    if (size.width <= 1 && size.height <= 1) return;
    const PixelSize half{(size.width + 1) / 2, (size.height + 1) / 2};
    Plane small(half), smallWeight(half);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            small.row(y / 2)[x / 2] += weight.row(y)[x] * value.row(y)[x];
            smallWeight.row(y / 2)[x / 2] += weight.row(y)[x];
        }
    for (int y = 0; y < half.height; ++y)
        for (int x = 0; x < half.width; ++x)
            if (smallWeight.row(y)[x] > 0) {
                small.row(y)[x] /= smallWeight.row(y)[x];
                smallWeight.row(y)[x] = std::min(1.0F, smallWeight.row(y)[x]);
            }
    carryOn(small, smallWeight);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const float own = weight.row(y)[x];
            if (own >= 1) continue;
            const auto near = [&](float at, int most) {
                return std::clamp(static_cast<int>(std::floor(at)), 0, most - 1);
            };
            const float u = static_cast<float>(x) / 2 - 0.25F,
                        v = static_cast<float>(y) / 2 - 0.25F;
            const int x0 = near(u, half.width), x1 = near(u + 1, half.width),
                      y0 = near(v, half.height), y1 = near(v + 1, half.height);
            const float right = u - std::floor(u), down = v - std::floor(v);
            const float above = small.row(y0)[x0] * (1 - right) + small.row(y0)[x1] * right,
                        below = small.row(y1)[x0] * (1 - right) + small.row(y1)[x1] * right;
            value.row(y)[x] =
                own * value.row(y)[x] + (1 - own) * (above * (1 - down) + below * down);
        }
}

}  // namespace zl
