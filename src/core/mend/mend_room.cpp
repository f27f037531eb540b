// SPDX-License-Identifier: GPL-3.0-or-later
// Mends of how the ink stands in its frame: make-room, trim, centre.
#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "edit/edits.h"
#include "mend/mend_parts.h"
#include "raster/ink_box.h"
#include "raster/resample.h"
#include "readings/reading.h"

namespace zl {
namespace {

void place(Piece& piece, double factor, const RealPoint& from, const RealPoint& to) {
    for (Layer& layer : piece.layers)
        layer = moved(scaled(layer, factor, factor, from), to.x - from.x, to.y - from.y);
}

RealPoint middle(const PixelRect& r) {
    return {(r.left + r.right) / 2.0, (r.top + r.bottom) / 2.0};
}

// All layers alike, so that the ink with `rim` px round it fills the frame as far as its shape
// allows. Finishes grow by whole px, so what comes out is looked at again.
Result<Kit> filled(const PieceToMend& it, double rim, bool mayGrow) {
    Piece out = it.piece;
    const RealPoint centre{out.frame.width / 2.0, out.frame.height / 2.0};
    for (int i = 0; i < 6; ++i) {
        const auto box = inkBounds({out, it.kit}, it.store, it.stop);
        if (!box) return passOn(box.error());
        const double factor = std::min((out.frame.width - 2 * rim) / box->width(),
                                       (out.frame.height - 2 * rim) / box->height());
        const bool inside = box->left >= 0 && box->top >= 0 && box->right <= out.frame.width &&
                            box->bottom <= out.frame.height;
        if (i > 0 && inside && std::abs(factor - 1) < 0.01) break;
        // A whisker less each time it turned out too large.
        place(out, std::min(factor, mayGrow && i < 4 ? 100.0 : 0.999), middle(*box), centre);
    }
    return withChangedPiece(it.kit, std::move(out));
}

}  // namespace

Result<Kit> makeRoom(const PieceToMend& it) {
    return filled(it, 2, false);
}

Result<Kit> trimPiece(const PieceToMend& it) {
    return filled(
        it, std::max(1.0, std::round(0.02 * std::min(it.piece.frame.width, it.piece.frame.height))),
        true);
}

Result<Kit> centrePiece(const PieceToMend& it) {
    Piece out = it.piece;
    const auto frame = releaseFrame({out, it.kit}, it.store, it.stop);
    if (!frame) return passOn(frame.error());
    const auto box = inkBoxOf(*frame, thresholds::marginAlpha);
    if (!box) return fail(Code::limitNotMet, "There is no ink in this piece.");
    const RealPoint from = middle(*box);
    // Whole px: what is sharp stays sharp.
    const double dx = std::round(out.frame.width / 2.0 - from.x),
                 dy = std::round(out.frame.height / 2.0 - from.y);
    for (Layer& layer : out.layers) layer = moved(layer, dx, dy);
    return withChangedPiece(it.kit, std::move(out));
}

Straight8 trimmedInto(const Picture& picture, PixelSize frame, double rim) {
    const auto box = inkBoxOf(*picture.pixels, thresholds::marginAlpha);
    if (!box) return picture.pixels->clone();
    const RealRect part{static_cast<double>(box->left), static_cast<double>(box->top),
                        static_cast<double>(box->width()), static_cast<double>(box->height())};
    const RealRect inner{rim, rim, frame.width - 2 * rim, frame.height - 2 * rim};
    RealRect to = largestInside(inner, part.width, part.height);
    to = {std::round(to.x), std::round(to.y), std::max(1.0, std::round(to.width)),
          std::max(1.0, std::round(to.height))};
    const Ink ink =
        resampled(picture.pixels, picture.opaque, part, to, PixelRect::of(frame), coreCount());
    Straight8 out(frame);
    blendOver({&ink, 1}, PixelRect::of(frame), out, coreCount());
    return out;
}

Straight8 centredInk(const Picture& picture) {
    const Straight8& p = *picture.pixels;
    const auto box = inkBoxOf(p, thresholds::marginAlpha);
    Straight8 out = Straight8::cleared(p.size());
    if (!box) return p.clone();
    const int dx = static_cast<int>(std::lround(p.width() / 2.0 - middle(*box).x)),
              dy = static_cast<int>(std::lround(p.height() / 2.0 - middle(*box).y));
    for (int y = 0; y < p.height(); ++y)
        for (int x = 0; x < p.width(); ++x)
            if (const int tx = x + dx, ty = y + dy;
                tx >= 0 && ty >= 0 && tx < p.width() && ty < p.height())
                out.row(ty)[tx] = p.row(y)[x];
    return out;
}

}  // namespace zl
