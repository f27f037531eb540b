// SPDX-License-Identifier: GPL-3.0-or-later
// A ground as a camera takes it: nearly flat, with a lamp's light and a grain. Invented values.
#pragma once

#include <cmath>
#include <random>

#include "support/support.h"

namespace zl::test {

inline constexpr PixelSize wallSize{320, 200};

// Soft spots of up to nine code values, lighter and darker, on a slope of thirty.
inline double lightOnWall(int x, int y) {
    const auto spot = [&](double cx, double cy, double height) {
        return height * std::exp(-((x - cx) * (x - cx) + (y - cy) * (y - cy)) / (2 * 22.0 * 22.0));
    };
    return 30.0 * x / wallSize.width + spot(80, 40, 9) + spot(230, 150, -9) + spot(260, 30, 7) +
           spot(40, 170, -7);
}

// The wall's colour there, `by` code values lighter, without its grain.
inline std::uint32_t wallColour(int x, int y, int by = 0) {
    const int v = by + static_cast<int>(std::lround(lightOnWall(x, y)));
    return packed(120 + v, 140 + v, 170 + v, 255);
}

// `ink(x, y)` where it is not 0, the wall elsewhere; its grain is of `grain` code values.
template <class Ink>
Straight8 onWall(double grain, const Ink& ink) {
    std::mt19937 random(11);
    std::normal_distribution<double> normal(0, grain);
    return painted(wallSize, [&](int x, int y) {
        if (const std::uint32_t p = ink(x, y); p != 0) return p;
        const double light = lightOnWall(x, y);
        const auto code = [&](int base) {
            return static_cast<int>(std::lround(base + light + normal(random)));
        };
        return packed(code(120), code(140), code(170), 255);
    });
}

// A disc of 40 px round (150, 100), red.
inline std::uint32_t discOnWall(int x, int y) {
    return std::hypot(x - 150, y - 100) < 40 ? packed(200, 30, 40, 255) : 0;
}

// The disc and so many light spots of 9 px with an edge: the wall's, or ink.
inline Straight8 spottedWall(int spots) {
    return onWall(1, [spots](int x, int y) {
        for (int i = 0; i < spots; ++i)
            if (std::hypot(x - 60 - 90 * i, y - 30) < 9) return wallColour(x, y, 16);
        return discOnWall(x, y);
    });
}

}  // namespace zl::test
