// SPDX-License-Identifier: GPL-3.0-or-later
// What a finish draws on. Included by the room's own sources.
#pragma once

#include <array>

#include "base/parallel.h"
#include "kit/finish_values.h"
#include "raster/plane.h"

namespace zl {

// Colour premultiplied and alpha, 0..1.
struct Planes {
    Plane red, green, blue, alpha;
    explicit Planes(PixelSize size) : red(size), green(size), blue(size), alpha(size) {}
    std::array<Plane*, 3> colours() { return {&red, &green, &blue}; }
};

struct FinishCanvas {
    explicit FinishCanvas(PixelSize size) : front(size), back(size) {}
    Planes front;         // the ink and what belongs to its shape
    Planes back;          // what lies under it: shadows and glows, the latest lowest
    float strongest = 1;  // the ink's strongest alpha
    int threads = 1;

    // The front's alpha as the shape that edges are looked for in: its strongest is full.
    Plane shape() const;
    // Puts a colour under all that lies in the back, so strong as `cover` says, times `opacity`.
    void layUnder(const Plane& cover, Colour colour, double opacity);
};

// One finish: how it draws, and how far it reaches beyond the ink.
struct FinishPainter {
    std::string_view kind;
    void (*paint)(const Finish&, FinishCanvas&);
    double (*reach)(const Finish&);
};
const FinishPainter* painterOf(std::string_view kind);

void paintOutline(const Finish&, FinishCanvas&);
void paintShadow(const Finish&, FinishCanvas&);
void paintGlow(const Finish&, FinishCanvas&);
void paintBevel(const Finish&, FinishCanvas&);

}  // namespace zl
