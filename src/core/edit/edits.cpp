// SPDX-License-Identifier: GPL-3.0-or-later
#include "edit/edits.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/file.h"
#include "base/overloads.h"
#include "edit/edit_parts.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"

namespace zl {

namespace {

constexpr double farthest = 1'000'000;  // px
constexpr std::size_t longestText = 20'000;

bool within(double v, double low, double high) {
    return std::isfinite(v) && v >= low && v <= high;
}

bool goodRect(const RealRect& r) {
    return within(r.x, -farthest, farthest) && within(r.y, -farthest, farthest) &&
           within(r.width, 1e-3, farthest) && within(r.height, 1e-3, farthest);
}

Result<void> checkWhat(const PictureLayer& picture, const std::string& name, const Kit& kit) {
    if (!kit.asset(picture.source))
        return fail(Code::badUsage, fmt::format("The picture of layer \"{}\" is missing.", name));
    if (!goodRect(picture.crop) || !goodRect(picture.place))
        return fail(Code::badUsage, "A picture needs a size between 0.001 and 1,000,000 px.");
    const Tone& t = picture.tone;
    for (const double v : {t.brightness, t.contrast, t.saturation, t.warmth, t.tint, t.clarity})
        if (!within(v, -100, 100)) return fail(Code::badUsage, "Tone goes from -100 to 100.");
    if (picture.veils.size() > 50)
        return fail(Code::badUsage, "A picture takes up to 50 veiled regions.");
    for (const Veil& veil : picture.veils)
        if (!goodRect(veil.region) || !within(veil.px, 1, 400))
            return fail(Code::badUsage, "A veiled region goes from 1 to 400 px.");
    if (picture.cuts.size() > mostCuts)
        return fail(Code::badUsage, fmt::format("A picture takes up to {} cuts.", mostCuts));
    for (const Cut& cut : picture.cuts)
        if (auto good = checkCut(cut); !good) return good;
    if (picture.clip) return checkClip(*picture.clip);
    return {};
}

Result<void> checkWhat(const LetteringLayer& letters, const std::string&, const Kit&) {
    if (letters.family.size() > longestName || letters.style.size() > 100)
        return fail(Code::badUsage, "That font's name is too long.");
    if (letters.text.size() > longestText)
        return fail(Code::badUsage,
                    fmt::format("The text is too long: {} of {} bytes.",
                                grouped(static_cast<long long>(letters.text.size())),
                                grouped(static_cast<long long>(longestText))),
                    "Shorten it.");
    if (!within(letters.size, 1, 4000))
        return fail(Code::badUsage, "Lettering goes from 1 to 4,000 px.");
    if (!within(letters.leading, 0.3, 5))
        return fail(Code::badUsage, "Leading goes from 0.3 to 5.");
    if (!within(letters.tracking, -500, 2000))
        return fail(Code::badUsage, "Tracking goes from -500 to 2,000 thousandths of an em.");
    if (!within(letters.at.x, -farthest, farthest) || !within(letters.at.y, -farthest, farthest))
        return fail(Code::badUsage, "That place is too far away.");
    return {};
}

Result<void> checkWhat(const BarLayer& bar, const std::string&, const Kit&) {
    if (!goodRect(bar.place) || bar.place.width > 40'000 || bar.place.height > 40'000)
        return fail(Code::badUsage, "A bar needs a size between 0.001 and 40,000 px.");
    if (!within(bar.radius, 0, 20'000) || !within(bar.thickness, 0.1, 20'000))
        return fail(Code::badUsage, "A bar's corners and thickness go up to 20,000 px.");
    if (!within(bar.fadeDegrees, -360, 360))
        return fail(Code::badUsage, "An angle goes from -360 to 360 degrees.");
    return {};
}

}  // namespace

Result<void> checkLayer(const Layer& layer, const Kit& kit) {
    if (layer.name.size() > longestName)
        return fail(Code::badUsage, "A layer's name goes up to 200 bytes.", "Shorten it.");
    if (!within(layer.opacity, 0, 1)) return fail(Code::badUsage, "Opacity goes from 0 to 100 %.");
    if (!within(layer.turn.degrees, -360, 360))
        return fail(Code::badUsage, "An angle goes from -360 to 360 degrees.");
    if (layer.shows)
        if (auto good = checkShowTime(*layer.shows); !good) return good;
    if (layer.group < 0) return fail(Code::badUsage, "A group's number is 1 or more.");
    if (layer.finishes.size() > mostFinishes)
        return fail(Code::badUsage, fmt::format("A layer takes up to {} finishes.", mostFinishes));
    for (const Finish& finish : layer.finishes)
        if (auto good = checkFinish(finish); !good) return good;
    return std::visit([&](const auto& what) { return checkWhat(what, layer.name, kit); },
                      layer.what);
}

Result<void> checkPiece(const Piece& piece) {
    if (piece.title.empty()) return fail(Code::badUsage, "A piece needs a title.");
    if (piece.title.size() > longestName)
        return fail(Code::badUsage, "A title goes up to 200 bytes.", "Shorten it.");
    if (piece.frame.empty() || piece.frame.width > 20'000 || piece.frame.height > 20'000 ||
        piece.frame.count() > 100'000'000)
        return fail(Code::badUsage,
                    fmt::format("A frame of {} x {} px cannot be made.", piece.frame.width,
                                piece.frame.height),
                    "Up to 20,000 px a side and 100 million in all are allowed.");
    const std::string& name = piece.release.name;
    if (name.empty() || name == "." || name == ".." || name.find('/') != std::string::npos ||
        name.size() > 200)
        return fail(Code::badUsage,
                    fmt::format("\"{}\" cannot be a file name.", name.substr(0, 60)),
                    "Type a name without a folder.");
    if (piece.release.matte && piece.release.matte->alpha != 255)
        return fail(Code::badUsage, "A matte is solid: it has no alpha.", "Write #RRGGBB.");
    if (!within(piece.length, 0, longestPiece))
        return fail(Code::badUsage, "A moving piece lasts up to 4 hours.");
    if (piece.guides.size() > 200) return fail(Code::badUsage, "A piece takes up to 200 guides.");
    for (const Guide& guide : piece.guides)
        if (!within(guide.at, guide.isShare ? 0 : -farthest, guide.isShare ? 1 : farthest))
            return fail(Code::badUsage, guide.isShare ? "A guide stands at 0 to 100 % of the frame."
                                                      : "That guide is too far away.");
    if (piece.layers.size() > mostLayers)
        return fail(Code::badUsage, fmt::format("A piece takes up to {} layers.", mostLayers),
                    "Take some out, or put them into another piece.");
    if (piece.links.size() > 200)
        return fail(Code::badUsage, "A piece takes up to 200 link regions.");
    for (const LinkRegion& link : piece.links) {
        if (link.address.size() > 2000)
            return fail(Code::badUsage, "A link's address goes up to 2,000 bytes.", "Shorten it.");
        if (link.says.size() > 300)
            return fail(Code::badUsage, "What a link says goes up to 300 bytes.", "Shorten it.");
    }
    if (piece.slices.size() > 100) return fail(Code::badUsage, "A piece takes up to 100 slices.");
    std::set<std::string> names;
    for (const Slice& slice : piece.slices) {
        if (slice.name.empty() || slice.name.size() > 60 ||
            slice.name != fileNameFromTitle(slice.name))
            return fail(Code::badUsage,
                        fmt::format("\"{}\" cannot name a slice.", slice.name.substr(0, 60)),
                        "Use up to 60 lower case letters, digits and hyphens.");
        if (!names.insert(slice.name).second)
            return fail(Code::badUsage, fmt::format("Two slices are called \"{}\".", slice.name));
        if (slice.place.empty() ||
            slice.place.intersected(PixelRect::of(piece.frame)) != slice.place)
            return fail(
                Code::badUsage,
                fmt::format("The slice \"{}\" does not lie inside the frame.", slice.name),
                fmt::format("The frame is {} x {} px.", piece.frame.width, piece.frame.height));
    }
    return {};
}

Result<void> roomForPiece(const Kit& kit) {
    if (kit.pieces.size() < mostPieces) return {};
    return fail(Code::badUsage, fmt::format("A kit takes up to {} pieces.", grouped(mostPieces)),
                "Begin another kit for more.");
}

Result<Kit> withPiece(const Kit& kit, Piece piece) {
    if (piece.id.empty()) piece.id = idFromTitle(piece.title, kit);
    if (piece.release.name.empty()) piece.release.name = piece.id;
    if (kit.piece(piece.id))
        return fail(Code::badUsage, fmt::format("A piece \"{}\" is in the kit already.", piece.id));
    if (auto room = roomForPiece(kit); !room) return passOn(room.error());
    if (auto good = checkPiece(piece); !good) return passOn(good.error());
    for (const Layer& layer : piece.layers)
        if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    Kit copy = kit;
    copy.pieces.push_back(std::move(piece));
    return copy;
}

Result<Kit> withoutPiece(const Kit& kit, std::string_view pieceId) {
    if (!kit.piece(pieceId))
        return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    Kit copy = kit;
    copy.pieces.eraseIf([&](const Piece& p) { return p.id == pieceId; });
    return copy;
}

Result<Kit> withChangedPiece(const Kit& kit, Piece piece) {
    for (const Layer& layer : piece.layers)
        if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    const std::string id = piece.id;
    return edit_parts::changed(kit, id, [&](Piece& p) -> Result<void> {
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
    if (std::find(copy.fonts.begin(), copy.fonts.end(), font.sha256) == copy.fonts.end())
        copy.fonts.push_back(font.sha256);
    copy.assets.emplace(font.sha256, std::move(font));
    return copy;
}

Result<Kit> withPieceDoubled(const Kit& kit, std::string_view pieceId, bool asVariant) {
    const auto at = std::find_if(kit.pieces.begin(), kit.pieces.end(),
                                 [&](const Piece& p) { return p.id == pieceId; });
    if (at == kit.pieces.end())
        return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    if (auto room = roomForPiece(kit); !room) return passOn(room.error());
    Piece copy = *at;
    copy.variantOf = !asVariant ? "" : at->variantOf.empty() ? at->id : at->variantOf;
    const char* word = asVariant ? "variant" : "copy";
    // A variant of a variant is another one of the same piece, and is called so.
    const Piece* root = asVariant ? kit.piece(copy.variantOf) : nullptr;
    const Piece& named = root ? *root : *at;
    const std::string stem = cutToFit(named.title, longestName - 16);
    for (int i = asVariant ? 2 : 1;; ++i) {
        copy.title =
            i == 1 ? fmt::format("{}, {}", stem, word) : fmt::format("{}, {} {}", stem, word, i);
        if (std::none_of(kit.pieces.begin(), kit.pieces.end(),
                         [&](const Piece& p) { return p.title == copy.title; }))
            break;
    }
    copy.id = idFromTitle(copy.title, kit);
    copy.release.name = cutToFit(stemOf(named.release.name), 100) + "-" +
                        copy.id.substr(copy.id.rfind(word)) + endingOf(named.release.name);
    Kit next = kit;
    next.pieces.insertAt(static_cast<std::size_t>(at - kit.pieces.begin()) + 1, std::move(copy));
    return next;
}

std::vector<const Piece*> variantsOf(const Kit& kit, const Piece& piece) {
    const std::string& root =
        piece.variantOf.empty() || !kit.piece(piece.variantOf) ? piece.id : piece.variantOf;
    std::vector<const Piece*> all;
    for (const Piece& one : kit.pieces)
        if (one.id == root)
            all.insert(all.begin(), &one);
        else if (one.variantOf == root)
            all.push_back(&one);
    return all;
}

Kit withColours(const Kit& kit, std::vector<Colour> colours) {
    constexpr std::size_t most = 24;
    Kit copy = kit;
    copy.colours.clear();
    for (const Colour& colour : colours)
        if (copy.colours.size() < most &&
            std::find(copy.colours.begin(), copy.colours.end(), colour) == copy.colours.end())
            copy.colours.push_back(colour);
    return copy;
}

Kit withLook(const Kit& kit, Look look) {
    Kit copy = withoutLook(kit, look.name);
    copy.looks.push_back(std::move(look));
    return copy;
}

Kit withoutLook(const Kit& kit, std::string_view name) {
    Kit copy = kit;
    std::erase_if(copy.looks, [&](const Look& l) { return l.name == name; });
    return copy;
}

Result<Kit> withStamp(const Kit& kit, Stamp stamp) {
    if (auto good = checkStamp(stamp); !good) return passOn(good.error());
    Kit copy = kit;
    for (Stamp& one : copy.stamps)
        if (one.name == stamp.name) {
            one = std::move(stamp);
            return copy;
        }
    copy.stamps.push_back(std::move(stamp));
    return copy;
}

Kit withoutStamp(const Kit& kit, std::string_view name) {
    Kit copy = kit;
    std::erase_if(copy.stamps, [&](const Stamp& s) { return s.name == name; });
    return copy;
}

Result<Kit> withStampNamed(const Kit& kit, std::string_view name, const std::string& newName) {
    if (newName.empty()) return fail(Code::badUsage, "A stamp needs a name.");
    if (newName != name && kit.stamp(newName))
        return fail(Code::badUsage, fmt::format("There is a stamp \"{}\" already.", newName),
                    "Choose another name.");
    Kit copy = kit;
    for (Stamp& one : copy.stamps)
        if (one.name == name) {
            one.name = cutToFit(newName);
            return copy;
        }
    return fail(Code::badUsage, "That stamp is not in the kit.");
}

Look lookOf(const Layer& layer, std::string name) {
    Look look{cutToFit(std::move(name)), {}, layer.finishes};
    if (const LetteringLayer* letters = layer.lettering()) look.letters = *letters;
    look.letters.text.clear();
    look.letters.at = {};
    return look;
}

Layer wearing(Layer layer, const Look& look) {
    layer.finishes = look.finishes;
    if (LetteringLayer* letters = layer.lettering()) {
        LetteringLayer worn = look.letters;
        worn.text = letters->text;
        worn.at = letters->at;
        worn.align = letters->align;
        worn.vertical = letters->vertical;
        *letters = std::move(worn);
    }
    return layer;
}

Result<Kit> withPieceVideo(const Kit& kit, std::string_view pieceId,
                           const std::optional<PieceVideo>& video) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        piece.video = video;
        return {};
    });
}

