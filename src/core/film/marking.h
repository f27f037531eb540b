// SPDX-License-Identifier: GPL-3.0-or-later
// Where a mark stands on a video, and the mark as the video's own pixels.
#pragma once

#include <memory>

#include "kit/stamp_values.h"
#include "video/video.h"

namespace zl {

// One of the nine places, off the edges it stands at, px of the frame; `widthShare` 0: its own px.
struct MarkPlacing {
    StampAt at = StampAt::bottomRight;
    RealPoint inset{};
    double widthShare = 0;  // of the frame's width
    bool operator==(const MarkPlacing&) const = default;
};

// The place in a frame of that size. A mark that keeps its own px stands at whole ones.
RealRect placeOf(const MarkPlacing& placing, PixelSize mark, PixelSize frame);
// Code::badUsage where the mark is larger than the frame, or lies outside of it.
[[nodiscard]] Result<void> checkPlace(const RealRect& place, PixelSize frame);

// The mark as it lies in the frames as they are coded: turned against the turn they are shown with,
// narrowed as their pixels are wide.
struct CodedMark {
    std::shared_ptr<const Straight8> pixels;
    int left = 0, top = 0;
};
CodedMark codedMark(const std::shared_ptr<const Straight8>& mark, const RealRect& place,
                    const VideoFacts& facts);

}  // namespace zl
