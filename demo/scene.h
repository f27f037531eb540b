// SPDX-License-Identifier: GPL-3.0-or-later
// The made-up pictures of the demo kit. Every pixel is drawn here; nothing is loaded.
#pragma once

#include "raster/raster.h"

namespace zl::demo {

// Dusk over a railway signal box, opaque, with a photograph's grain (0: none). The same call gives
// the same pixels.
Straight8 duskAtTheBox(PixelSize size, int grain);

// A semaphore arm on its post, cut out, see-through round it.
Straight8 signalArm(PixelSize size);

// The channel's mark: the arm in a ringed disc, see-through round it.
Straight8 channelMark(PixelSize size);

// The channel's mark as a careless hand cut it out, 150 x 150: a white rim on the right, a stepped
// edge on the left, specks.
Straight8 carelessMark();

// The channel's mark on a white page, opaque.
Straight8 markOnWhite(PixelSize size);

// Boxes drawn with a pencil: where things are meant to stand. See-through round the lines.
Straight8 layoutSketch(PixelSize size);

}  // namespace zl::demo
