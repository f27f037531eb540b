// SPDX-License-Identifier: GPL-3.0-or-later
// What the edits of this room are made of.
#pragma once

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <string_view>

#include "edit/edits.h"

namespace zl::edit_parts {

// Changes one piece by `change(Piece&) -> Result<void>`; what comes out is checked as a piece.
template <class Change>
Result<Kit> changed(const Kit& kit, std::string_view pieceId, const Change& change) {
    Kit copy = kit;
    const std::size_t at = kit.pieces.placeOf(kit.piece(pieceId));
    if (at == kit.pieces.size())
        return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    if (Result<void> done = change(copy.pieces[at]); !done) return passOn(done.error());
    if (auto good = checkPiece(std::as_const(copy).pieces[at]); !good) return passOn(good.error());
    return copy;
}

inline std::vector<Layer>::iterator find(Piece& piece, int id) {
    return std::find_if(piece.layers.begin(), piece.layers.end(),
                        [&](const Layer& l) { return l.id == id; });
}

inline tl::unexpected<Error> noLayer() {
    return fail(Code::badUsage, "That layer is gone.");
}

inline int nextId(const Piece& piece) {
    int highest = 0;
    for (const Layer& layer : piece.layers) highest = std::max(highest, layer.id);
    return highest + 1;
}

// A group that is left with one layer is none.
inline void dissolveLoners(Piece& piece) {
    std::map<int, int> members;
    for (const Layer& layer : piece.layers) ++members[layer.group];
    for (Layer& layer : piece.layers)
        if (members[layer.group] < 2) layer.group = 0;
}

}  // namespace zl::edit_parts
