// SPDX-License-Identifier: GPL-3.0-or-later
// A frame for the screen: each screen pixel is the mean of the frame area that it shows, over a
// backdrop.
#pragma once

#include <cstdint>

#include "colour/colour.h"
#include "raster/raster.h"

namespace zl {

// What stands behind see-through pixels.
struct Backdrop {
    bool checks = false;  // squares of 8 screen px in `one` and `other`; else `one` alone
    Colour one{255, 255, 255, 255};
    Colour other{204, 207, 209, 255};
    bool operator==(const Backdrop&) const = default;
};

// Screen px = frame px * scale + origin. Scale > 0.
struct Mapping {
    double scale = 1;
    double originX = 0, originY = 0;
    bool operator==(const Mapping&) const = default;
    RealRect onScreen(const RealRect& frame) const {
        return {frame.x * scale + originX, frame.y * scale + originY, frame.width * scale,
                frame.height * scale};
    }
    RealPoint onFrame(RealPoint screen) const {
        return {(screen.x - originX) / scale, (screen.y - originY) / scale};
    }
};

// Writes the pixels `want` of the screen, as 0xFFRRGGBB words, `stride` words a row, `out` standing
// for (want.left, want.top). Screen pixels outside the frame get `surround`; those it covers in
// part are mixed with it. At most `threads` threads share the rows.
void showOnScreen(const Straight8& frame, const Mapping& mapping, const Backdrop& backdrop,
                  Colour surround, PixelRect want, std::uint32_t* out, int stride, int threads = 1);

}  // namespace zl
