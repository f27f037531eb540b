// SPDX-License-Identifier: GPL-3.0-or-later
// The similarity of two pictures' structure.
#pragma once

#include "raster/raster.h"

namespace zl {

// How many numbers this processor works on at once: 4, 8 or 16.
int mostLanes();

// SSIM: Wang, Bovik, Sheikh and Simoncelli 2004; 11 x 11 Gaussian window, sigma 1.5, K1 0.01, K2
// 0.03, range 255, on sRGB-encoded 8-bit values without down-sampling, over the windows that lie
// wholly inside; mean over R, G, B; 1: equal. A side under 11 px is compared as one window. Alpha
// is not looked at. The sizes must be equal. In float, within 0.000005 of double precision; the
// same on any number of threads. `lanes`: 4, 8 or 16, and no more than the processor has.
double ssimOf(const Straight8& one, const Straight8& two, int threads = 1, int lanes = mostLanes());

}  // namespace zl
