// SPDX-License-Identifier: GPL-3.0-or-later
// Mends of edges. On a piece each is a cut on the picture layers that have the fault, so that it
// can be switched off; on a file it is done to the pixels.
#include <fmt/core.h>

#include <cmath>

#include "base/parallel.h"
#include "cut/clean.h"
#include "cut/cut.h"
#include "edit/edits.h"
#include "encode/encode.h"
#include "kit/layer_kinds.h"
#include "mend/mend_parts.h"
#include "raster/bleed.h"
#include "raster/resample.h"
#include "readings/edge_facts.h"
#include "words/words.h"

namespace zl {
namespace {

bool hasFault(const EdgeFacts& facts, Cleaning what) {
    switch (what) {
        case Cleaning::fringe:
        case Cleaning::premultiplied:
            return facts.fringe.told && facts.fringe.damage > thresholds::fringePass &&
                   (what == Cleaning::fringe || facts.fringe.premultiplied);
        case Cleaning::steps:
            return facts.steps.judged >= thresholds::stepsLeast &&
                   facts.steps.share() > thresholds::stepsPass;
        case Cleaning::specks:
            return !facts.dirt.specks.empty();
        case Cleaning::pinholes:
            return !facts.dirt.pinholes.empty();
        case Cleaning::haze:
            return !facts.dirt.haze.empty();
    }
    return false;
}

Result<Kit> cleanLayers(const PieceToMend& it, Cleaning what) {
    Piece out = it.piece;
    bool any = false;
    for (Layer& layer : out.layers) {
        PictureLayer* picture = releasedPicture(layer);
        if (!picture || layer.opacity <= 0) continue;
        Layer bare = layer;
        bare.finishes.clear();
        const auto ink = it.store.ink(bare, it.kit, out.frame, it.stop);
        if (!ink) return passOn(ink.error());
        if (ink->opaque || ink->box.empty()) continue;
        const EdgeFacts facts =
            edgeFactsOf(std::make_shared<const Straight8>(rounded8(*ink)), coreCount());
        if (!hasFault(facts, what)) continue;
        // Seen in the frame, done in the original: small is told in px of the frame.
        const double scale =
            std::sqrt(picture->crop.area() / std::max(1e-9, picture->place.area()));
        picture->cuts.push_back({CleanCut{what, std::clamp(scale, 0.01, 100.0)}});
        any = true;
    }
    if (!any)
        return fail(Code::limitNotMet, "No picture layer has this fault by itself.",
                    "Look at the layers' finishes.");
    return withChangedPiece(it.kit, std::move(out));
}

Result<MendedFile> pngOf(const Straight8& pixels) {
    Straight8 bled = pixels.clone();
    if (!isOpaque(bled)) bleedColour(bled);
    Encoding plain;
    plain.reduced = false;
    auto bytes = encode(bled, plain);
    if (!bytes) return passOn(bytes.error());
    return MendedFile{std::move(*bytes), Content::png};
}

Result<MendedFile> cleanFile(ByteView bytes, const std::string& name, Cleaning what) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    return pngOf(cleaned(*picture->pixels, {what, 1}, coreCount()));
}

}  // namespace

template <Cleaning what>
Result<Kit> cleanPiece(const PieceToMend& it) {
    return cleanLayers(it, what);
}
template <Cleaning what>
Result<MendedFile> cleanedFile(ByteView bytes, const std::string& name, const Brief&) {
    return cleanFile(bytes, name, what);
}
#define ZL_CLEANING(what)                                      \
    template Result<Kit> cleanPiece<what>(const PieceToMend&); \
    template Result<MendedFile> cleanedFile<what>(ByteView, const std::string&, const Brief&)
ZL_CLEANING(Cleaning::fringe);
ZL_CLEANING(Cleaning::steps);
ZL_CLEANING(Cleaning::specks);
ZL_CLEANING(Cleaning::pinholes);
ZL_CLEANING(Cleaning::haze);
ZL_CLEANING(Cleaning::premultiplied);
#undef ZL_CLEANING

// The person's word that dark rims are the pictures' design; remembered for each layer that has
// one.
Result<Kit> leaveRim(const PieceToMend& it) {
    Piece out = it.piece;
    bool any = false;
    for (Layer& layer : out.layers) {
        if (!releasedPicture(layer) || layer.rimMeant) continue;
        Layer bare = layer;
        bare.finishes.clear();
        const auto ink = it.store.ink(bare, it.kit, out.frame, it.stop);
        if (!ink) return passOn(ink.error());
        if (ink->opaque || ink->box.empty()) continue;
        const EdgeFacts facts =
            edgeFactsOf(std::make_shared<const Straight8>(rounded8(*ink)), coreCount());
        if (!facts.fringe.told || !facts.fringe.unsure) continue;
        layer.rimMeant = true;
        any = true;
    }
    if (!any) return fail(Code::limitNotMet, "No layer has a dark rim that could be meant.");
    return withChangedPiece(it.kit, std::move(out));
}

Result<MendedFile> bleedFile(ByteView bytes, const std::string& name, const Brief&) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    return pngOf(*picture->pixels);
}

// The lowest picture that hides the ground: its flat background goes.
Result<Kit> keyBackground(const PieceToMend& it) {
    Piece out = it.piece;
    std::string trouble = "There is no picture that hides the ground.";
    for (Layer& layer : out.layers) {
        PictureLayer* picture = releasedPicture(layer);
        const Asset* asset = picture ? it.kit.asset(picture->source) : nullptr;
        if (!asset) continue;
        const auto original = it.store.picture(*asset);
        if (!original) return passOn(original.error());
        if (!(*original)->opaque) continue;
        picture->cuts.insert(picture->cuts.begin(), Cut{KeyCut{}});
        const auto report = it.store.keyReport(*asset, picture->cuts, 0);
        if (!report) return passOn(report.error());
        if (report->trouble) {
            trouble = english(*report->trouble);
            picture->cuts.erase(picture->cuts.begin());
            continue;
        }
        // What covered the background is gone with it: a format with alpha is needed to say so.
        if (out.release.format != FormatChoice::best && it.brief.alpha == AlphaDemand::seeThrough) {
            out.release.format = FormatChoice::best;
            out.release.matte.reset();
        }
        return withChangedPiece(it.kit, std::move(out));
    }
    return fail(Code::limitNotMet, trouble);
}

}  // namespace zl
