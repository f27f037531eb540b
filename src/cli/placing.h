// SPDX-License-Identifier: GPL-3.0-or-later
// Where a mark goes, as it is typed: --at, --inset, --width.
#pragma once

#include "base/geometry.h"
#include "base/result.h"
#include "film/marking.h"
#include "options.h"

namespace zl::cli {

struct PlacingWords {
    std::string at = "bottom-right", inset = "0,0";
    double width = 0;  // percent of the base's width; 0: its own px
};
void declarePlacing(Options& options, PlacingWords& words);
// "24,24" in px, "2.5%,2.5%" of the base's sides, or one of each.
[[nodiscard]] Result<RealPoint> insetOf(const std::string& text, PixelSize base);
[[nodiscard]] Result<MarkPlacing> placingOf(const PlacingWords& words, PixelSize base);

}  // namespace zl::cli
