// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/surface_notes.h"

#include <algorithm>

#include "readings/zones.h"

namespace zl {
namespace {

// Whether the surface shows what the zone stands for.
bool liesOn(const Zone& zone, const SurfaceSpec& surface) {
    if (zone.role == ZoneRole::visible) return zone.id == surface.zone;
    if (!zone.surfaces.empty())
        return std::find(zone.surfaces.begin(), zone.surfaces.end(), surface.id) !=
               zone.surfaces.end();
    if (surface.kind == SurfaceKind::programme || surface.kind == SurfaceKind::story) return true;
    return (zone.id == "duration-badge" && surface.badge) ||
           (zone.id == "progress-line" && surface.progress);
}

}  // namespace

std::vector<SurfaceNote> noteSurfaces(const Subject& subject) {
    std::vector<SurfaceNote> notes;
    const Piece& piece = *subject.piece;
    // What each zone takes of each essential layer, once for all surfaces.
    std::vector<RealRect> places;
    for (const Zone& zone : subject.brief->zones) places.push_back(inFrame(zone, piece.frame));
    std::vector<std::vector<double>> shares(piece.layers.size());
    for (std::size_t i = 0; i < piece.layers.size(); ++i)
        if (const auto& ink = subject.layers[i].ink;
            ink && !ink->box.empty() && isEssential(piece.layers[i], piece.frame))
            shares[i] = sharesWithin(*ink, places, subject.layers[i].sum);
    for (const SurfaceSpec& surface : subject.brief->surfaces) {
        const double scale = subject.brief->scaleOn(surface, piece.frame);
        if (scale <= 0) continue;
        SurfaceNote note{surface.id, Verdict::pass, {"note.clear", {}}, {"note.no-letters", {}}};
        double most = 1 - thresholds::zonesPass, smallest = 1e9;
        for (std::size_t i = 0; i < piece.layers.size(); ++i) {
            const Layer& layer = piece.layers[i];
            const LayerFacts& facts = subject.layers[i];
            if (!facts.ink || facts.ink->box.empty() || layer.isReference()) continue;
            for (std::size_t z = 0; z < shares[i].size(); ++z) {
                const Zone& zone = subject.brief->zones[z];
                // What is covered, or what the device does not show.
                const bool shows = zone.role == ZoneRole::visible;
                const double share = shows ? 1 - shares[i][z] : shares[i][z];
                if (zone.role == ZoneRole::keepInside || share <= most || !liesOn(zone, surface))
                    continue;
                most = share;
                note.covered = {shows ? "note.lost" : "note.covered",
                                {zone.title, share * 100, layer.name}};
                note.verdict =
                    std::max(note.verdict, zone.atMostWatch || share < 1 - thresholds::zonesWatch
                                               ? Verdict::watch
                                               : Verdict::fail);
            }
            if (facts.fill) smallest = std::min(smallest, facts.capHeight * scale);
        }
        if (smallest < 1e9) {
            note.letters = {"note.letters", {told(smallest)}};
            note.verdict =
                std::max(note.verdict, smallest >= thresholds::capsPass    ? Verdict::pass
                                       : smallest >= thresholds::capsWatch ? Verdict::watch
                                                                           : Verdict::fail);
        }
        notes.push_back(std::move(note));
    }
    return notes;
}

}  // namespace zl
