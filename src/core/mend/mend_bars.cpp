// SPDX-License-Identifier: GPL-3.0-or-later
// crop-bars: what lies between black bars fills the frame, without stretching. fill-bars: all of it
// stays, over a blurred copy of itself that fills the frame (common practice, no source).
#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"
#include "edit/edits.h"
#include "encode/encode.h"
#include "kit/layer_kinds.h"
#include "mend/mend_parts.h"
#include "raster/blur.h"
#include "raster/over.h"
#include "raster/resample.h"
#include "readings/bars.h"

namespace zl {
namespace {

// The middle of `part`, as much of it as has the frame's shape, blurred until nothing in it asks to
// be looked at.
Straight8 blurredGround(const std::shared_ptr<const Straight8>& picture, bool opaque,
                        const RealRect& part, PixelSize frame) {
    const RealRect box = largestInside(part, frame.width, frame.height);
    Straight8 out = rounded8(
        resampled(picture, opaque, box, RealRect::of(frame), PixelRect::of(frame), coreCount()));
    const double sigma = std::max(2.0, std::min(frame.width, frame.height) / 24.0);
    const int rim = static_cast<int>(std::ceil(3 * sigma));
    std::array<Plane, 3> planes;
    for (int c = 0; c < 3; ++c) {
        // The last pixel goes on beyond the frame, else the blur would darken its rim.
        Plane wide({frame.width + 2 * rim, frame.height + 2 * rim});
        for (int y = 0; y < wide.height(); ++y)
            for (int x = 0; x < wide.width(); ++x)
                wide.row(y)[x] = static_cast<float>(
                    out.row(std::clamp(
                        y - rim, 0, frame.height - 1))[std::clamp(x - rim, 0, frame.width - 1)] >>
                        8 * c &
                    255u);
        planes[static_cast<std::size_t>(c)] = blurred(wide, sigma, 0, 0, coreCount());
    }
    for (int y = 0; y < frame.height; ++y)
        for (int x = 0; x < frame.width; ++x) {
            const auto at = [&](std::size_t c) {
                return std::clamp(static_cast<int>(std::lround(planes[c].row(y + rim)[x + rim])), 0,
                                  255);
            };
            out.row(y)[x] = packed(at(0), at(1), at(2), 255);
        }
    return out;
}

// As the file itself is kept; a kind that is not written becomes a PNG.
Result<MendedFile> encodedFine(const Straight8& pixels, Content content) {
    constexpr int fine = 95;
    const Content target =
        factsOf(content).written && content != Content::gif ? content : Content::png;
    auto written = encode(pixels, {target, fine, Chroma::full, Effort::release});
    if (!written) return passOn(written.error());
    return MendedFile{std::move(*written), target};
}

// The layer whose picture shows the bars, and the part of its original between them; nothing when
// there is none.
struct Barred {
    std::size_t layer = 0;
    RealRect part;
};
std::optional<Barred> barredIn(const Piece& piece, const PixelRect& inside) {
    for (std::size_t i = 0; i < piece.layers.size(); ++i) {
        const Layer& layer = piece.layers[i];
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture || !layer.turn.none()) continue;
        constexpr double nearlyAll = 0.98;
        if (picture->place.intersected(RealRect::of(piece.frame)).area() <
            nearlyAll * static_cast<double>(piece.frame.count()))
            continue;
        const double sx = picture->crop.width / picture->place.width,
                     sy = picture->crop.height / picture->place.height;
        const RealRect seen = realOf(inside);
        return Barred{i,
                      {picture->crop.x + (seen.x - picture->place.x) * sx,
                       picture->crop.y + (seen.y - picture->place.y) * sy, seen.width * sx,
                       seen.height * sy}};
    }
    return {};
}

tl::unexpected<Error> noBars() {
    return fail(Code::limitNotMet, "There are no black bars.");
}
tl::unexpected<Error> noPicture() {
    return fail(Code::limitNotMet, "The bars are not in one picture that fills the frame.",
                "Scale the layers by hand.");
}

}  // namespace

