// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with the edge of straight 8-bit ink: where it is stepped, what matte is left in it,
// dirt beside it, colour hidden under it. Pure measures; readings say verdicts, cleanings mend.
// Positions are px of the raster; beyond it nothing is seen.
#pragma once

#include <array>
#include <vector>

#include "base/colour_value.h"
#include "raster/raster.h"

namespace zl {

// READINGS' thresholds of alpha 0..255. Ours, but for the 50 % of the contour.
namespace edge {
inline constexpr int clear = 12;     // at most: as good as nothing
inline constexpr int full = 243;     // at least: as good as opaque
inline constexpr int opaque = 250;   // at least: its colour is the ink's own
inline constexpr int contour = 128;  // at least: inside
inline constexpr int leastInk = 8;   // at least: seen at all
}  // namespace edge

struct Spot {
    int x = 0, y = 0;
    bool operator==(const Spot&) const = default;
};

// Edge pixels by kind, row by row.
struct EdgePixels {
    std::vector<Spot> crisp;     // partly covered, with full and clear alpha within 2.5 px
    std::vector<Spot> hard;      // full, beside clear
    std::vector<Spot> boundary;  // inside the contour, with a neighbour outside
};
EdgePixels edgePixelsOf(const Straight8& ink, int threads = 1);

// A straight piece of contour through a boundary pixel: n·p = t, in px, n pointing outwards.
struct ContourLine {
    double nx = 0, ny = 0, t = 0;
    bool found = false;
};

struct Steps {
    long long judged =
        0;  // boundary pixels on a straight slant; of a very long edge a share of them
    std::vector<Spot> stepped;  // those without any alpha between in their 3 x 3
    double share() const {
        return judged > 0 ? static_cast<double>(stepped.size()) / static_cast<double>(judged) : 0;
    }
};
Steps stepsOf(const Straight8& ink, const EdgePixels& edges, int mostJudged = 6'000);
// The contour through a boundary pixel over `window` px (odd), where it is straight and slanted.
ContourLine contourAt(const Straight8& ink, Spot at, int window);

struct Fringe {
    bool told = false;  // enough edge, and enough clean ink near it, to tell
    double damage =
        0;  // 90th percentile of the difference the eye meets, CIEDE2000; 0 when it is not a matte
    double share = 0;       // of the edge that differs by more than 4
    bool hardEdge = false;  // a threshold's edge, contaminated in full pixels
    Colour matte{};         // the rim's colour
    double strength = 0;    // 0..1
    std::vector<Spot>
        spots;  // edge pixels that differ by more than 4; of a very long edge a share of them
    bool unsure = false;  // a dark rim that may as well be meant: a thin line or shadow all round
    bool premultiplied = false;  // it looks as if colour had been multiplied by alpha
};
Fringe fringeOf(const Straight8& ink, const EdgePixels& edges, int mostJudged = 5'000);

struct Dirt {
    struct Piece {
        PixelRect box;
        std::vector<Spot> pixels;
    };
    std::vector<Piece> specks, pinholes;
    std::vector<Spot> haze;
    double hazeShare = 0;  // of all pixels
};
// `scale` px of the raster to one px of what counts as small.
Dirt dirtOf(const Straight8& ink, double scale = 1);

struct HiddenColour {
    long long judged = 0;  // clear pixels within 4 px of ink
    long long far = 0;     // of them, whose colour is far (CIEDE2000 > 10) from the nearest ink's
    bool flat = false;     // one colour lies under all of them, as what draws vectors leaves it
    std::vector<Spot> spots;  // some of the far ones
};
HiddenColour hiddenColourOf(const Straight8& ink, int mostJudged = 20'000);

// Whether the pixel is opaque and no clear one lies within 1.5 px of it (2.9 px when `deeper`).
bool isDeep(const Straight8& ink, int x, int y, bool deeper);
// All offsets within `reach` px, up to farthestReach, the nearest first.
inline constexpr int farthestReach = 12;
const std::vector<Spot>& nearestFirst(int reach);

}  // namespace zl
