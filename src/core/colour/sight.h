// SPDX-License-Identifier: GPL-3.0-or-later
// Colours as they look to people who lack one kind of cones. About one man in twelve sees less red
// and green than others do; a difference that only some people see is none to build on.
#pragma once

#include "colour/colour.h"

namespace zl {

// Protanopia lacks the cones for long waves, deuteranopia middle, tritanopia short.
enum class Sight { full, withoutLong, withoutMiddle, withoutShort };

// CIE 1976 L*a*b* of encoded code values 0..255 as they look to that sight: G. M. Machado, M. M.
// Oliveira and L. A. F. Fernandes, "A physiologically-based model for simulation of color vision
// deficiency", IEEE TVCG 15 (2009), severity 1.0, on linear light; what leaves 0..1 is cut off.
Lab labSeenBy(Sight sight, double red, double green, double blue);

// CIEDE2000 between two colours 0xAARRGGBB, taken as opaque, for that sight, in a room whose light
// adds a twentieth of white to both, as WCAG 2.2 has it in its contrast: what is dark is less
// coloured there. `hueAlone`: as if both were equally light.
double differenceSeenBy(Sight sight, std::uint32_t one, std::uint32_t two, bool hueAlone = false);
// Whether it is `limit` or more.
bool differsSeenBy(Sight sight, std::uint32_t one, std::uint32_t two, double limit,
                   bool hueAlone = false);

}  // namespace zl
