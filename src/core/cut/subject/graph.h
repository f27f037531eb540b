// SPDX-License-Identifier: GPL-3.0-or-later
// Graph cuts over pixels, by OpenCV in a module that is loaded at the first call. Any thread; the
// same labels at every call.
#pragma once

#include <functional>

#include "base/result.h"
#include "cut/subject/cells.h"
#include "raster/raster.h"

namespace zl {

// The labels of the pixels that are `undecided` in `known`, the others as they are. `pull(x, y)`
// says how much a pixel is drawn to the subject (below 0: to the ground), `link(x, y, dx, dy)` what
// it costs to part it from its neighbour there; both are asked for open pixels and their neighbours
// alone. Boykov and Jolly, Interactive graph cuts for optimal boundary and region segmentation,
// 2001. Code::unreadable: the module is missing.
[[nodiscard]] Result<Labels> minimumCut(const Labels& known,
                                        const std::function<float(int, int)>& pull,
                                        const std::function<float(int, int, int, int)>& link);

// grabCut (Rother, Kolmogorov and Blake 2004) of a small picture: `start` are the labels to begin
// with, `sure` those that stay (open: may change). `start` when one of the kinds is missing.
[[nodiscard]] Result<Labels> grabbed(const Straight8& picture, const Labels& start,
                                     const Labels& sure, int iterations);

}  // namespace zl
