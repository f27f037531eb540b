// SPDX-License-Identifier: GPL-3.0-or-later
// Which pictures of an HEVC stream no other picture needs (ITU-T H.265, table 7-1 and 7.4.2.2).
// FFmpeg's decoder does not leave them out by itself.
#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
}

#include <optional>

namespace zl::video {

struct HevcPicture {
    int layer = 0;             // its temporal sub-layer
    bool needsKeeping = true;  // false: no picture of its sub-layer is predicted from it
};

// Of a packet's first slice; nothing where there is none near its beginning.
std::optional<HevcPicture> hevcPictureIn(const AVPacket& packet, const AVCodecParameters& coded);

}  // namespace zl::video
