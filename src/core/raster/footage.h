// SPDX-License-Identifier: GPL-3.0-or-later
// Three made-up pictures that a mark may have to stand out from, opaque, at any size. The same call
// gives the same pixels.
#pragma once

#include <string_view>

#include "raster/raster.h"

namespace zl {

enum class Footage { light, dark, busy };
inline constexpr Footage allFootage[] = {Footage::light, Footage::dark, Footage::busy};
std::string_view nameOf(Footage footage);  // "light", "dark", "busy"

// Light: a bright sky over snow, code values 196 to 248. Dark: a room at night, 6 to 44. Busy:
// leaves, signs and faces as patches of 6 to 40 px, of any lightness.
Straight8 footageOf(Footage footage, PixelSize size);

}  // namespace zl
