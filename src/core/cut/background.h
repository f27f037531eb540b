// SPDX-License-Identifier: GPL-3.0-or-later
// What a picture says about its flat background: its colour, how sure, how noisy near the ink,
// whether a JPEG left its grid.
#pragma once

#include <array>
#include <optional>

#include "base/colour_value.h"
#include "raster/raster.h"

namespace zl {

struct Background {
    std::array<double, 3> colour{};  // code values 0..255
    double share = 0;    // of the border's pixels, 0..1, that are of this colour: how sure it is
    bool exact = false;  // most of them have exactly it: the background is flat
    Colour rounded() const;
};

// The commonest colour of the outermost pixels; a share of 0 for an empty or wholly see-through
// border.
Background backgroundOf(const Straight8& picture);

// How noisy the background is 2 to 8 px from the ink, code values. `luma` and `chroma` are standard
// deviations in Y and Cb, Cr (ITU-T T.871); 0 in a lossless picture.
struct Noise {
    double tolerance =
        1;  // what a key should pass over: the largest channel difference that is still background
    double luma = 0, chroma = 0;
    bool lossy = false;
    bool halfChroma = false;  // chroma was stored at half the size and bleeds over the edge
};

// The offset of an 8 x 8 grid that noise on the background keeps to, as a JPEG leaves it: blocks
// without ink are flat, blocks with ink are not. Nothing when there is no such grid.
struct Grid {
    int x = 0, y = 0;     // 0..7: a block begins at columns x, x + 8, ...
    double evidence = 0;  // share of the noise's ends within a pixel of it, 0..1; chance is 0.375
};
std::optional<Grid> blockGridOf(const Straight8& picture, const std::array<double, 3>& background);

// Whether chroma was brought back from half its width: every other difference of neighbours is then
// the mean of the two beside it, as a triangle filter makes it, or 0, as doubling does.
bool hasHalfChroma(const Straight8& picture);

Noise noiseOf(const Straight8& picture, const std::array<double, 3>& background);

// The largest channel difference from the background, code values.
inline double awayFrom(std::uint32_t p, const std::array<double, 3>& background) {
    const double r = redOf(p) - background[0], g = greenOf(p) - background[1],
                 b = blueOf(p) - background[2];
    return std::max({r < 0 ? -r : r, g < 0 ? -g : g, b < 0 ? -b : b});
}

}  // namespace zl
