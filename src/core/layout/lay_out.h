// SPDX-License-Identifier: GPL-3.0-or-later
// One piece, many places: a piece laid out anew for another brief, and edits of the first carried
// over to it. Nothing is ever stretched.
#pragma once

#include <stop_token>
#include <string>
#include <utility>

#include "brief/brief.h"
#include "kit/kit.h"
#include "render/render.h"

namespace zl {

// Where what is essential is seen whatever the device: inside every *visible* and *keep inside*
// zone, clear of the bands that take a whole side. In frame px.
RealRect roomIn(const Brief& brief, PixelSize frame);

// A new piece right behind the first, made for another brief; its id comes along. Pictures and bars
// that fill the frame fill the new one; all else grows or shrinks by one factor and keeps what it
// stands by: an edge, the centre or a third of the room, layers that touch staying together. What
// would break a zone is then moved or scaled into it. Its layers know their twins in the first
// piece.
[[nodiscard]] Result<std::pair<Kit, std::string>> withPieceLaidOut(const Kit& kit,
                                                                   std::string_view pieceId,
                                                                   const Brief& from,
                                                                   const Brief& to, InkStore& store,
                                                                   std::stop_token stop = {});

// What was edited in the first piece since: text and how it is set, pictures with their crop, tone,
// veils, cuts and clips, colours of bars, names, when layers are seen. Lettering is refitted;
// places stay. Layers that were added or taken away there are not. Code::badUsage for a piece that
// was not laid out from another, or whose first is gone.
[[nodiscard]] Result<Kit> withEditsCarriedOver(const Kit& kit, std::string_view pieceId,
                                               const Brief& brief, InkStore& store,
                                               std::stop_token stop = {});

// The layer as large as the frame: a picture covers it in its crop's shape, a bar takes all of it,
// lettering fits inside, in the middle.
Layer filling(Layer layer, PixelSize frame);

// The frame as large as the ink and `margin` px round it. Code::limitNotMet when there is no ink.
[[nodiscard]] Result<Kit> withFrameTrimmed(const Kit& kit, std::string_view pieceId, int margin,
                                           InkStore& store, std::stop_token stop = {});

}  // namespace zl
