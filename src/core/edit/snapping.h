// SPDX-License-Identifier: GPL-3.0-or-later
// Snapping: a moved box is drawn to lines of the frame (edges, centre, thirds), of zones and of
// other layers. Frame px.
#pragma once

#include <optional>
#include <vector>

#include "base/geometry.h"
#include "kit/kit.h"

namespace zl {

// A line to snap to: x for an upright one, y for a level one.
struct SnapLine {
    bool upright = true;
    double at = 0;
    enum class Of { edge, centre, third, zone, layer, guide, gap } of = Of::edge;
    double gap = 0;  // of a gap's line: how wide each is, px
    bool operator==(const SnapLine&) const = default;
};

// The frame's own lines, then those of zones (as frame px) and of other layers' boxes (edges and
// centres).
std::vector<SnapLine> snapLines(PixelSize frame, const std::vector<RealRect>& zones,
                                const std::vector<RealRect>& layers,
                                const std::vector<Guide>& guides = {});

// Where the left or top edge of the box would stand so that the gaps to its neighbours are equal:
// in the middle between two, or as far behind or before two as they are apart. Only what lies
// beside the box counts.
std::vector<SnapLine> gapLines(const RealRect& box, const std::vector<RealRect>& layers);

struct Snapped {
    RealPoint by;                            // what is added to the box's place
    std::optional<SnapLine> upright, level;  // what it was drawn to
};

// The nearest line within `reach` px for each direction, to the box's edges and its centre (a gap's
// line to its left or top edge alone); ties go to the earlier line.
Snapped snap(const RealRect& box, const std::vector<SnapLine>& lines, double reach);

}  // namespace zl
