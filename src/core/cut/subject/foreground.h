// SPDX-License-Identifier: GPL-3.0-or-later
// The colours that were mixed in each pixel, once alpha is known: of the subject and of the ground
// (Germer, Uelwer, Conrad and Harmeling, Fast multi-level foreground estimation, 2020; epsilon
// 1e-3, weight of alpha's gradient 0.1).
#pragma once

#include <array>
#include <stop_token>
#include <vector>

#include "raster/plane.h"
#include "raster/raster.h"

namespace zl {

// Code values 0..255, of all pixels in rows: where alpha is 0 the subject's colour is carried on
// from where it is seen, where alpha is 1 the ground's is.
struct TwoColours {
    PixelSize size;
    std::vector<std::array<float, 3>> subject, ground;
};
// `picture` is opaque and of alpha's size. With `everywhere` what is carried on is smooth far from
// the edge, too, which takes longer. The same on any number of threads.
TwoColours coloursUnder(const Straight8& picture, const Plane& alpha, bool everywhere = false,
                        int threads = 1, const std::stop_token& stop = {});

}  // namespace zl
