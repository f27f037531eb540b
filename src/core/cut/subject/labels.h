// SPDX-License-Identifier: GPL-3.0-or-later
// Which pixels belong to the subject, at the working size of 400 px.
#pragma once

#include <stop_token>

#include "cut/subject/working.h"

namespace zl {

inline constexpr int labelSize = 400;  // px of the longer side

// How much is held together, and how likely the box's rim and its inside are subject, before any
// colour is looked at.
struct Leaning {
    float together = 10;
    float rim = -0.5F, inside = 1;
};
Leaning leaningOf(SubjectEdge edge);

// Labels to begin with and what is known beside them, all at the same size.
struct Start {
    Labels labels;  // ofGround or ofSubject
    Labels sure;    // what no colour can change, else `undecided`
    PixelRect box;  // round the subject
};

// From a box in px of the working size: the ground for sure outside of it, and grabCut's labels.
[[nodiscard]] Result<Start> startOf(const Working& working, const PixelRect& box);

// The labels that colours, contrast, the box and the strokes ask for: in rounds, each a minimum cut
// with the colours that the round before it found.
[[nodiscard]] Result<Labels> refined(const Working& working, const Start& start,
                                     std::span<const Stroke> strokes, const Leaning& leaning,
                                     const std::stop_token& stop = {});

}  // namespace zl
