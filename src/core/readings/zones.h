// SPDX-License-Identifier: GPL-3.0-or-later
// What `zones` and its mend share: which layers are essential, and where a brief's zones lie in a
// frame.
#pragma once

#include <vector>

#include "brief/brief.h"
#include "kit/kit.h"
#include "raster/over.h"

namespace zl {

class AlphaSum;

// Lettering is, and so is a picture whose place covers less than half of the frame, unless the
// layer was switched.
bool isEssential(const Layer& layer, PixelSize frame);

// A zone in frame px: its shares of the frame.
RealRect inFrame(const Zone& zone, PixelSize frame);

// Whether a keep-inside zone asks anything of this layer: safe title of lettering, safe action of
// the rest.
bool asksOf(const Zone& zone, const Layer& layer);

// The shares of an ink's alpha that lie inside each rectangle, 0..1; 0 for an ink without any.
// `known` is its sum, when it was measured.
std::vector<double> sharesWithin(const Ink& ink, const std::vector<RealRect>& places,
                                 const std::shared_ptr<const AlphaSum>& known = {});

}  // namespace zl
