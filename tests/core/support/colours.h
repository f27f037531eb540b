// SPDX-License-Identifier: GPL-3.0-or-later
// Colours in rows, and their differences in double precision.
#pragma once

#include <algorithm>
#include <random>
#include <vector>

#include "colour/colour_rows.h"
#include "support/support.h"

namespace zl {

inline Straight8 disturbed(const Straight8& picture, int by) {
    std::mt19937 random(11);
    std::uniform_int_distribution<int> off(-by, by);
    return test::painted(picture.size(), [&](int x, int y) {
        const std::uint32_t p = picture.row(y)[x];
        const auto moved = [&](int v) { return std::clamp(v + off(random), 0, 255); };
        return packed(moved(redOf(p)), moved(greenOf(p)), moved(blueOf(p)), 255);
    });
}

struct Labs {
    explicit Labs(const Straight8& picture) : l(picture.pixels().size()), a(l), b(l) {
        labRow(picture.row(0), static_cast<int>(l.size()), l.data(), a.data(), b.data());
    }
    operator LabRow() const { return {l.data(), a.data(), b.data()}; }
    std::vector<float> l, a, b;
};

inline std::vector<float> everyDifference(const Straight8& one, const Straight8& two) {
    std::vector<float> out(one.pixels().size());
    differenceRow(Labs(one), Labs(two), static_cast<int>(out.size()), out.data());
    return out;
}

}  // namespace zl
