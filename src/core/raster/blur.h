// SPDX-License-Identifier: GPL-3.0-or-later
// Gaussian blur of a plane, within 0.002 of the true convolution in double precision.
#pragma once

#include <stop_token>

#include "raster/plane.h"

namespace zl {

// `sigma` in px; outside the plane there is 0. The picture moves by (dx, dy) px on the way, whole
// or in part. A blur radius as CSS Backgrounds and Borders Level 3 defines it is 2 sigma.
Plane blurred(const Plane& plane, double sigma, double dx = 0, double dy = 0, int threads = 1,
              std::stop_token stop = {});

}  // namespace zl