Result<Kit> withLayer(const Kit& kit, std::string_view pieceId, Layer layer) {
    if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        layer.id = edit_parts::nextId(piece);
        piece.layers.push_back(std::move(layer));
        return {};
    });
}

Result<Kit> withChangedLayer(const Kit& kit, std::string_view pieceId, Layer layer) {
    if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = edit_parts::find(piece, layer.id);
        if (at == piece.layers.end()) return edit_parts::noLayer();
        *at = std::move(layer);
        return {};
    });
}

Result<Kit> withoutLayer(const Kit& kit, std::string_view pieceId, int layerId) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = edit_parts::find(piece, layerId);
        if (at == piece.layers.end()) return edit_parts::noLayer();
        piece.layers.erase(at);
        edit_parts::dissolveLoners(piece);
        return {};
    });
}

Result<Kit> withChangedLayers(const Kit& kit, std::string_view pieceId,
                              const std::vector<Layer>& layers) {
    for (const Layer& layer : layers)
        if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        for (const Layer& layer : layers) {
            const auto at = edit_parts::find(piece, layer.id);
            if (at == piece.layers.end()) return edit_parts::noLayer();
            *at = layer;
        }
        return {};
    });
}

Result<Kit> withoutLayers(const Kit& kit, std::string_view pieceId, const std::set<int>& ids) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        std::erase_if(piece.layers, [&](const Layer& layer) { return ids.contains(layer.id); });
        edit_parts::dissolveLoners(piece);
        return {};
    });
}