// On a piece the picture that shows the bars is cropped; letters and marks over it stay where they
// are.
Result<Kit> cropBarsPiece(const PieceToMend& it) {
    const auto frame = releaseFrame({it.piece, it.kit}, it.store, it.stop);
    if (!frame) return passOn(frame.error());
    const auto inside = insideBars(*frame);
    if (!inside) return noBars();
    const auto barred = barredIn(it.piece, *inside);
    if (!barred) return noPicture();
    Piece out = it.piece;
    PictureLayer* picture = releasedPicture(out.layers[barred->layer]);
    picture->place = RealRect::of(out.frame);
    picture->crop = largestInside(barred->part, out.frame.width, out.frame.height);
    return withChangedPiece(it.kit, std::move(out));
}

Result<MendedFile> cropBarsFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    const auto inside = insideBars(*picture->pixels);
    if (!inside) return noBars();
    const PixelSize frame = brief.frameRule == FrameRule::any
                                ? inside->size()
                                : frameFor(picture->pixels->size(), brief);
    const RealRect box = largestInside(realOf(*inside), frame.width, frame.height);
    const Ink ink = resampled(picture->pixels, picture->opaque, box, RealRect::of(frame),
                              PixelRect::of(frame), coreCount());
    return encodedFine(rounded8(ink), picture->facts.content);
}

Result<Kit> fillBarsPiece(const PieceToMend& it) {
    const auto frame = releaseFrame({it.piece, it.kit}, it.store, it.stop);
    if (!frame) return passOn(frame.error());
    const auto inside = insideBars(*frame);
    if (!inside) return noBars();
    const auto barred = barredIn(it.piece, *inside);
    if (!barred) return noPicture();
    Piece out = it.piece;
    PictureLayer* picture = releasedPicture(out.layers[barred->layer]);
    const Asset* source = it.kit.asset(picture->source);
    if (!source) return noPicture();
    const auto original = it.store.picture(*source);
    if (!original) return passOn(original.error());
    const Straight8 ground =
        blurredGround((*original)->pixels, (*original)->opaque, barred->part, out.frame);
    constexpr int fine = 90;
    auto bytes = encode(ground, {Content::jpeg, fine, Chroma::full, Effort::release});
    if (!bytes) return passOn(bytes.error());
    const Asset made = makeAsset(std::move(*bytes), "blurred-ground.jpg");
    const RealRect place =
        largestInside(RealRect::of(out.frame), barred->part.width, barred->part.height);
    picture->crop = barred->part;
    picture->place = place;
    Layer below;
    below.name = "Blurred ground";
    below.what = fillingFrame(made.sha256, out.frame, out.frame);
    int highest = 0;
    for (const Layer& other : out.layers) highest = std::max(highest, other.id);
    below.id = highest + 1;
    out.layers.insert(out.layers.begin() + static_cast<std::ptrdiff_t>(barred->layer),
                      std::move(below));
    return withChangedPiece(withAsset(it.kit, made), std::move(out));
}

Result<MendedFile> fillBarsFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    const auto inside = insideBars(*picture->pixels);
    if (!inside) return noBars();
    const PixelSize frame = brief.frameRule == FrameRule::any
                                ? picture->pixels->size()
                                : frameFor(picture->pixels->size(), brief);
    const auto ground = std::make_shared<const Straight8>(
        blurredGround(picture->pixels, picture->opaque, realOf(*inside), frame));
    const RealRect all = RealRect::of(frame),
                   place = largestInside(all, inside->width(), inside->height());
    const std::array<Ink, 2> inks{resampled(ground, true, all, all, PixelRect::of(frame)),
                                  resampled(picture->pixels, picture->opaque, realOf(*inside),
                                            place, PixelRect::of(frame), coreCount())};
    Straight8 out(frame);
    blendOver(inks, PixelRect::of(frame), out, coreCount());
    return encodedFine(out, picture->facts.content);
}

}  // namespace zl
