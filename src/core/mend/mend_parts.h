// SPDX-License-Identifier: GPL-3.0-or-later
// The mends that stand in files of their own; the table in mend.cpp lists them. Included by the
// room's own sources.
#pragma once

#include "mend/mend.h"

namespace zl {

Result<Kit> padPiece(const PieceToMend&);
Result<Kit> scaleToSource(const PieceToMend&);
Result<Kit> intoZone(const PieceToMend&);
Result<Kit> outlineContrast(const PieceToMend&);
Result<MendedFile> outlineFile(ByteView bytes, const std::string& name, const Brief& brief);
Result<Kit> toReference(const PieceToMend&);
Result<Kit> keepAlpha(const PieceToMend&);
Result<Kit> makeRoom(const PieceToMend&);
Result<Kit> trimPiece(const PieceToMend&);
Result<Kit> centrePiece(const PieceToMend&);
Result<Kit> keyBackground(const PieceToMend&);
Result<Kit> leaveRim(const PieceToMend&);
Result<Kit> cropBarsPiece(const PieceToMend&);
Result<Kit> fillBarsPiece(const PieceToMend&);
Result<MendedFile> fillBarsFile(ByteView bytes, const std::string& name, const Brief& brief);
Result<MendedFile> cropBarsFile(ByteView bytes, const std::string& name, const Brief& brief);
Result<Kit> putLinksRight(const PieceToMend&);
template <Cleaning what>
Result<Kit> cleanPiece(const PieceToMend&);
template <Cleaning what>
Result<MendedFile> cleanedFile(ByteView bytes, const std::string& name, const Brief&);
Result<MendedFile> bleedFile(ByteView bytes, const std::string& name, const Brief&);

// What the file's own kind can hold, encoded again at the highest quality.
Result<MendedFile> encodedAgain(const Straight8& frame, Content content);

// The ink alone, as large as `frame` with `rim` px round it allows; and the ink moved to the
// frame's centre by whole px.
Straight8 trimmedInto(const Picture& picture, PixelSize frame, double rim);
Straight8 centredInk(const Picture& picture);

// The shortest move, in whole px, that brings `box` inside `inside` and clear of every obstacle;
// nothing when none does.
std::optional<RealPoint> shortestMove(const RealRect& box, const RealRect& inside,
                                      const std::vector<RealRect>& obstacles);

// Scaled to lie inside `frame` as a whole, on its centre; the rim is `pad`.
Straight8 padded(const Picture& picture, PixelSize frame, std::uint32_t pad);
// The mean colour of the border of an opaque picture; see-through nothing else.
std::uint32_t rimColour(const Picture& picture);

}  // namespace zl
