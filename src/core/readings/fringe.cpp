// SPDX-License-Identifier: GPL-3.0-or-later
// `fringe`: matte left in the edge, as a difference the eye meets: the 90th percentile over the
// edge of the largest CIEDE2000 on white, black and mid grey between a pixel and its clean colour
// (Porter and Duff 1984 for over; thresholds ours). cut/fringe.cpp measures.
#include <fmt/core.h>

#include "readings/edge_facts.h"

namespace zl {

Reading measureFringe(const Subject& subject) {
    Reading reading;
    reading.unit = "ΔE00";
    reading.limit = thresholds::fringePass;
    const JudgedEdge* worst = nullptr;
    bool anyLeft = false;
    const auto edges = judgedEdges(subject);
    for (const JudgedEdge& edge : edges) {
        if (!edge.facts->fringe.told) continue;
        if (leftAlone(edge)) {
            anyLeft = true;
            continue;
        }
        if (!worst || edge.facts->fringe.damage > worst->facts->fringe.damage) worst = &edge;
        if (edge.facts->fringe.damage <= thresholds::fringePass) continue;
        const Fringe& fringe = edge.facts->fringe;
        const std::string rim = colourWords(fringe.matte);
        for (const PixelRect& place : placesOf(fringe.spots, edge.facts->ink->size(), edge.at))
            reading.findings.push_back({place, edge.layer, {"fringe.here", {rim}}});
    }
    if (!worst && anyLeft) {
        reading.verdict = Verdict::pass;
        reading.value = 0.0;
        reading.shown = "left";
        reading.shownBeside = "as it is";
        reading.says = {"fringe.left", {}};
        return reading;
    }
    if (!worst) {
        reading.says = {edges.empty() ? "fringe.no-edge" : "fringe.cannot-tell", {}};
        return reading;
    }
    const Fringe& fringe = worst->facts->fringe;
    reading.value = fringe.damage;
    reading.verdict = fringe.damage <= thresholds::fringePass                     ? Verdict::pass
                      : fringe.damage <= thresholds::fringeWatch || fringe.unsure ? Verdict::watch
                                                                                  : Verdict::fail;
    reading.shown = fmt::format("{:.1f}", fringe.damage);
    reading.shownBeside = "ΔE at the edge";
    reading.rule = Rule{fringe.damage, thresholds::fringePass, 20};
    if (reading.verdict == Verdict::pass) {
        reading.says = {"fringe.clean", {}};
        return reading;
    }
    if (fringe.premultiplied) {
        reading.says = {"fringe.premultiplied", {}};
        reading.mends = {"to-straight"};
        return reading;
    }
    if (fringe.unsure) {
        reading.says = {"fringe.unsure", {colourWords(fringe.matte), 100 * fringe.share}};
        reading.mends = {"take-fringe-off"};
        if (subject.piece) reading.mends.emplace_back("leave-rim");
        return reading;
    }
    reading.says = {fringe.hardEdge ? "fringe.hard" : "fringe.rim",
                    {colourWords(fringe.matte), 100 * fringe.share, 100 * fringe.strength}};
    reading.mends = {"take-fringe-off"};
    return reading;
}

}  // namespace zl
