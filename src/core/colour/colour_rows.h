// SPDX-License-Identifier: GPL-3.0-or-later
// The colour science of colour/colour.h for rows of pixels, in float and many at once. Against the
// double-precision one: L*, a*, b* within 0.001, a difference within 0.005. Alpha is not looked at.
#pragma once

#include <cstdint>

namespace zl {

// CIE 1976 L*a*b* (D65) of `count` pixels (words of R, G, B, A bytes) into three rows.
void labRow(const std::uint32_t* pixels, int count, float* l, float* a, float* b);

struct LabRow {
    const float *l, *a, *b;
};

// CIEDE2000 of `count` pairs.
void differenceRow(const LabRow& one, const LabRow& two, int count, float* out);

// Those of the `count` differences that are over `least`, in their order, and how many they are;
// `out` has room for all. Quicker than differenceRow() where they are few.
int differencesOver(float least, const LabRow& one, const LabRow& two, int count, float* out);

}  // namespace zl
