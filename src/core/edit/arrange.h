// SPDX-License-Identifier: GPL-3.0-or-later
// Lining boxes up, and changing the frame that they stand in. Boxes are upright, in frame px; they
// are the layers' bounds after their turn (render/boundsOf).
#pragma once

#include <vector>

#include "kit/kit.h"

namespace zl {

enum class Line {
    left,
    middle,
    right,
    top,
    centre,
    bottom
};  // middle: of left and right; centre: of top and bottom

// How far each box goes so that its line lies on that of `to`.
std::vector<RealPoint> alignMoves(const std::vector<RealRect>& boxes, const RealRect& to,
                                  Line line);
// How far each box goes so that the gaps between neighbours are equal; the outermost two stay.
// Fewer than three: nothing.
std::vector<RealPoint> distributeMoves(const std::vector<RealRect>& boxes, bool across);
// The smallest box round all; nothing of none.
std::optional<RealRect> around(const std::vector<RealRect>& boxes);

// The frame and all layers `factor` times as large: twice for a sharper copy. Guides in px go
// along.
[[nodiscard]] Result<Kit> withPieceScaled(const Kit& kit, std::string_view pieceId, double factor);
// Another frame round the same layers. `anchor` is the point, as shares 0..1, that stays where it
// is: 0.5, 0.5 the middle.
[[nodiscard]] Result<Kit> withFrame(const Kit& kit, std::string_view pieceId, PixelSize frame,
                                    RealPoint anchor);
// Another frame, the layers laid out anew: what fills the old frame fills the new one, the rest
// grows or shrinks with the lesser side and keeps its place in shares of the frame. `boxes` are the
// layers' boxes before their turn, in their order.
[[nodiscard]] Result<Kit> withPieceRelaid(const Kit& kit, std::string_view pieceId, PixelSize frame,
                                          const std::vector<RealRect>& boxes);

}  // namespace zl
