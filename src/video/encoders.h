// SPDX-License-Identifier: GPL-3.0-or-later
// The encoders of pictures, opened for frames like one that is shown. Their bytes do not depend on
// how many processors there are.
#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
}

#include "base/file.h"
#include "held.h"
#include "video/write.h"

namespace zl::video {

enum class PictureCodec { h264, ffv1, vp9, webp, gif };
PictureCodec pictureCodecOf(VideoKind kind);

struct EncoderWish {
    PictureCodec codec = PictureCodec::h264;
    double factor = 18.5;   // x264's constant rate factor, 0 (lossless) to 51
    long long bitRate = 0;  // bit/s; 0: by quality
    Path notes{};           // of two runs; empty: there is one
    AVRational timeBase{1, 25}, rate{25, 1}, pixelAspect{1, 1};
    double between = 10;  // s between key frames at most
};

// The encoder of that codec; Code::unwritable where it is missing, with what is to be installed.
[[nodiscard]] Result<const AVCodec*> encoderOf(PictureCodec codec);
bool takes(const AVCodec& codec, AVPixelFormat format);
[[nodiscard]] Result<Codec> openedEncoder(const EncoderWish& wish, const AVFrame& like);

}  // namespace zl::video
