// SPDX-License-Identifier: GPL-3.0-or-later
// Labels of the working size brought to a larger size: only pixels near the border are cut anew
// (Lombaert, Sun, Grady and Xu, A multilevel banded graph cuts method, 2005), and thin things that
// the smaller size lost, where colours speak against their label.
#pragma once

#include "cut/subject/labels.h"

namespace zl {

// `labels` and `small` are of the working size, `large` is the same picture at the size wanted.
[[nodiscard]] Result<Labels> bandCut(const Working& large, const Working& small,
                                     const Labels& labels, std::span<const Stroke> strokes,
                                     const Leaning& leaning);

}  // namespace zl
