// SPDX-License-Identifier: GPL-3.0-or-later
// The edge of one ink, measured once for all readings of edges, and for the map that shows them.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "cut/edge_scan.h"
#include "readings/reading.h"

namespace zl {

struct EdgeFacts {
    std::shared_ptr<const Straight8> ink;  // straight, with alpha
    EdgePixels pixels;
    Steps steps;
    Fringe fringe;
    Dirt dirt;
};
EdgeFacts edgeFactsOf(std::shared_ptr<const Straight8> ink, int threads = 1);

// The inks of a subject whose edges are judged: the file, or each picture layer with alpha.
struct JudgedEdge {
    const EdgeFacts* facts;
    Spot at;  // frame px of the ink's corner
    std::optional<int> layer;
    bool rimMeant = false;  // a dark rim of it is its design
};
std::vector<JudgedEdge> judgedEdges(const Subject& subject);

// Whether the rim that was found is one that was said to be meant.
bool leftAlone(const JudgedEdge& edge);

// Rectangles round spots that lie together, in frame px, the fullest first; up to `most`.
std::vector<PixelRect> placesOf(const std::vector<Spot>& spots, PixelSize ink, Spot at,
                                std::size_t most = 8);

// The faults of an edge by kind, px of the frame; what the map draws.
enum class EdgeFault { stepped, fringed, speck, pinhole, haze, cutOff };
struct EdgeMark {
    EdgeFault fault;
    Spot at;
};
std::vector<EdgeMark> edgeMarksOf(const Subject& subject);

// The frame's alpha in greys with the marks in colours, and the clean edge between them. The
// colours are the theme's verdicts'.
Colour colourOf(EdgeFault fault);
Straight8 edgeMapOf(const Straight8& frame, const std::vector<EdgeMark>& marks);

// "white", "black", "grey", a hue's name, or #RRGGBB.
std::string colourWords(Colour colour);

}  // namespace zl
