// SPDX-License-Identifier: GPL-3.0-or-later
// `coverage`: the shares of pixels that are clear, partly covered and opaque. The thresholds are
// ours.
#include <fmt/core.h>

#include "cut/edge_scan.h"
#include "readings/reading.h"

namespace zl {

Reading measureCoverage(const Subject& subject) {
    std::array<long long, 256> counts{};
    for (const std::uint32_t p : subject.pixels->pixels()) ++counts[p >> 24];
    const auto all = static_cast<double>(std::max(1LL, subject.pixels->size().count()));
    long long seeThrough = 0, seen = 0;
    for (std::size_t a = 0; a < counts.size(); ++a) {
        if (a <= 127) seeThrough += counts[a];
        if (a >= static_cast<std::size_t>(edge::leastInk)) seen += counts[a];
    }
    const double clear = static_cast<double>(counts[0]) / all,
                 solid = static_cast<double>(counts[255]) / all, part = 1 - clear - solid;
    Reading reading;
    reading.unit = "share";
    reading.value = static_cast<double>(seeThrough) / all;
    reading.limit = thresholds::leastSeeThrough;
    reading.verdict = Verdict::pass;
    reading.says = {"coverage.shares", {100 * clear, 100 * part, 100 * solid}};
    reading.shown = fmt::format("{:.0f} %", 100 * static_cast<double>(seeThrough) / all);
    reading.shownBeside = "see-through";
    reading.rule = Rule{static_cast<double>(seeThrough) / all, thresholds::leastSeeThrough, 1};
    const bool wanted = subject.brief->alpha == AlphaDemand::seeThrough;
    if (seen == 0) {
        reading.verdict = Verdict::fail;
        reading.says = {"coverage.nothing", {}};
    } else if (wanted && static_cast<double>(seeThrough) < thresholds::leastSeeThrough * all) {
        reading.verdict = Verdict::fail;
        reading.says = {seeThrough == 0 ? "coverage.opaque" : "coverage.as-good-as-opaque", {}};
        if (subject.piece) reading.mends.emplace_back("key-background");
    }
    return reading;
}

}  // namespace zl
