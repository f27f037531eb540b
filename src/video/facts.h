// SPDX-License-Identifier: GPL-3.0-or-later
// What a container tells of its sound.
#pragma once

extern "C" {
#include <libavformat/avformat.h>
}

#include "video/video.h"

namespace zl::video {

std::vector<SoundTrack> soundIn(const AVFormatContext& format);

}  // namespace zl::video
