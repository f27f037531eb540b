// SPDX-License-Identifier: GPL-3.0-or-later
// sRGB pixels as an encoder takes them: BT.709, limited range, colour at a quarter of the places.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

#include <vector>

#include "base/result.h"
#include "held.h"
#include "raster/raster.h"
#include "zimg_held.h"

namespace zl::video {

class Yuv {
  public:
    // With alpha the frames are yuva420p, straight; else alpha is left out.
    [[nodiscard]] static Result<Yuv> begin(PixelSize size, bool alpha);
    // `pixels` has the size.
    [[nodiscard]] Result<Frame> of(const Straight8& pixels);
    // A decoded frame in sRGB.
    [[nodiscard]] Result<Frame> ofFrame(const AVFrame& frame);

  private:
    Yuv(PixelSize size, bool alpha) : size_(size), alpha_(alpha) {}
    Result<void> convert(const Straight8& pixels);

    PixelSize size_;
    bool alpha_;
    Graph graph_;
    Room work_, from_, to_;
    std::ptrdiff_t stride_ = 0;
    std::vector<std::uint32_t> last_;  // the pixels whose samples stand in to_
};

}  // namespace zl::video
