// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/edge_facts.h"

#include <algorithm>
#include <map>

#include "base/parallel.h"

namespace zl {

EdgeFacts edgeFactsOf(std::shared_ptr<const Straight8> ink, int threads) {
    EdgeFacts facts;
    // Dirt on one thread, edges on another.
    overRows(2, 1, threads, [&](int first, int) {
        if (first == 0) {
            facts.dirt = dirtOf(*ink);
            return;
        }
        facts.pixels = edgePixelsOf(*ink);
        facts.steps = stepsOf(*ink, facts.pixels);
        facts.fringe = fringeOf(*ink, facts.pixels);
    });
    facts.ink = std::move(ink);
    return facts;
}

std::vector<JudgedEdge> judgedEdges(const Subject& subject) {
    std::vector<JudgedEdge> all;
    if (subject.edges) all.push_back({subject.edges.get(), {}, {}});
    for (const LayerFacts& layer : subject.layers)
        if (layer.edges)
            all.push_back({layer.edges.get(),
                           {static_cast<int>(layer.edgesAt.x), static_cast<int>(layer.edgesAt.y)},
                           layer.layer,
                           layer.rimMeant});
    return all;
}

bool leftAlone(const JudgedEdge& edge) {
    return edge.rimMeant && edge.facts->fringe.unsure;
}

std::vector<PixelRect> placesOf(const std::vector<Spot>& spots, PixelSize ink, Spot at,
                                std::size_t most) {
    // Cells of a tenth of the ink's longer side.
    const int cell = std::max(16, std::max(ink.width, ink.height) / 10);
    struct Place {
        PixelRect box;
        int count = 0;
    };
    std::map<std::pair<int, int>, Place> cells;
    for (const Spot& s : spots) {
        Place& place = cells[{s.y / cell, s.x / cell}];
        place.box = place.box.united({s.x, s.y, s.x + 1, s.y + 1});
        ++place.count;
    }
    std::vector<Place> places;
    for (const auto& [key, place] : cells) places.push_back(place);
    std::stable_sort(places.begin(), places.end(),
                     [](const Place& a, const Place& b) { return a.count > b.count; });
    std::vector<PixelRect> out;
    for (const Place& place : places)
        if (out.size() < most) out.push_back(place.box.moved(at.x, at.y));
    return out;
}

std::vector<EdgeMark> edgeMarksOf(const Subject& subject) {
    std::vector<EdgeMark> all;
    for (const JudgedEdge& edge : judgedEdges(subject)) {
        const EdgeFacts& facts = *edge.facts;
        const auto add = [&](EdgeFault fault, const Spot& s) {
            all.push_back({fault, {s.x + edge.at.x, s.y + edge.at.y}});
        };
        for (const Spot& s : facts.dirt.haze) add(EdgeFault::haze, s);
        for (const Spot& s : facts.steps.stepped) add(EdgeFault::stepped, s);
        if (!leftAlone(edge))
            for (const Spot& s : facts.fringe.spots) add(EdgeFault::fringed, s);
        for (const auto& piece : facts.dirt.specks)
            for (const Spot& s : piece.pixels) add(EdgeFault::speck, s);
        for (const auto& piece : facts.dirt.pinholes)
            for (const Spot& s : piece.pixels) add(EdgeFault::pinhole, s);
    }
    if (subject.brief->clearRim)
        for (const Finding& finding : measureCutOff(subject).findings)
            if (finding.rect)
                for (int y = finding.rect->top; y < finding.rect->bottom; ++y)
                    for (int x = finding.rect->left; x < finding.rect->right; ++x)
                        all.push_back({EdgeFault::cutOff, {x, y}});
    return all;
}

Colour colourOf(EdgeFault fault) {
    switch (fault) {
        case EdgeFault::stepped:
            return {0xE5, 0xB0, 0x4B, 255};
        case EdgeFault::fringed:
            return {0xEE, 0x7B, 0x6B, 255};
        case EdgeFault::speck:
            return {0xC0, 0x7A, 0xD8, 255};
        case EdgeFault::pinhole:
            return {0x7A, 0x9B, 0xE8, 255};
        case EdgeFault::haze:
            return {0x5F, 0xB8, 0xC9, 255};
        case EdgeFault::cutOff:
            return {0xFF, 0x5A, 0x36, 255};
    }
    return {};
}

Straight8 edgeMapOf(const Straight8& frame, const std::vector<EdgeMark>& marks) {
    Straight8 out(frame.size());
    constexpr int ground = 0x2A, lightest = 0x6E;
    const std::uint32_t edgeColour = packed(0x79, 0xBE, 0x95, 255);
    for (int y = 0; y < frame.height(); ++y)
        for (int x = 0; x < frame.width(); ++x) {
            const int a = alphaOf(frame.row(y)[x]), grey = ground + (lightest - ground) * a / 255;
            out.row(y)[x] = packed(grey, grey + (a == 255 ? 0 : 4), grey + (a == 255 ? 0 : 8), 255);
        }
    for (const Spot& s : edgePixelsOf(frame).boundary) out.row(s.y)[s.x] = edgeColour;
    for (const EdgeMark& mark : marks) {
        const Colour c = colourOf(mark.fault);
        if (mark.at.x >= 0 && mark.at.y >= 0 && mark.at.x < out.width() && mark.at.y < out.height())
            out.row(mark.at.y)[mark.at.x] = packed(c.red, c.green, c.blue, 255);
    }
    return out;
}

std::string colourWords(Colour c) {
    const int most = std::max({c.red, c.green, c.blue}), least = std::min({c.red, c.green, c.blue});
    if (least >= 235) return "white";
    if (most <= 24) return "black";
    if (most - least <= 20) return "grey";
    struct Hue {
        const char* name;
        int r, g, b;  // 1: near the most, 0: near the least
    };
    constexpr std::array<Hue, 6> hues{{{"red", 1, 0, 0},
                                       {"yellow", 1, 1, 0},
                                       {"green", 0, 1, 0},
                                       {"cyan", 0, 1, 1},
                                       {"blue", 0, 0, 1},
                                       {"magenta", 1, 0, 1}}};
    const int middle = (most + least) / 2;
    for (const Hue& hue : hues)
        if ((c.red > middle) == (hue.r == 1) && (c.green > middle) == (hue.g == 1) &&
            (c.blue > middle) == (hue.b == 1))
            return hue.name;
    return nameOf(c);
}

}  // namespace zl
