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
    RealRect square{};     // px of the picture, from the brows to the chin, as it was found
};

// The surest first. None where there are none, or where the module or its data is missing. Any
// thread; one works at a time.
std::vector<Face> facesIn(const Straight8& picture);

// Whether open eyes are seen in a face that was found in that picture; unknown where it is under 60
// px wide, or where one look sees them and another does not. What is closed, behind dark glasses or
// no face at all has none: only another moment tells a blink from these.
enum class OpenEyes { unknown, none, seen };
OpenEyes openEyesOf(const Straight8& picture, const Face& face);

}  // namespace zl
