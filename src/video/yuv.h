// SPDX-License-Identifier: GPL-3.0-or-later
// sRGB pixels as an encoder takes them: BT.709, limited range, colour at a quarter of the places,
// each the mean of what lies round it ([1 2 1]/4 across, [1 1]/2 down). Within half a code of the
// formula in double precision, and the same on every processor.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

#include <vector>

#include "base/result.h"
#include "held.h"
#include "raster/raster.h"

namespace zl::video {

class Yuv {
  public:
    // With alpha the frames are yuva420p, straight; else alpha is left out.
    Yuv(PixelSize size, bool alpha) : size_(size), alpha_(alpha) {}
    // `pixels` has the size.
    [[nodiscard]] Result<Frame> of(const Straight8& pixels);
    // A decoded frame in sRGB.
    [[nodiscard]] Result<Frame> ofFrame(const AVFrame& frame);

  private:
    PixelSize size_;
    bool alpha_;
};

}  // namespace zl::video