Result<Kit> withPastedLayers(const Kit& kit, std::string_view pieceId, std::vector<Layer> layers,
                             const Kit& from) {
    Kit base = kit;
    for (const Layer& layer : layers)
        if (const Asset* asset = assetOf(layer, from)) base = withAsset(base, *asset);
    for (const Layer& layer : layers)
        if (auto good = checkLayer(layer, base); !good) return passOn(good.error());
    return edit_parts::changed(base, pieceId, [&](Piece& piece) -> Result<void> {
        int highest = 0;
        for (const Layer& layer : piece.layers) highest = std::max(highest, layer.group);
        for (Layer& layer : layers) {
            layer.id = edit_parts::nextId(piece);
            if (layer.group != 0) layer.group += highest;
            piece.layers.push_back(std::move(layer));
        }
        edit_parts::dissolveLoners(piece);
        return {};
    });
}

void carryRegions(Piece& piece, double fx, double fy, double dx, double dy) {
    const auto carried = [&](const PixelRect& r) {
        const auto at = [](double v, double f, double by) {
            return static_cast<int>(std::lround(v * f + by));
        };
        return PixelRect{at(r.left, fx, dx), at(r.top, fy, dy), at(r.right, fx, dx),
                         at(r.bottom, fy, dy)};
    };
    for (LinkRegion& link : piece.links) link.place = carried(link.place);
    for (Slice& slice : piece.slices)
        slice.place = carried(slice.place).intersected(PixelRect::of(piece.frame));
    std::erase_if(piece.slices, [](const Slice& slice) { return slice.place.empty(); });
}

