// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the order of layers, and of their groups. Code::badUsage where a piece or a layer is
// gone.
#pragma once

#include <set>
#include <string_view>

#include "kit/kit.h"

namespace zl {

// To index `to` of the stack, 0 being the bottom; clamped.
[[nodiscard]] Result<Kit> withLayerMoved(const Kit& kit, std::string_view pieceId, int layerId,
                                         int to);
// Several, in their order, over `under` of the others.
[[nodiscard]] Result<Kit> withLayersMoved(const Kit& kit, std::string_view pieceId,
                                          const std::set<int>& layerIds, int under);
// Each of them past its neighbour, up (1) or down (-1); those that lie together stay so, and the
// first at the end of the stack stays.
[[nodiscard]] Result<Kit> withLayersRaised(const Kit& kit, std::string_view pieceId,
                                           const std::set<int>& layerIds, int by);
// A copy of each right above it, 24 px lower right, its name with "copy" behind it. Copies of a
// whole group are a group of their own.
[[nodiscard]] Result<Kit> withLayersDoubled(const Kit& kit, std::string_view pieceId,
                                            const std::set<int>& layerIds);
// Layers of one new group, or of none. A group of fewer than two layers is dissolved.
[[nodiscard]] Result<Kit> withGroup(const Kit& kit, std::string_view pieceId,
                                    const std::set<int>& layerIds);
[[nodiscard]] Result<Kit> withoutGroup(const Kit& kit, std::string_view pieceId,
                                       const std::set<int>& layerIds);
// The layers and all that stand in a group with one of them.
std::set<int> withGroupMates(const Piece& piece, const std::set<int>& layerIds);

}  // namespace zl
