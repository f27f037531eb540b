// SPDX-License-Identifier: GPL-3.0-or-later
// A decoded frame as sRGB pixels.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

#include <zimg.h>

#include "video/video.h"

namespace zl::video {

// What the frame says of its colours; where it is silent, as its height suggests.
VideoColour colourOf(const AVFrame& frame);
struct ZimgTerms {
    zimg_matrix_coefficients_e matrix;
    zimg_color_primaries_e primaries;  // of a wide one
    zimg_chroma_location_e siting;
    bool full, wide;
};
ZimgTerms zimgTermsOf(const AVFrame& frame);

// Straight sRGB, as it is coded: not turned. Within half a code value of the matrix in double
// precision. PQ and HLG are brought to a display of 203 nits by the curve of docs/video.md, and
// `toned` says so. `deep` is there where the frame has more than 8 bits.
struct FramePixels {
    Straight8 eight;
    std::shared_ptr<const Deep16> deep{};
    bool toned = false;
};
[[nodiscard]] Result<FramePixels> pixelsOf(const AVFrame& frame);

// Luma of a component's width, made as small as `width` px, each the mean of what it covers.
void shrinkLuma(const AVFrame& frame, int width, Passing& into);
Glance glanceAt(const AVFrame& frame);

}  // namespace zl::video
