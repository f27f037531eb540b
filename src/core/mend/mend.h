// SPDX-License-Identifier: GPL-3.0-or-later
// Mends: fixes that a reading offers. On a piece a mend is one undoable edit; on a file it gives
// new bytes.
#pragma once

#include <span>
#include <string>

#include "brief/brief.h"
#include "kit/kit.h"
#include "picture/content.h"
#include "readings/reading.h"
#include "render/render.h"

namespace zl {

struct MendedFile {
    Bytes bytes;
    Content content = Content::unknown;
};

// What a mend on a piece works with.
struct PieceToMend {
    const Kit& kit;
    const Piece& piece;  // of the kit
    const Brief& brief;
    InkStore& store;
    std::stop_token stop;
};

struct MendRow {
    std::string_view id;                         // its title is the phrase "mend.ID"
    bool asks;                                   // it asks a question, and is not part of "all"
    Result<Kit> (*onPiece)(const PieceToMend&);  // nothing: not for pieces
    Result<MendedFile> (*onFile)(ByteView bytes, const std::string& name,
                                 const Brief&);  // nothing: not for files
};
std::span<const MendRow> allMends();
const MendRow* findMend(std::string_view id);

// Code::badUsage for a mend that does not exist or is not for this; Code::limitNotMet when it
// cannot help. Code::cancelled when it was stopped.
[[nodiscard]] Result<Kit> mended(std::string_view id, const Kit& kit, std::string_view pieceId,
                                 const Brief& brief, InkStore& store, std::stop_token stop = {});
[[nodiscard]] Result<MendedFile> mendedFile(std::string_view id, ByteView bytes,
                                            const std::string& name, const Brief& brief);

// The words of its button: "Crop to 1280 × 720"; of the reading that offers it, where they are
// known: "Widen its outline to 12 px".
std::string mendTitle(std::string_view id, const Brief& brief, PixelSize frame,
                      const Reading* offers = nullptr);

// The frame that crop-to-frame leads to: the brief's, or its largest whole multiple that `size`
// covers.
PixelSize frameFor(PixelSize size, const Brief& brief);

}  // namespace zl
