// SPDX-License-Identifier: GPL-3.0-or-later
// Frontal faces in a picture, found by OpenCV's cascades in a module that is loaded at the first
// call.
#pragma once

#include <vector>

#include "base/geometry.h"
#include "raster/raster.h"

namespace zl {

struct Face {
    RealRect head;  // px of the picture, from the hair to the chin; may reach past its borders
    double certainty = 0;  // the detector's; more is surer
};

// The surest first. None where there are none, or where the module or its data is missing. Any
// thread; one works at a time.
std::vector<Face> facesIn(const Straight8& picture);

}  // namespace zl
