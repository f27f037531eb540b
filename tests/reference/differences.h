// SPDX-License-Identifier: GPL-3.0-or-later
// How far two pictures of the same size are apart.
#pragma once

#include <algorithm>
#include <cstdlib>

#include "raster/raster.h"

namespace zl::test {

// Over all channels, straight alpha, code values 0..255.
inline int worstDifference(const Straight8& one, const Straight8& two) {
    int worst = 0;
    for (std::size_t i = 0; i < one.pixels().size(); ++i)
        for (const int shift : {0, 8, 16, 24})
            worst = std::max(worst, std::abs(static_cast<int>(one.pixels()[i] >> shift & 255u) -
                                             static_cast<int>(two.pixels()[i] >> shift & 255u)));
    return worst;
}

}  // namespace zl::test
