// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <array>

#include "readings/reading.h"

namespace zl {
namespace {

constexpr auto table = std::to_array<ReadingRow>({
    {"frame", false, ForBriefs::all, measureFrame},
    {"weight", false, ForBriefs::all, measureWeight},
    {"format", false, ForBriefs::all, measureFormat},
    {"coverage", false, ForBriefs::alpha, measureCoverage},
    {"lettering", true, ForBriefs::all, measureLettering},
    {"zones", false, ForBriefs::all, measureZones},
    {"fringe", false, ForBriefs::edges, measureFringe},
    {"steps", false, ForBriefs::edges, measureSteps},
    {"specks", false, ForBriefs::edges, measureSpecks},
    {"standing-out", false, ForBriefs::freeStanding, measureStandingOut},
    {"cut-off", false, ForBriefs::freeStanding, measureCutOff},
    {"margins", false, ForBriefs::freeStanding, measureMargins},
    {"colours", false, ForBriefs::freeStanding, measureColours},
    {"stretch", true, ForBriefs::all, measureStretch},
    {"enlargement", true, ForBriefs::all, measureEnlargement},
    {"black-bars", false, ForBriefs::opaque, measureBlackBars},
    {"hidden-colour", false, ForBriefs::alpha, measureHiddenColour},
    {"profile", false, ForBriefs::all, measureProfile},
    {"links", true, ForBriefs::links, measureLinks},
    {"naming", true, ForBriefs::all, measureNaming},
});

}  // namespace

std::span<const ReadingRow> allReadings() {
    return table;
}

std::string_view nameOf(Verdict verdict) {
    constexpr std::array<std::string_view, 4> names{"n/a", "pass", "watch", "fail"};
    return names[static_cast<std::size_t>(verdict)];
}

std::vector<Reading> measureAll(const Subject& subject) {
    std::vector<Reading> readings;
    for (const ReadingRow& row : table) {
        if (row.needsLayers && !subject.piece) continue;
        if (row.briefs == ForBriefs::opaque && subject.brief->alpha == AlphaDemand::seeThrough) continue;
        if (row.briefs == ForBriefs::freeStanding && !subject.brief->freeStanding) continue;
        if (row.briefs == ForBriefs::links && !subject.brief->takesLinks && subject.piece->links.empty()) continue;
        const bool alpha = subject.brief->alpha == AlphaDemand::seeThrough || !subject.opaque;
        if (row.briefs == ForBriefs::alpha && !alpha) continue;
        if (row.briefs == ForBriefs::edges && !alpha &&
            std::none_of(subject.layers.begin(), subject.layers.end(), [](const LayerFacts& layer) { return layer.edges != nullptr; }))
            continue;
        readings.push_back(row.measure(subject));
        readings.back().id = row.id;
    }
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
