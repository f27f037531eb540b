// SPDX-License-Identifier: GPL-3.0-or-later
// Colours brought into another picture's profile (ICC.1).
#pragma once

#include <optional>

#include "base/bytes.h"
#include "raster/raster.h"

namespace zl {

// The same colours as values of the profile `icc`, relative colorimetric; alpha stays. Nothing when
// the profile is damaged or is none of red, green and blue.
std::optional<Straight8> inProfile(const Straight8& srgb, ByteView icc);

// Whether values of the profile `icc` show what the same values of sRGB (IEC 61966-2-1) show,
// within two code values, whatever it calls itself: converting would only add rounding.
bool actsAsSrgb(ByteView icc);

}  // namespace zl
