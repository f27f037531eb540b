// SPDX-License-Identifier: GPL-3.0-or-later
// Finishes drawn: they work on a layer's own alpha, one after another, so that a shadow falls from
// an outline that was put on before it. Nothing is clipped to the layer's box. Worked out in float,
// kept in 16 bit.
#pragma once

#include <span>
#include <stop_token>

#include "kit/finish_values.h"
#include "raster/over.h"

namespace zl {

// How far beyond the ink the finishes may touch, px.
double reachOf(std::span<const Finish> finishes);

// The ink with its finishes, the pixels `want` (frame px) of it. `base` must hold all ink within
// reach of `want`.
//
//   outline  outside: what lies within px of the edge and outside of it; inside: within px and
//   inside; centre: half of each.
//            The edge lies where the alpha is half of the ink's strongest.
//   shadow   the alpha, grown by `spread`, moved by (dx, dy), blurred with the CSS blur radius
//   `blur` (standard deviation
//            half of it), in its colour, under everything that is there already.
//   glow     the alpha blurred with the radius px, twice as strong and never more than full, under
//   what is there. bevel    within `size` px inside the edge: lighter where the edge faces the
//   light, darker where it faces away. The light
//            comes from `light` degrees, clockwise from the right.
Ink finished(const Ink& base, std::span<const Finish> finishes, PixelRect want, int threads = 1,
             std::stop_token stop = {});

}  // namespace zl
