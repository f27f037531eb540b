// SPDX-License-Identifier: GPL-3.0-or-later
// An alpha that was solved at a smaller size, brought to a picture's own size along the picture's
// edges (He and Sun, Fast guided filter, 2015; radius 2, epsilon 1e-5, in colour).
#pragma once

#include "raster/plane.h"
#include "raster/raster.h"

namespace zl {

// `small` is the picture at alpha's size, opaque. 0 and 1 stay what they are but for the band
// between them.
Plane enlargedAlpha(const Plane& alpha, const Straight8& small, const Straight8& picture,
                    int threads = 1);

// The value of a plane where the pixel (x, y) of a picture of `size` stands on it, between the four
// nearest.
struct Between {
    int x0, y0, x1, y1;
    float right, down;
    Between(int x, int y, PixelSize size, PixelSize plane);
    template <class Value>
    float of(const Value& value) const {
        const float above = value(x0, y0) + right * (value(x1, y0) - value(x0, y0)),
                    below = value(x0, y1) + right * (value(x1, y1) - value(x0, y1));
        return above + down * (below - above);
    }
};

}  // namespace zl
