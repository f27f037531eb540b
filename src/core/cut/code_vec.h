// SPDX-License-Identifier: GPL-3.0-or-later
// Colours as three numbers to reckon with: red, green, blue in code values 0..255, straight, sRGB
// as it is stored. Used by cut/fringe.cpp and cut/unmix.cpp.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include "raster/raster.h"

namespace zl {

using CodeVec = std::array<double, 3>;

inline CodeVec codesOf(std::uint32_t p) {
    return {static_cast<double>(redOf(p)), static_cast<double>(greenOf(p)),
            static_cast<double>(blueOf(p))};
}
inline double dot(const CodeVec& a, const CodeVec& b) {
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}
inline CodeVec minus(const CodeVec& a, const CodeVec& b) {
    return {a[0] - b[0], a[1] - b[1], a[2] - b[2]};
}
// From a to b by the share `t`.
inline CodeVec along(const CodeVec& a, const CodeVec& b, double t) {
    return {a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t};
}
// In the channel that is off most.
inline double farthest(const CodeVec& a, const CodeVec& b) {
    return std::max({std::abs(a[0] - b[0]), std::abs(a[1] - b[1]), std::abs(a[2] - b[2])});
}

}  // namespace zl
