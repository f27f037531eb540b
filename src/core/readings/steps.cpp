// SPDX-License-Identifier: GPL-3.0-or-later
// `steps`: stair-stepped edges, as a share of the contour that runs straight and slanted. Corners
// and upright edges do not count. Thresholds are ours; cut/edge_scan.cpp measures.
#include <fmt/core.h>

#include "readings/edge_facts.h"

namespace zl {

Reading measureSteps(const Subject& subject) {
    Reading reading;
    reading.unit = "share";
    reading.limit = thresholds::stepsPass;
    double worst = -1;
    const auto edges = judgedEdges(subject);
    for (const JudgedEdge& edge : edges) {
        const Steps& steps = edge.facts->steps;
        if (steps.judged < thresholds::stepsLeast) continue;
        worst = std::max(worst, steps.share());
        if (steps.share() <= thresholds::stepsPass) continue;
        for (const PixelRect& place : placesOf(steps.stepped, edge.facts->ink->size(), edge.at))
            reading.findings.push_back({place, edge.layer, {"steps.here", {}}});
    }
    if (worst < 0) {
        reading.says = {edges.empty() ? "steps.no-edge" : "steps.no-slant", {}};
        return reading;
    }
    reading.value = worst;
    reading.verdict = worst <= thresholds::stepsPass    ? Verdict::pass
                      : worst <= thresholds::stepsWatch ? Verdict::watch
                                                        : Verdict::fail;
    reading.shown = fmt::format("{:.0f} %", 100 * worst);
    reading.shownBeside = "of the slants stepped";
    reading.rule = Rule{worst, thresholds::stepsPass, 1};
    reading.says = {reading.verdict == Verdict::pass ? "steps.smooth" : "steps.stepped",
                    {100 * worst}};
    if (reading.verdict != Verdict::pass) reading.mends = {"soften-steps"};
    return reading;
}

}  // namespace zl
