// SPDX-License-Identifier: GPL-3.0-or-later
// Edits: pure functions from a kit to the edited kit. What cannot be done is an error
// (Code::badUsage) and changes nothing. Values are checked here, so that no field, script or file
// can bring in what the core cannot draw.
#pragma once

#include "kit/layer_kinds.h"

namespace zl {

// The piece's id is made from its title when it is empty, and must be new otherwise.
[[nodiscard]] Result<Kit> withPiece(const Kit& kit, Piece piece);
// The video that the piece goes with, or none.
[[nodiscard]] Result<Kit> withPieceVideo(const Kit& kit, std::string_view pieceId,
                                         const std::optional<PieceVideo>& video);
[[nodiscard]] Result<Kit> withoutPiece(const Kit& kit, std::string_view pieceId);
// Replaces the piece of the same id; it is checked with its layers.
[[nodiscard]] Result<Kit> withChangedPiece(const Kit& kit, Piece piece);
Kit withTitle(const Kit& kit, std::string title);
// An asset that is there already is left as it is.
Kit withAsset(const Kit& kit, Asset asset);

// A font file of the kit's own; once is enough.
Kit withFont(const Kit& kit, Asset font);

// A copy of the piece right behind it. A variant is another try at it, kept beside it.
[[nodiscard]] Result<Kit> withPieceDoubled(const Kit& kit, std::string_view pieceId,
                                           bool asVariant);
// The piece itself first, then its variants, in the kit's order.
std::vector<const Piece*> variantsOf(const Kit& kit, const Piece& piece);

Kit withColours(const Kit& kit, std::vector<Colour> colours);  // the first 24, each once
// A look of the same name is replaced.
Kit withLook(const Kit& kit, Look look);
Kit withoutLook(const Kit& kit, std::string_view name);

// The stamp in the kit; one of the same name is replaced in its place. Code::badUsage: it is none
// yet (checkStamp).
[[nodiscard]] Result<Kit> withStamp(const Kit& kit, Stamp stamp);
Kit withoutStamp(const Kit& kit, std::string_view name);
// Code::badUsage: there is none of that name, or one of the new name already.
[[nodiscard]] Result<Kit> withStampNamed(const Kit& kit, std::string_view name,
                                         const std::string& newName);
// The layer wearing a look: its finishes, and what a look says of letters. Text, place and the
// layer's name stay.
Layer wearing(Layer layer, const Look& look);
Look lookOf(const Layer& layer, std::string name);

// On top of the stack; the layer gets a new id, which is the highest of the piece afterwards.
[[nodiscard]] Result<Kit> withLayer(const Kit& kit, std::string_view pieceId, Layer layer);
// Replaces the layer of the same id.
[[nodiscard]] Result<Kit> withChangedLayer(const Kit& kit, std::string_view pieceId, Layer layer);
[[nodiscard]] Result<Kit> withoutLayer(const Kit& kit, std::string_view pieceId, int layerId);
// Several at once, as one edit. An id that is gone is an error.
[[nodiscard]] Result<Kit> withChangedLayers(const Kit& kit, std::string_view pieceId,
                                            const std::vector<Layer>& layers);
[[nodiscard]] Result<Kit> withoutLayers(const Kit& kit, std::string_view pieceId,
                                        const std::set<int>& layerIds);
// Layers of another piece or kit on top, with new ids; groups stay together, and the pictures they
// show come along.
[[nodiscard]] Result<Kit> withPastedLayers(const Kit& kit, std::string_view pieceId,
                                           std::vector<Layer> layers, const Kit& from);

// What a layer may be: finite numbers, sizes within 1..1,000,000 px, text within 20,000 bytes.
[[nodiscard]] Result<void> checkLayer(const Layer& layer, const Kit& kit);

// What a piece may be: a title, a frame of at most 20,000 px a side, a release name without a
// folder, 500 layers.
[[nodiscard]] Result<void> checkPiece(const Piece& piece);

// Code::badUsage where the kit takes no further piece.
[[nodiscard]] Result<void> roomForPiece(const Kit& kit);

// The piece's link regions and slices scaled about the frame's corner, then moved, to whole px; for
// a frame that changed with its layers. A slice keeps to the frame, and goes when nothing of it is
// left in it.
void carryRegions(Piece& piece, double factorX, double factorY, double dx, double dy);

// The picture showing another part of its original. Where the part has another shape than the
// place, the place takes it on, keeping its width and its centre: nothing is ever stretched by a
// crop.
// The same of a layer; one that shows no picture stays as it is.
Layer cropped(Layer layer, const RealRect& crop);
PictureLayer cropped(const PictureLayer& picture, const RealRect& crop);
// A crop that was typed lies inside the original, or it is refused with the reason
// (Code::badUsage).
[[nodiscard]] Result<void> checkCrop(const RealRect& crop, PixelSize original);

// The picture moved or scaled from `before` to `after`, its shape cuts standing where they stood in
// the frame.
Layer withShapesStanding(const Layer& before, Layer after);
PictureLayer withShapesStanding(const PictureLayer& before, PictureLayer after);
// px of the original in px of the frame, before the layer's turn; and the way back.
RealPoint inFrame(const PictureLayer& picture, RealPoint original);
RealPoint inOriginal(const PictureLayer& picture, RealPoint frame);

// A picture layer that fills `frame` without stretching: the smallest cover, centred; or laid so
// that the frame shows `seen`, the largest part of the frame's shape (px of the original).
PictureLayer fillingFrame(const std::string& source, PixelSize sourceSize, PixelSize frame,
                          const std::optional<RealRect>& seen = {});

}  // namespace zl