PictureLayer cropped(const PictureLayer& picture, const RealRect& crop) {
    PictureLayer out = picture;
    out.crop = crop;
    const double before = picture.place.width / picture.place.height,
                 after = crop.width / crop.height;
    constexpr double sameShape = 1e-6;
    if (std::abs(after / before - 1) <= sameShape) return out;
    out.place.height = out.place.width / after;
    out.place.y = picture.place.centre().y - out.place.height / 2;
    return out;
}

Layer cropped(Layer layer, const RealRect& crop) {
    if (PictureLayer* picture = layer.picture()) *picture = cropped(*picture, crop);
    return layer;
}

Result<void> checkCrop(const RealRect& crop, PixelSize original) {
    constexpr double slack = 1e-6;
    if (!(crop.width > 0) || !(crop.height > 0))
        return fail(Code::badUsage, "A crop needs a width and a height.");
    if (crop.x < -slack || crop.y < -slack || crop.right() > original.width + slack ||
        crop.bottom() > original.height + slack)
        return fail(
            Code::badUsage,
            fmt::format("The crop would be {:.4g} × {:.4g} px at {:.4g}, {:.4g}: it reaches past "
                        "the original, which is {} × {} px.",
                        crop.width, crop.height, crop.x, crop.y, original.width, original.height));
    return {};
}

