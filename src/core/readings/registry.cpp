// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <array>
#include <optional>

#include "readings/moving.h"

namespace zl {
namespace {

constexpr auto table = std::to_array<ReadingRow>({
    {reading_id::frame, false, ForBriefs::all, false, measureFrame},
    {reading_id::weight, false, ForBriefs::all, true, measureWeight},
    {reading_id::format, false, ForBriefs::all, true, measureFormat},
    {"length", true, ForBriefs::moving, false, measureLength},
    {"coverage", false, ForBriefs::alpha, false, measureCoverage},
    {"lettering", true, ForBriefs::all, false, measureLettering},
    {"zones", false, ForBriefs::all, false, measureZones},
    {"fringe", false, ForBriefs::edges, false, measureFringe},
    {"steps", false, ForBriefs::edges, false, measureSteps},
    {"specks", false, ForBriefs::edges, false, measureSpecks},
    {reading_id::standingOut, false, ForBriefs::overFootage, false, measureStandingOut},
    {"cut-off", false, ForBriefs::clearRim, false, measureCutOff},
    {"margins", false, ForBriefs::clearRim, false, measureMargins},
    {"colours", false, ForBriefs::overFootage, false, measureColours},
    {"stretch", true, ForBriefs::all, false, measureStretch},
    {"enlargement", true, ForBriefs::all, false, measureEnlargement},
    {"black-bars", false, ForBriefs::opaque, false, measureBlackBars},
    {"from-video", true, ForBriefs::ofVideos, false, measureFromVideo},
    {"hidden-colour", false, ForBriefs::alpha, false, measureHiddenColour},
    {"profile", false, ForBriefs::all, true, measureProfile},
    {"links", true, ForBriefs::links, false, measureLinks},
    {"naming", true, ForBriefs::all, true, measureNaming},
});

bool applies(const ReadingRow& row, const Subject& subject) {
    if (row.needsLayers && !subject.piece) return false;
    const bool alpha = subject.brief->alpha == AlphaDemand::seeThrough || !subject.opaque;
    switch (row.briefs) {
        case ForBriefs::all:
            return true;
        case ForBriefs::moving:
            return moves(*subject.piece);
        case ForBriefs::opaque:
            return subject.brief->alpha != AlphaDemand::seeThrough;
        case ForBriefs::overFootage:
            return subject.brief->overFootage;
        case ForBriefs::clearRim:
            return subject.brief->clearRim;
        case ForBriefs::links:
            return subject.brief->takesLinks || !subject.piece->links.empty();
        case ForBriefs::ofVideos:
            return subject.piece->video ||
                   std::any_of(subject.brief->surfaces.begin(), subject.brief->surfaces.end(),
                               [](const SurfaceSpec& surface) { return surface.badge; });
        case ForBriefs::alpha:
            return alpha;
        case ForBriefs::edges:
            return alpha || std::any_of(subject.layers.begin(), subject.layers.end(),
                                        [](const LayerFacts& l) { return l.edges != nullptr; });
    }
    return false;
}

}  // namespace

std::span<const ReadingRow> allReadings() {
    return table;
}

std::string_view nameOf(Verdict verdict) {
    constexpr std::array<std::string_view, 4> names{"n/a", "pass", "watch", "fail"};
    return names[static_cast<std::size_t>(verdict)];
}

std::vector<Reading> measureAll(const Subject& subject, const std::function<void()>& weighed) {
    std::array<std::optional<Reading>, table.size()> found;
    for (const bool ofFile : {false, true}) {
        if (ofFile && weighed) weighed();
        for (std::size_t i = 0; i < table.size(); ++i)
            if (table[i].ofFile == ofFile && applies(table[i], subject)) {
                found[i] = table[i].measure(subject);
                found[i]->id = table[i].id;
            }
    }
    std::vector<Reading> readings;
    for (std::optional<Reading>& one : found)
        if (one) readings.push_back(std::move(*one));
    return readings;
}

std::vector<Reading> measureEdges(const Subject& subject) {
    std::vector<Reading> readings;
    for (const ReadingRow& row : table) {
        if (row.briefs != ForBriefs::alpha && row.briefs != ForBriefs::edges) continue;
        readings.push_back(row.measure(subject));
        readings.back().id = row.id;
    }
    return readings;
}

Verdict worstOf(std::span<const Reading> readings) {
    Verdict worst = Verdict::notMeasured;
    for (const Reading& reading : readings) worst = std::max(worst, reading.verdict);
    return worst;
}

}  // namespace zl
