// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/subject_layers.h"

#include <fmt/core.h>

#include <algorithm>

#include "edit/edits.h"
#include "layout/new_layers.h"

namespace zl {
namespace {

// The ground's layer under a subject's, where there is one already.
Layer* groundUnder(Piece& piece, std::size_t subject) {
    const PictureLayer& own = *piece.layers[subject].picture();
    for (std::size_t i = subject; i-- > 0;) {
        PictureLayer* other = piece.layers[i].picture();
        const bool filled = other && other->source == own.source &&
                            std::any_of(other->cuts.begin(), other->cuts.end(), [](const Cut& c) {
                                return c.subject() && c.subject()->part == SubjectPart::filled;
                            });
        if (filled) return &piece.layers[i];
    }
    return nullptr;
}

Layer groundOf(const Layer& subject, const Piece& piece, const GroundWords& words) {
    Layer ground = subject;
    for (const Layer& layer : piece.layers) ground.id = std::max(ground.id, layer.id);
    ++ground.id;
    ground.name = freeName(piece, fmt::format("{} · {}", subject.name, words.ground));
    ground.finishes.clear();
    ground.opacity = 1;
    ground.blend = Blend::normal;
    ground.essential = false;
    ground.twin = 0;
    std::vector<Cut>& cuts = ground.picture()->cuts;
    std::erase_if(cuts, [](const Cut& cut) { return cut.shape() || cut.clean(); });
    for (Cut& cut : cuts)
        if (SubjectCut* its = cut.subject()) {
            its->part = SubjectPart::filled;
            its->keepsShadow = false;
        }
    return ground;
}

void use(PictureLayer& ground, GroundUse how) {
    constexpr double darker = -35, noColour = -100, blurred = 60;  // of the width: a 60th
    const double px = std::clamp(ground.crop.width / blurred, 2.0, 400.0);
    switch (how) {
        case GroundUse::blur:
            std::erase_if(ground.veils, [&](const Veil& veil) {
                return veil.kind == Veil::Kind::blur && veil.region == ground.crop;
            });
            ground.veils.push_back({Veil::Kind::blur, ground.crop, px});
            break;
        case GroundUse::darken:
            ground.tone.brightness = darker;
            break;
        case GroundUse::drain:
            ground.tone.saturation = noColour;
            break;
        case GroundUse::letters:
            break;
    }
}

// The topmost lettering right under the subject; a new one where the piece has none.
void putBetween(Piece& piece, int subjectId, const GroundWords& words, const Brief* brief) {
    auto& layers = piece.layers;
    const auto letters = std::find_if(layers.rbegin(), layers.rend(), [](const Layer& layer) {
        return layer.lettering() && !layer.hidden;
    });
    Layer moved;
    if (letters != layers.rend()) {
        moved = *letters;
        layers.erase(std::next(letters).base());
    } else {
        moved = newLettering(piece, brief, words.text, words.lettering);
        for (const Layer& layer : layers) moved.id = std::max(moved.id, layer.id);
        ++moved.id;
    }
    const auto subject = std::find_if(layers.begin(), layers.end(),
                                      [&](const Layer& layer) { return layer.id == subjectId; });
    layers.insert(subject, std::move(moved));
}

}  // namespace

Result<Kit> withGroundUsed(const Kit& kit, std::string_view pieceId, int layerId, GroundUse how,
                           const GroundWords& words, const Brief* brief) {
    const Piece* found = kit.piece(pieceId);
    const Layer* layer = found ? found->layer(layerId) : nullptr;
    if (!layer || !layer->picture() || !layer->picture()->showsSubject())
        return fail(Code::badUsage, "This layer shows no subject that was cut out.",
                    "Cut the subject out first.");
    Piece piece = *found;
    const auto at =
        static_cast<std::size_t>(std::find_if(piece.layers.begin(), piece.layers.end(),
                                              [&](const Layer& one) { return one.id == layerId; }) -
                                 piece.layers.begin());
    Layer* ground = groundUnder(piece, at);
    if (!ground) {
        const Layer made = groundOf(piece.layers[at], piece, words);
        piece.layers[at].name =
            freeName(piece, fmt::format("{} · {}", piece.layers[at].name, words.subject));
        ground =
            &*piece.layers.insert(piece.layers.begin() + static_cast<std::ptrdiff_t>(at), made);
    }
    use(*ground->picture(), how);
    if (how == GroundUse::letters) putBetween(piece, layerId, words, brief);
    return withChangedPiece(kit, std::move(piece));
}

}  // namespace zl
