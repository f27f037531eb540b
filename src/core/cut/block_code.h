// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a picture was once coded in blocks of 8 x 8, as JPEG does (ITU-T T.81): then the fine
// coefficients of its blocks stand at multiples of a step, and few lie between nothing and the
// first.
#pragma once

#include <optional>

#include "raster/raster.h"

namespace zl {

// Blocks begin at columns x, x + 8, ... and rows y, y + 8, ... Nothing where too few blocks have an
// edge and no clipped channel, since what is clipped has lost its step. A quality over about 93 has
// steps too fine to be seen, and is answered with false.
std::optional<bool> wasCodedInBlocks(const Straight8& picture, int x = 0, int y = 0);

}  // namespace zl
