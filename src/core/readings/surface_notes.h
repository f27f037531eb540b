// SPDX-License-Identifier: GPL-3.0-or-later
// What a surface does to a piece, in a line: what of it is covered there, how tall its letters are.
#pragma once

#include <cmath>

#include "readings/reading.h"

namespace zl {

// A letter's height as it is told, px: cut, not rounded, to a tenth, so that it never looks better
// than its verdict.
inline double told(double px) {
    return std::floor(px * 10 + 1e-6) / 10;
}

struct SurfaceNote {
    std::string surface;  // its id in the brief
    Verdict verdict = Verdict::pass;
    Message covered, letters;
};

// For each surface that shows the piece as a whole. `subject` is of a piece.
std::vector<SurfaceNote> noteSurfaces(const Subject& subject);

}  // namespace zl
