// SPDX-License-Identifier: GPL-3.0-or-later
// `specks`: dirt beside the ink, pinholes in it, haze far from it. Sizes are ours; cut/dirt.cpp
// finds them.
#include <fmt/core.h>

#include "readings/edge_facts.h"

namespace zl {

Reading measureSpecks(const Subject& subject) {
    Reading reading;
    reading.unit = "specks";
    reading.limit = 0.0;
    std::size_t specks = 0, pinholes = 0;
    double haze = 0;
    const auto edges = judgedEdges(subject);
    for (const JudgedEdge& edge : edges) {
        const Dirt& dirt = edge.facts->dirt;
        specks += dirt.specks.size();
        pinholes += dirt.pinholes.size();
        haze = std::max(haze, dirt.hazeShare);
        const auto tell = [&](const std::vector<Dirt::Piece>& pieces, const char* what) {
            constexpr std::size_t most = 12;
            for (const Dirt::Piece& piece : pieces)
                if (reading.findings.size() < most)
                    reading.findings.push_back(
                        {piece.box.moved(edge.at.x, edge.at.y),
                         edge.layer,
                         {what, {static_cast<long long>(piece.pixels.size())}}});
        };
        tell(dirt.specks, "specks.speck");
        tell(dirt.pinholes, "specks.pinhole");
        for (const PixelRect& place : placesOf(dirt.haze, edge.facts->ink->size(), edge.at, 3))
            reading.findings.push_back({place, edge.layer, {"specks.haze", {}}});
    }
    if (edges.empty()) {
        reading.says = {"specks.no-alpha", {}};
        return reading;
    }
    const std::size_t all = specks + pinholes;
    reading.value = static_cast<double>(all);
    reading.verdict = all == 0 && haze <= 0 ? Verdict::pass
                      : all > thresholds::mostSpecks || haze > thresholds::mostHaze
                          ? Verdict::fail
                          : Verdict::watch;
    reading.shown = fmt::format("{}", all);
    reading.shownBeside = haze > 0 ? "and haze" : all == 1 ? "speck" : "specks";
    reading.rule = Rule{static_cast<double>(all), 0, static_cast<double>(thresholds::mostSpecks)};
    reading.says = reading.verdict == Verdict::pass
                       ? Message{"specks.none", {}}
                       : Message{haze > 0        ? "specks.all"
                                 : pinholes == 0 ? "specks.some"
                                 : specks == 0   ? "specks.holes"
                                                 : "specks.both",
                                 {static_cast<long long>(specks), static_cast<long long>(pinholes),
                                  100 * haze}};
    if (specks > 0) reading.mends.emplace_back("remove-specks");
    if (pinholes > 0) reading.mends.emplace_back("fill-pinholes");
    if (haze > 0) reading.mends.emplace_back("clear-haze");
    return reading;
}

}  // namespace zl
