// SPDX-License-Identifier: GPL-3.0-or-later
// The mend outline-contrast: an outline that carries lettering, or a mark of one ink over footage.
#include <algorithm>
#include <cmath>

#include "colour/colour.h"
#include "edit/edits.h"
#include "measure/measure.h"
#include "mend/mend_parts.h"
#include "picture/decode.h"
#include "readings/reading.h"

namespace zl {
namespace {

constexpr Colour darkRim{16, 21, 28, 255}, lightRim{255, 246, 227, 255};

double lightness(Colour c) {
    return relativeLuminance(c.red, c.green, c.blue);
}

// Of ink by alpha; white when there is none.
double meanLightness(const Ink& ink) {
    double sum = 0, weight = 0;
    for (int y = 0; y < ink.box.height(); ++y)
        for (int x = 0; x < ink.box.width(); ++x) {
            double v[4];
            for (int c = 0; c < 4; ++c)
                v[c] = ink.eight ? ink.eight->row(y + ink.fromY)[x + ink.fromX] >> 8 * c & 255u
                                 : ink.sixteen->row(c, y)[x] / 257.0;
            sum += relativeLuminance(v[0], v[1], v[2]) * v[3];
            weight += v[3];
        }
    return weight > 0 ? sum / weight : 1;
}

void setOutline(Layer& layer, double least, double fill) {
    Finish* outline = outerOutline(layer.finishes);
    if (!outline) {
        layer.finishes.insert(layer.finishes.begin(), outlineOf(0, darkRim));
        outline = &layer.finishes.front();
    }
    outline->set("px", std::max(outerWidth(*outline), least));
    outline->set("side", 0);
    outline->colour =
        contrastRatio(fill, lightness(darkRim)) >= contrastRatio(fill, lightness(lightRim))
            ? darkRim
            : lightRim;
}

}  // namespace

Result<Kit> outlineContrast(const PieceToMend& it) {
    Piece out = it.piece;
    // Wide enough where it is shown smallest, else it does not count there.
    const double least = outlineThatCounts(sizesShown(it.brief, out.frame).front().scale);
    for (Layer& layer : out.layers) {
        if (layer.hidden || layer.isReference()) continue;
        if (const LetteringLayer* letters = layer.lettering()) {
            const double fill = lightness(letters->colour);
            const Finish* outline = outerOutline(layer.finishes);
            const bool counts = outline && outerWidth(*outline) >= least;
            if (counts &&
                contrastRatio(fill, lightness(outline->colour)) >= thresholds::contrastPass)
                continue;
            // One that is there becomes as wide as was said; a new one is in keeping with the
            // letters.
            setOutline(layer, outline ? least : std::max(least, std::round(letters->size * 0.06)),
                       fill);
        } else if (it.brief.overFootage) {
            // A mark: wide enough to carry the ink within 4 % of its width, and it needs room.
            Layer bare = layer;
            bare.finishes.clear();
            const auto ink = it.store.ink(bare, it.kit, out.frame, it.stop);
            if (!ink) return passOn(ink.error());
            setOutline(layer, std::max(2.0, std::round(0.03 * out.frame.width)),
                       meanLightness(*ink));
        }
    }
    return withChangedPiece(it.kit, std::move(out));
}

// The file as a piece of one picture gets the outline and the room for it, and is drawn again.
Result<MendedFile> outlineFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto facts = readFacts(bytes, name);
    if (!facts) return passOn(facts.error());
    Kit kit;
    const Asset asset = makeAsset({bytes.begin(), bytes.end()}, name);
    kit = withAsset(kit, asset);
    Piece piece;
    piece.id = piece.title = "mark";
    piece.brief = brief.id;
    piece.frame = facts->size;
    Layer layer;
    layer.name = "Mark";
    layer.what = fillingFrame(asset.sha256, facts->size, facts->size);
    piece.layers.push_back(std::move(layer));
    InkStore store;
    auto made = withPiece(kit, std::move(piece));
    for (const auto mend : {outlineContrast, makeRoom})
        if (made) made = mend({*made, made->pieces.front(), brief, store, {}});
    if (!made) return passOn(made.error());
    const auto frame = releaseFrame({made->pieces.front(), *made}, store);
    if (!frame) return passOn(frame.error());
    auto encoded = encodedAgain(*frame, facts->content);
    if (!encoded) return passOn(encoded.error());
    const auto after = readPictureFile(encoded->bytes, name, brief);
    if (!after) return passOn(after.error());
    for (const Reading& reading : after->readings)
        if (reading.id == reading_id::standingOut && reading.verdict > Verdict::pass)
            return fail(Code::limitNotMet,
                        "An outline does not make this mark stand out on all footage.",
                        "Give it a second ink that is far lighter or darker than its first.");
    return encoded;
}

}  // namespace zl
