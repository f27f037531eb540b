// SPDX-License-Identifier: GPL-3.0-or-later
// Frames of a video that are worth to be its picture, each with the reasons why.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "film/glimpses.h"

namespace zl {

struct Candidate {
    long long number = 0;
    double time = 0;  // s
    std::vector<std::string> reasons;
};

// A part of a video, s.
struct Span {
    double from = 0, to = 0;
    double length() const { return to - from; }
    bool contains(double time) const { return time >= from && time <= to; }
    bool operator==(const Span&) const = default;
};

// The frames at the first third, the middle and the last third, as hosts propose them (common
// practice, no source). Nothing is decoded.
std::vector<Candidate> thirdsOf(const Video& video, const Span& within);

// The thirds first; then the best others: sharp for their shot, well exposed, no black, no fade, no
// smear of motion, no near-duplicate, a face seen whole, no blink, spread over the shots. At most
// `count` of them; those of the thirds that blink are told. The same video gives the same.
[[nodiscard]] Result<std::vector<Candidate>> candidatesAmong(const LookedThrough& looked,
                                                             Video& video, int count,
                                                             const Span& within,
                                                             const std::stop_token& stop = {});

// The same of the whole video, which is looked through first. `progress` hears 0..1.
[[nodiscard]] Result<std::vector<Candidate>> candidatesOf(
    Video& video, int count, const std::stop_token& stop = {},
    const std::function<void(double)>& progress = {});

}  // namespace zl
