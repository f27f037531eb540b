// SPDX-License-Identifier: GPL-3.0-or-later
// A video that is made: H.264 and AAC in an MP4. The same frames give the same bytes on any number
// of processors.
#pragma once

#include <memory>
#include <span>

#include "base/bytes.h"
#include "base/result.h"
#include "raster/raster.h"

namespace zl {

struct VideoPlan {
    PixelSize size;     // both sides even
    int rate = 25;      // frames a second
    int soundRate = 0;  // Hz, one channel; 0: without sound
    int quality = 20;   // x264's constant rate factor, 0 (exact) to 51
};

class VideoSink {
  public:
    virtual ~VideoSink() = default;
    // The next frame, of the plan's size, opaque, sRGB; written as BT.709, limited range.
    virtual Result<void> picture(const Straight8& frame) = 0;
    // The next samples, -1..1; they may run ahead of the pictures by a few seconds.
    virtual Result<void> sound(std::span<const float> samples) = 0;
    virtual Result<Bytes> finish() = 0;
};

// Code::unwritable where the encoders are missing or refuse the plan.
[[nodiscard]] Result<std::unique_ptr<VideoSink>> writeVideo(const VideoPlan& plan);

using WriteVideo = Result<std::unique_ptr<VideoSink>> (*)(const VideoPlan& plan);
inline constexpr char writeVideoName[] = "zl_write_video";

}  // namespace zl