RealPoint inFrame(const PictureLayer& p, RealPoint at) {
    return {p.place.x + (at.x - p.crop.x) * p.place.width / p.crop.width,
            p.place.y + (at.y - p.crop.y) * p.place.height / p.crop.height};
}

RealPoint inOriginal(const PictureLayer& p, RealPoint at) {
    return {p.crop.x + (at.x - p.place.x) * p.crop.width / p.place.width,
            p.crop.y + (at.y - p.place.y) * p.crop.height / p.place.height};
}

PictureLayer withShapesStanding(const PictureLayer& before, PictureLayer after) {
    const auto carried = [&](RealPoint p) { return inOriginal(after, inFrame(before, p)); };
    for (Cut& cut : after.cuts) {
        ShapeCut* shape = cut.shape();
        if (!shape) continue;
        const RealPoint corner = carried({shape->box.x, shape->box.y}),
                        other = carried({shape->box.right(), shape->box.bottom()});
        const double factor = std::sqrt(std::abs((other.x - corner.x) * (other.y - corner.y)) /
                                        std::max(1e-12, shape->box.area()));
        shape->box = {corner.x, corner.y, other.x - corner.x, other.y - corner.y};
        if (shape->shape != CutShape::polygon) {
            shape->feather *= factor;
            if (!shape->radiiAreShares)
                for (double& radius : shape->radii) radius *= factor;
        }
        for (RealPoint& p : shape->points) p = carried(p);
    }
    return after;
}

Layer withShapesStanding(const Layer& before, Layer after) {
    const PictureLayer* first = before.picture();
    PictureLayer* then = after.picture();
    if (first && then) *then = withShapesStanding(*first, *then);
    return after;
}

PictureLayer fillingFrame(const std::string& source, PixelSize sourceSize, PixelSize frame,
                          const std::optional<RealRect>& seen) {
    const RealRect whole = RealRect::of(sourceSize);
    RealRect place = smallestCovering(RealRect::of(frame), sourceSize.width, sourceSize.height);
    if (seen) {
        const RealRect middle = largestInside(whole, frame.width, frame.height);
        const double scale = place.width / whole.width;
        const auto laid = [scale](double start, double by, double room) {
            return std::clamp(start + by * scale, std::min(0.0, room), 0.0);
        };
        place.x = laid(place.x, middle.x - seen->x, frame.width - place.width);
        place.y = laid(place.y, middle.y - seen->y, frame.height - place.height);
    }
    return {source, whole, place};
}

}  // namespace zl
