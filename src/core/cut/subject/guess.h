// SPDX-License-Identifier: GPL-3.0-or-later
// Where the subject of a picture may be when nobody says it: what the picture's rim does not lead
// to (minimum barrier distance, Zhang et al. 2015) and what differs from what the rim holds
// (boundary connectivity, Zhu et al. 2014), cut in eight ways and ranked; where
// there is a face, a ninth way begins with it.
#pragma once

#include "cut/subject/labels.h"
#include "picture/faces.h"

namespace zl {

struct Guesses {
    std::vector<Labels> labels;  // of the working size, the best first, no two alike; 1 to 9
    double trust = 0;  // 0..1: the median overlap of the first with all other ways, and no
                       // more than the share of its largest piece; from 0.85 on
                       // it is right in four of five
};
inline constexpr double sureTrust = 0.85;

// `working` at labelSize. Never empty: a picture of one colour has one guess, its middle, with
// trust 0.
// A head among `faces` (px of `working`) is part of the subject, most likely.
[[nodiscard]] Result<Guesses> guessesOf(const Working& working, std::span<const Face> faces = {},
                                        const std::stop_token& stop = {});

}  // namespace zl
