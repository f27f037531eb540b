// SPDX-License-Identifier: GPL-3.0-or-later
// Resampling with a real-valued box, once, from the original: Lanczos (a = 3), widened when
// shrinking so that nothing aliases; premultiplied in float while it works, straight 16 bit when it
// is done.
#pragma once

#include <stop_token>

#include "raster/over.h"
#include "raster/raster.h"

namespace zl {

// Brings the part `box` of `source` (real px of it; it may reach past the edges, where the last
// pixel goes on) to the real rectangle `place` of the frame, and gives the pixels `want` of it
// (clipped to what `place` touches). A frame pixel that `place` covers in part gets that part of
// the alpha. An empty box or place gives an ink with an empty box. When nothing has to be scaled
// and the places agree, the source itself is shared, untouched.
Ink resampled(std::shared_ptr<const Straight8> source, bool sourceOpaque, RealRect box,
              RealRect place, PixelRect want, int threads = 1, std::stop_token stop = {});

// The same ink as a raster of its own, 8 bit, rounded; `ink.box` says its size.
Straight8 rounded8(const Ink& ink);

}  // namespace zl
