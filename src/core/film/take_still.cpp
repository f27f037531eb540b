// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/take_still.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/file.h"
#include "edit/edits.h"
#include "edit/stack.h"
#include "encode/encode.h"
#include "encode/png.h"
#include "picture/attention.h"
#include "picture/decode.h"

namespace zl {
namespace {

constexpr double mainShare = 0.5;  // of the frame that a piece's main picture covers at least

// The same part of a picture of another size; all of it, in the old crop's shape, where it has
// another shape, or where the same part reaches over what may be shown.
RealRect carriedCrop(const RealRect& crop, PixelSize before, PixelSize now, const RealRect& all) {
    const double fx = static_cast<double>(now.width) / before.width,
                 fy = static_cast<double>(now.height) / before.height;
    const RealRect same{crop.x * fx, crop.y * fy, crop.width * fx, crop.height * fy};
    if (std::abs(fx - fy) < 1e-3 * fx && same.intersected(all) == same) return same;
    return largestInside(all, crop.width, crop.height, {0.5, 0.5});
}

}  // namespace

Result<Bytes> pngOf(const VideoFrame& frame) {
    if (frame.deep) return encodePng16(frame.deep->size, frame.deep->values);
    return encode(frame.pixels, {Content::png, 0, Chroma::full, Effort::quick});
}

Path videoAt(const std::string& remembered, const std::optional<Path>& kitFile) {
    const Path file = remembered;
    return file.is_absolute() || !kitFile ? file : kitFile->parent_path() / file;
}

std::string rememberedAs(const Path& video, const std::optional<Path>& kitFile) {
    std::error_code none;
    const Path whole = std::filesystem::absolute(video, none).lexically_normal();
    if (!kitFile) return whole.string();
    const Path from = whole.lexically_relative(
        std::filesystem::absolute(*kitFile, none).lexically_normal().parent_path());
    return from.empty() || *from.begin() == ".." ? whole.string() : from.string();
}

bool isVideoOf(const Kit& kit, const std::optional<Path>& kitFile, const Path& file) {
    const auto same = [&](const std::string& remembered) {
        return sameFile(videoAt(remembered, kitFile), file);
    };
    return std::any_of(kit.pieces.begin(), kit.pieces.end(), [&](const Piece& piece) {
        if (piece.video && same(piece.video->file)) return true;
        return std::any_of(piece.layers.begin(), piece.layers.end(), [&](const Layer& layer) {
            const PictureLayer* picture = layer.picture();
            return picture && ((picture->clip && same(picture->clip->file)) ||
                               (picture->still && same(picture->still->file)));
        });
    });
}

Kit withWholeVideoPaths(const Kit& kit, const Path& kitFile) {
    const auto isPart = [](const std::string& file) { return !Path(file).is_absolute(); };
    Kit next = kit;
    for (std::size_t i = 0; i < kit.pieces.size(); ++i) {
        const Piece& piece = kit.pieces[i];
        if (piece.video && isPart(piece.video->file))
            next.pieces[i].video->file = videoAt(piece.video->file, kitFile).string();
        for (std::size_t k = 0; k < piece.layers.size(); ++k) {
            const PictureLayer* picture = piece.layers[k].picture();
            if (picture && picture->clip && isPart(picture->clip->file))
                next.pieces[i].layers[k].picture()->clip->file =
                    videoAt(picture->clip->file, kitFile).string();
            if (picture && picture->still && isPart(picture->still->file))
                next.pieces[i].layers[k].picture()->still->file =
                    videoAt(picture->still->file, kitFile).string();
        }
    }
    return next;
}

Result<Asset> stillOf(const VideoFrame& frame, const std::string& videoName) {
    auto bytes = pngOf(frame);
    if (!bytes) return passOn(bytes.error());
    const auto ms = static_cast<long long>(std::llround(frame.time * 1000));
    return makeAsset(std::move(*bytes), cutToFit(fmt::format("{} {}.{:03}.png", stemOf(videoName),
                                                             ms / 1000, ms % 1000)));
}

int layerForStill(const Piece& piece, int chosenId) {
    if (const Layer* chosen = piece.layer(chosenId); chosen && releasedPicture(*chosen))
        return chosenId;
    for (const Layer& layer : piece.layers) {
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture) continue;
        const RealRect seen = picture->place.intersected(RealRect::of(piece.frame));
        if (seen.area() >= mainShare * static_cast<double>(piece.frame.count())) return layer.id;
    }
    return 0;
}

Result<Kit> withStill(const Kit& kit, const std::string& pieceId, int layerId, Asset still,
                      const Straight8& pixels, const StillFrom& from,
                      const std::optional<PixelRect>& part) {
    const PixelSize size = pixels.size();
    const Piece* piece = kit.piece(pieceId);
    if (!piece) return fail(Code::badUsage, "That piece is gone.");
    const std::string hash = still.sha256, name = stemOf(still.name);
    const Kit with = withAsset(kit, std::move(still));
    const RealRect shown = part ? RealRect::ofPixels(*part) : RealRect::of(size);
    const Layer* old = layerId != 0 ? piece->layer(layerId) : nullptr;
    if (!old || !old->picture()) {
        Layer layer;
        layer.name = cutToFit(name);
        const Straight8 inBars = part ? partOf(pixels, *part) : Straight8{};
        const Straight8& filling = part ? inBars : pixels;
        PictureLayer picture =
            fillingFrame(hash, filling.size(), piece->frame,
                         firstCrop(filling, piece->frame.width, piece->frame.height));
        picture.crop = shown;
        picture.still = from;
        layer.what = picture;
        auto next = withLayer(with, pieceId, layer);
        if (!next) return next;
        return withLayerMoved(*next, pieceId, next->piece(pieceId)->layers.back().id, 0);
    }
    Layer layer = *old;
    PictureLayer& picture = *layer.picture();
    const Asset* before = kit.asset(picture.source);
    // The size of what was there is that of its still, or told by its crop's reach.
    PixelSize was = picture.still ? picture.still->size
                                  : PixelSize{static_cast<int>(std::ceil(picture.crop.right())),
                                              static_cast<int>(std::ceil(picture.crop.bottom()))};
    if (before && before->bytes)
        if (const auto facts = readFacts(*before->bytes, before->name)) was = facts->size;
    // A key and the cleanings belong to the pixels that are gone; a subject is looked for anew.
    std::erase_if(picture.cuts, [](const Cut& cut) { return cut.key() || cut.clean(); });
    for (Cut& cut : picture.cuts)
        if (SubjectCut* subject = cut.subject()) {
            subject->box.reset();
            subject->strokes.clear();
            subject->guess = 0;
        }
    picture.source = hash;
    picture.still = from;
    picture.clip.reset();
    picture = cropped(picture, carriedCrop(picture.crop, was, size, shown));
    layer.name = cutToFit(name);
    return withChangedLayer(with, pieceId, std::move(layer));
}

}  // namespace zl
