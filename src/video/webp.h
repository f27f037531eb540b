// SPDX-License-Identifier: GPL-3.0-or-later
// An animated WebP as a video: FFmpeg's libraries of this age read only still ones.
#pragma once

#include "video/video.h"

namespace zl::video {

// Whether the file begins as a WebP does.
bool isWebp(const Path& file);
// Errors as of Video::open; a still WebP is no video. A frame that names no time lasts 100 ms, as
// browsers have it (common practice, no source).
[[nodiscard]] Result<std::unique_ptr<VideoSource>> openWebp(const Path& file,
                                                            const std::stop_token& stop);

}  // namespace zl::video
