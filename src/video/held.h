// SPDX-License-Identifier: GPL-3.0-or-later
// What FFmpeg's libraries give, held by whoever has it.
#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
}

#include <memory>

namespace zl::video {

struct FreeCodec {
    void operator()(AVCodecContext* context) const { avcodec_free_context(&context); }
};
struct FreeFrame {
    void operator()(AVFrame* frame) const { av_frame_free(&frame); }
};
struct FreePacket {
    void operator()(AVPacket* packet) const { av_packet_free(&packet); }
};
using Codec = std::unique_ptr<AVCodecContext, FreeCodec>;
using Frame = std::unique_ptr<AVFrame, FreeFrame>;
using Packet = std::unique_ptr<AVPacket, FreePacket>;

}  // namespace zl::video
