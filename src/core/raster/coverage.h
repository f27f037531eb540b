// SPDX-License-Identifier: GPL-3.0-or-later
// How much of a pixel a straight edge covers: the pixel is the unit square about its centre, the
// edge the line n·p = t with the unit normal n pointing outwards, what is covered lies at n·p <= t.
// Exact areas, worked out by hand.
#pragma once

#include <algorithm>
#include <cmath>

namespace zl {

// 0..1. With a >= b the sizes of the normal's parts: a triangle of the corner, the full width
// between, the triangle's rest.
inline float coverageOf(float t, float nx, float ny) {
    const float x = std::abs(nx), y = std::abs(ny), a = std::max(x, y), b = std::min(x, y);
    const float half = (a + b) * 0.5f, side = (a - b) * 0.5f, off = std::abs(t);
    if (off >= half) return t > 0 ? 1.0f : 0.0f;
    if (off <= side) return 0.5f + t / a;
    const float rest = (half - off) * (half - off) / (2 * a * b);
    return t > 0 ? 1.0f - rest : rest;
}

// The way back: the t at which so much is covered; half the pixel's reach for 0 and 1.
inline float offsetOf(float coverage, float nx, float ny) {
    const float x = std::abs(nx), y = std::abs(ny), a = std::max(x, y), b = std::min(x, y);
    const float half = (a + b) * 0.5f, corner = b / (2 * a);
    const float lesser = std::min(coverage, 1.0f - coverage);
    const float off = lesser <= corner
                          ? std::max(0.0f, half - std::sqrt(2 * a * b * std::max(0.0f, lesser)))
                          : (0.5f - lesser) * a;
    return coverage > 0.5f ? off : -off;
}

}  // namespace zl
