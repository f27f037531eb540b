// SPDX-License-Identifier: GPL-3.0-or-later
// crop-bars: what lies between black bars fills the frame, without stretching.
#include "base/parallel.h"
#include "encode/encode.h"
#include "kit/edits.h"
#include "raster/resample.h"
#include "readings/bars.h"
#include "readings/mend_parts.h"

namespace zl {
// On a piece the picture that shows the bars is cropped; letters and marks over it stay where they are.
Result<Kit> cropBarsPiece(const PieceToMend& it) {
    const auto frame = releaseFrame(it.piece, it.kit, it.store, it.stop);
    if (!frame) return passOn(frame.error());
    const auto inside = insideBars(*frame);
    if (!inside) return fail(Code::limitNotMet, "There are no black bars to crop away.");
    Piece out = it.piece;
    for (Layer& layer : out.layers) {
        PictureLayer* picture = layer.picture();
        if (!picture || picture->reference || layer.hidden || !layer.turn.none()) continue;
        constexpr double nearlyAll = 0.98;
        if (picture->place.intersected(RealRect::of(out.frame)).area() < nearlyAll * static_cast<double>(out.frame.count())) continue;
        // The part of the original that is seen between the bars, then the largest of the frame's shape in it.
        const double sx = picture->crop.width / picture->place.width, sy = picture->crop.height / picture->place.height;
        const RealRect seen = realOf(*inside);
        const RealRect part{picture->crop.x + (seen.x - picture->place.x) * sx, picture->crop.y + (seen.y - picture->place.y) * sy,
                            seen.width * sx, seen.height * sy};
        picture->place = RealRect::of(out.frame);
        picture->crop = largestInside(part, out.frame.width, out.frame.height);
        return withChangedPiece(it.kit, std::move(out));
    }
    return fail(Code::limitNotMet, "The bars are not in one picture that fills the frame.", "Scale the layers by hand.");
}

Result<MendedFile> cropBarsFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    const auto inside = insideBars(*picture->pixels);
    if (!inside) return fail(Code::limitNotMet, "There are no black bars to crop away.");
    const PixelSize frame = brief.frameRule == FrameRule::any ? inside->size() : frameFor(picture->pixels->size(), brief);
    const RealRect box = largestInside(realOf(*inside), frame.width, frame.height);
    const Ink ink = resampled(picture->pixels, picture->opaque, box, RealRect::of(frame), PixelRect::of(frame), coreCount());
    constexpr int fine = 95;
    const Content content =
        factsOf(picture->facts.content).written && picture->facts.content != Content::gif ? picture->facts.content : Content::png;
    auto written = encode(rounded8(ink), {content, fine, Chroma::full, Effort::release});
    if (!written) return passOn(written.error());
    return MendedFile{std::move(*written), content};
}

}  // namespace zl
