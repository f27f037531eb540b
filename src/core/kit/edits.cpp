// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/edits.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace zl {
namespace {

constexpr double farthest = 1'000'000;  // px
constexpr std::size_t longestText = 20'000;

bool within(double v, double low, double high) {
    return std::isfinite(v) && v >= low && v <= high;
}

bool goodRect(const RealRect& r) {
    return within(r.x, -farthest, farthest) && within(r.y, -farthest, farthest) && within(r.width, 1e-3, farthest) &&
           within(r.height, 1e-3, farthest);
}

// Changes one piece by `change(Piece&) -> Result<void>`.
template <class Change>
Result<Kit> changed(const Kit& kit, std::string_view pieceId, const Change& change) {
    Kit copy = kit;
    const auto piece = std::find_if(copy.pieces.begin(), copy.pieces.end(), [&](const Piece& p) { return p.id == pieceId; });
    if (piece == copy.pieces.end()) return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    if (Result<void> done = change(*piece); !done) return passOn(done.error());
    return copy;
}

std::vector<Layer>::iterator find(Piece& piece, int id) {
    return std::find_if(piece.layers.begin(), piece.layers.end(), [&](const Layer& l) { return l.id == id; });
}

tl::unexpected<Error> noLayer() {
    return fail(Code::badUsage, "That layer is gone.");
}

int nextId(const Piece& piece) {
    int highest = 0;
    for (const Layer& layer : piece.layers) highest = std::max(highest, layer.id);
    return highest + 1;
}

}  // namespace

Result<void> checkLayer(const Layer& layer, const Kit& kit) {
    if (layer.name.size() > longestName) return fail(Code::badUsage, "A layer's name goes up to 200 bytes.", "Shorten it.");
    if (!within(layer.opacity, 0, 1)) return fail(Code::badUsage, "Opacity goes from 0 to 100 %.");
    if (const auto* picture = layer.picture()) {
        if (!kit.asset(picture->source)) return fail(Code::badUsage, fmt::format("The picture of layer \"{}\" is missing.", layer.name));
        if (!goodRect(picture->crop) || !goodRect(picture->place))
            return fail(Code::badUsage, "A picture needs a size between 0.001 and 1,000,000 px.");
    }
    if (const auto* letters = layer.lettering()) {
        if (letters->family.size() > longestName || letters->style.size() > 100)
            return fail(Code::badUsage, "That font's name is too long.");
        if (letters->text.size() > longestText)
            return fail(Code::badUsage,
                        fmt::format("The text is too long: {} of {} bytes.", grouped(static_cast<long long>(letters->text.size())),
                                    grouped(static_cast<long long>(longestText))),
                        "Shorten it.");
        if (!within(letters->size, 1, 4000)) return fail(Code::badUsage, "Lettering goes from 1 to 4,000 px.");
        if (!within(letters->leading, 0.3, 5)) return fail(Code::badUsage, "Leading goes from 0.3 to 5.");
        if (!within(letters->outline.px, 0, 400)) return fail(Code::badUsage, "An outline goes from 0 to 400 px.");
        if (!within(letters->at.x, -farthest, farthest) || !within(letters->at.y, -farthest, farthest))
            return fail(Code::badUsage, "That place is too far away.");
    }
    return {};
}

Result<void> checkPiece(const Piece& piece) {
    if (piece.title.empty()) return fail(Code::badUsage, "A piece needs a title.");
    if (piece.title.size() > longestName) return fail(Code::badUsage, "A title goes up to 200 bytes.", "Shorten it.");
    if (piece.frame.empty() || piece.frame.width > 20'000 || piece.frame.height > 20'000 || piece.frame.count() > 100'000'000)
        return fail(Code::badUsage, fmt::format("A frame of {} x {} px cannot be made.", piece.frame.width, piece.frame.height),
                    "Up to 20,000 px a side and 100 million in all are allowed.");
    const std::string& name = piece.release.name;
    if (name.empty() || name == "." || name == ".." || name.find('/') != std::string::npos || name.size() > 200)
        return fail(Code::badUsage, fmt::format("\"{}\" cannot be a file name.", name.substr(0, 60)), "Type a name without a folder.");
    return {};
}

Result<Kit> withPiece(const Kit& kit, Piece piece) {
    if (piece.id.empty()) piece.id = idFromTitle(piece.title, kit);
    if (piece.release.name.empty()) piece.release.name = piece.id;
    if (kit.piece(piece.id)) return fail(Code::badUsage, fmt::format("A piece \"{}\" is in the kit already.", piece.id));
    if (auto good = checkPiece(piece); !good) return passOn(good.error());
    Kit copy = kit;
    copy.pieces.push_back(std::move(piece));
    return copy;
}

Result<Kit> withoutPiece(const Kit& kit, std::string_view pieceId) {
    if (!kit.piece(pieceId)) return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    Kit copy = kit;
    std::erase_if(copy.pieces, [&](const Piece& p) { return p.id == pieceId; });
    return copy;
}

Result<Kit> withChangedPiece(const Kit& kit, Piece piece) {
    if (auto good = checkPiece(piece); !good) return passOn(good.error());
    const std::string id = piece.id;
    return changed(kit, id, [&](Piece& p) -> Result<void> {
        p = std::move(piece);
        return {};
    });
}

