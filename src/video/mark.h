// SPDX-License-Identifier: GPL-3.0-or-later
// A mark in a video's own planes: its colours in the video's matrix, range and depth, premultiplied
// by its alpha; where colour is kept at fewer places than light, mean of what lies round each
// place, as the siting of the frame says.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

#include <optional>
#include <vector>

#include "pixels.h"

namespace zl::video {

class MarkOnPlanes {
  public:
    // For frames like this one; nothing where their pixels are of a kind that is not written into.
    static std::optional<MarkOnPlanes> of(const Straight8& mark, int left, int top,
                                          const AVFrame& like);
    // Within half a code of the formula in double precision; changes no sample that the mark does
    // not reach. `weight` 0..1.
    void blend(AVFrame& frame, double weight) const;

  private:
    struct Part {
        int plane = 0, step = 1, offset = 0, shift = 0, depth = 8;
        PixelRect box;                  // in samples of its own
        std::vector<float> ink, alpha;  // rows of the box; ink: codes, times alpha
    };
    std::vector<Part> parts_;
};

}  // namespace zl::video
