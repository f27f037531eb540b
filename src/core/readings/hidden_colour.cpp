// SPDX-License-Identifier: GPL-3.0-or-later
// `hidden-colour`: what lies under alpha 0 beside the ink, which a careless resize would pull in.
// One flat colour is what every program that draws vectors leaves there, and no leftover.
// Thresholds are ours.
#include <fmt/core.h>

#include "readings/edge_facts.h"

namespace zl {

Reading measureHiddenColour(const Subject& subject) {
    Reading reading;
    reading.unit = "share";
    reading.limit = thresholds::mostHidden;
    if (subject.opaque) {
        reading.says = {"hidden-colour.opaque", {}};
        return reading;
    }
    const HiddenColour hidden = hiddenColourOf(*subject.pixels);
    const double share = hidden.judged > 0
                             ? static_cast<double>(hidden.far) / static_cast<double>(hidden.judged)
                             : 0;
    reading.value = share;
    reading.verdict =
        share > thresholds::mostHidden && !hidden.flat ? Verdict::watch : Verdict::pass;
    reading.shown = fmt::format("{:.0f} %", 100 * share);
    reading.shownBeside = "foreign under the edge";
    reading.rule = Rule{share, thresholds::mostHidden, 1};
    reading.says = {reading.verdict == Verdict::watch ? "hidden-colour.foreign"
                    : share > thresholds::mostHidden  ? "hidden-colour.flat"
                                                      : "hidden-colour.good",
                    {100 * share}};
    if (reading.verdict == Verdict::pass) return reading;
    for (const PixelRect& place : placesOf(hidden.spots, subject.pixels->size(), {}, 4))
        reading.findings.push_back({place, {}, {"hidden-colour.here", {}}});
    if (!subject.piece) reading.mends = {"bleed-colour"};
    return reading;
}

}  // namespace zl