Kit withTitle(const Kit& kit, std::string title) {
    Kit copy = kit;
    copy.title = title.empty() ? "New kit" : cutToFit(std::move(title));
    return copy;
}

Kit withAsset(const Kit& kit, Asset asset) {
    Kit copy = kit;
    copy.assets.emplace(asset.sha256, std::move(asset));
    return copy;
}

Kit withFont(const Kit& kit, Asset font) {
    Kit copy = kit;
    if (std::find(copy.fonts.begin(), copy.fonts.end(), font.sha256) == copy.fonts.end()) copy.fonts.push_back(font.sha256);
    copy.assets.emplace(font.sha256, std::move(font));
    return copy;
}

Result<Kit> withPieceScaled(const Kit& kit, std::string_view pieceId, int factor) {
    const Piece* piece = kit.piece(pieceId);
    if (!piece) return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    Piece next = *piece;
    next.frame = {piece->frame.width * factor, piece->frame.height * factor};
    for (Layer& layer : next.layers) {
        layer = scaled(layer, factor, factor, {0, 0});
        if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    }
    return withChangedPiece(kit, std::move(next));
}

Result<Kit> withLayer(const Kit& kit, std::string_view pieceId, Layer layer) {
    if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    return changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        layer.id = nextId(piece);
        piece.layers.push_back(std::move(layer));
        return {};
    });
}

Result<Kit> withChangedLayer(const Kit& kit, std::string_view pieceId, Layer layer) {
    if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    return changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = find(piece, layer.id);
        if (at == piece.layers.end()) return noLayer();
        *at = std::move(layer);
        return {};
    });
}

Result<Kit> withoutLayer(const Kit& kit, std::string_view pieceId, int layerId) {
    return changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = find(piece, layerId);
        if (at == piece.layers.end()) return noLayer();
        piece.layers.erase(at);
        return {};
    });
}

Result<Kit> withLayerMoved(const Kit& kit, std::string_view pieceId, int layerId, int to) {
    return changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = find(piece, layerId);
        if (at == piece.layers.end()) return noLayer();
        const Layer layer = *at;
        piece.layers.erase(at);
        piece.layers.insert(piece.layers.begin() + std::clamp(to, 0, static_cast<int>(piece.layers.size())), layer);
        return {};
    });
}

Result<Kit> withLayerDoubled(const Kit& kit, std::string_view pieceId, int layerId) {
    return changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = find(piece, layerId);
        if (at == piece.layers.end()) return noLayer();
        constexpr double aside = 24;
        Layer copy = moved(*at, aside, aside);
        copy.id = nextId(piece);
        copy.name = cutToFit(copy.name, longestName - 5) + " copy";
        piece.layers.insert(at + 1, std::move(copy));
        return {};
    });
}

Layer moved(Layer layer, double dx, double dy) {
    if (auto* picture = layer.picture()) {
        picture->place.x += dx;
        picture->place.y += dy;
    } else if (auto* letters = layer.lettering()) {
        letters->at.x += dx;
        letters->at.y += dy;
    }
    return layer;
}

Layer scaled(Layer layer, double fx, double fy, RealPoint fixed) {
    const auto about = [](double v, double f, double c) { return c + (v - c) * f; };
    if (auto* picture = layer.picture()) {
        RealRect& p = picture->place;
        p = {about(p.x, fx, fixed.x), about(p.y, fy, fixed.y), p.width * fx, p.height * fy};
    } else if (auto* letters = layer.lettering()) {
        const double f = std::sqrt(fx * fy);  // lettering keeps its shape
        letters->at = {about(letters->at.x, f, fixed.x), about(letters->at.y, f, fixed.y)};
        letters->size *= f;
        letters->outline.px *= f;
    }
    return layer;
}

PictureLayer cropped(const PictureLayer& picture, const RealRect& crop) {
    PictureLayer out = picture;
    out.crop = crop;
    const double before = picture.place.width / picture.place.height, after = crop.width / crop.height;
    constexpr double sameShape = 1e-6;
    if (std::abs(after / before - 1) <= sameShape) return out;
    out.place.height = out.place.width / after;
    out.place.y = picture.place.centre().y - out.place.height / 2;
    return out;
}

Result<void> checkCrop(const RealRect& crop, PixelSize original) {
    constexpr double slack = 1e-6;
    if (!(crop.width > 0) || !(crop.height > 0)) return fail(Code::badUsage, "A crop needs a width and a height.");
    if (crop.x < -slack || crop.y < -slack || crop.right() > original.width + slack || crop.bottom() > original.height + slack)
        return fail(
            Code::badUsage,
            fmt::format("The crop would be {:.4g} × {:.4g} px at {:.4g}, {:.4g}: it reaches past the original, which is {} × {} px.",
                        crop.width, crop.height, crop.x, crop.y, original.width, original.height));
    return {};
}

PictureLayer fillingFrame(const std::string& source, PixelSize sourceSize, PixelSize frame) {
    return {source, RealRect::of(sourceSize), smallestCovering(RealRect::of(frame), sourceSize.width, sourceSize.height)};
}

}  // namespace zl
