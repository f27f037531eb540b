// SPDX-License-Identifier: GPL-3.0-or-later
// Frames of a video that are worth to be its picture, each with the reasons why.
#pragma once

#include <functional>
#include <vector>

#include "video/video.h"

namespace zl {

struct Candidate {
    long long number = 0;
    double time = 0;  // s
    std::vector<std::string> reasons;
};

// The frames at the first third, the middle and the last third first, as hosts propose them (common
// practice, no source); then the best others: sharp for their shot, well exposed, no black, no
// fade, no near-duplicate, a face seen whole, spread over the shots. At most `count` of them. The
// same video gives the same. `progress` hears 0..1.
[[nodiscard]] Result<std::vector<Candidate>> candidatesOf(
    Video& video, int count, const std::stop_token& stop = {},
    const std::function<void(double)>& progress = {});

}  // namespace zl
