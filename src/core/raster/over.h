// SPDX-License-Identifier: GPL-3.0-or-later
// Layers over one another: Porter and Duff's "over" (1984) on sRGB-encoded values, as W3C
// Compositing and Blending Level 1 has it. Planar float rows go through all layers before the next
// row, so that a frame is written once and no see-through result is ever stored in 8 bits before
// the end. Worst error against double precision: half a code value.
#pragma once

#include <memory>
#include <span>

#include "raster/raster.h"

namespace zl {

// The W3C's separable modes that matter for these pictures; the formulas stand at the code.
enum class BlendMode { normal, multiply, screen, overlay, softLight };

// One layer's pixels, ready to be blended: exactly one of `eight` and `sixteen` is set.
struct Ink {
    PixelRect box;  // frame px it may touch
    std::shared_ptr<const Straight8>
        eight;  // pixel (fromX, fromY) of it lands on (box.left, box.top)
    std::shared_ptr<const Ink16> sixteen;  // its pixel (0, 0) lands on (box.left, box.top)
    int fromX = 0, fromY = 0;
    bool opaque = false;  // every pixel of the box is, before `opacity`
    float opacity = 1;    // 0..1
    BlendMode blend = BlendMode::normal;

    Ink moved(int dx, int dy) const {
        Ink copy = *this;
        copy.box = box.moved(dx, dy);
        return copy;
    }
};

// Blends the inks, bottom first, over nothing, and writes the outcome into `damage` of `frame`
// (clipped to it). Pixels that come out with alpha 0 are written as 0.
void blendOver(std::span<const Ink> bottomToTop, PixelRect damage, Straight8& frame,
               int threads = 1);

}  // namespace zl
