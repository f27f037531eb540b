// SPDX-License-Identifier: GPL-3.0-or-later
// Where a picture draws the eye, and the crop that keeps it.
#pragma once

#include <optional>

#include "raster/raster.h"

namespace zl {

// The point of most attention as shares of width and height, 0..1 (libvips' measure: edges, skin
// tones, saturation). The centre when it cannot be told.
RealPoint attentionPoint(const Straight8& picture);

// The heads that fit into the largest part of the picture in the shape w : h, the surest first, in
// px of the picture; nothing where no face is found. A face without open eyes counts only where the
// detector is very sure of it: most that it finds in leaves, drops and blinds have none.
std::optional<RealRect> headsIn(const Straight8& picture, double w, double h);

// The largest part of the picture in the shape w : h, laid where it matters: no head that fits is
// cut (the surest faces first); where no face is found, round the point of most attention, and
// rather higher than lower, since what stands upright has its head there.
RealRect attentiveCrop(const Straight8& picture, double w, double h);

// What a frame of the shape w : h shows of a picture that comes into it, as its largest part: the
// middle; where that would cut a head, laid so that the heads which fit are whole; where it would
// be hardly half of the picture, laid where it matters.
RealRect firstCrop(const Straight8& picture, double w, double h);

// The largest part of a picture of that size in the shape w : h that keeps as much of `kept` as it
// can, the upper end first.
RealRect cropKeeping(const RealRect& kept, PixelSize size, double w, double h);

}  // namespace zl
