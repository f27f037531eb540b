// SPDX-License-Identifier: GPL-3.0-or-later
// Small pictures of a video, spread over its length: what a mark is held against.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "raster/raster.h"

namespace zl {

struct VideoMoments {
    struct One {
        double time = 0;                             // s
        std::shared_ptr<const Straight8> picture{};  // opaque, all of one size
    };
    std::string name;  // of the video's file
    std::vector<One> all{};
};
inline constexpr int momentWidth = 480;          // px
inline constexpr std::size_t mostMoments = 120;  // of a video

}  // namespace zl
