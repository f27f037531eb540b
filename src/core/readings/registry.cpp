// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <array>

#include "readings/reading.h"

namespace zl {
namespace {

constexpr auto table = std::to_array<ReadingRow>({
    {"frame", false, false, measureFrame},
    {"weight", false, false, measureWeight},
    {"format", false, false, measureFormat},
    {"lettering", true, false, measureLettering},
    {"zones", false, false, measureZones},
    {"stretch", true, false, measureStretch},
    {"enlargement", true, false, measureEnlargement},
    {"black-bars", false, true, measureBlackBars},
    {"profile", false, false, measureProfile},
    {"naming", true, false, measureNaming},
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
        if (row.opaqueBriefsOnly && subject.brief->alpha == AlphaDemand::seeThrough) continue;
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
