// SPDX-License-Identifier: GPL-3.0-or-later
// A made-up programme with real motion: three footages of our own drawing, opaque, at any size and
// any moment. The same call gives the same pixels.
#pragma once

#include <memory>
#include <string>

#include "raster/raster.h"

namespace zl {

// "desktop": windows on a desktop, slow. "game": hills that rush by, fast. "room": a dim room with
// a lamp.
Straight8 programmeAt(const std::string& footage, PixelSize size, double seconds);

// The footages that a mark meets (raster/footage.h), kept once drawn; any other word gives "light".
std::shared_ptr<const Straight8> stillFootage(const std::string& footage, PixelSize size);

}  // namespace zl
