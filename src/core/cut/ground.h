// SPDX-License-Identifier: GPL-3.0-or-later
// A background that is not quite flat: lit from one side, or paper with a grain. Its drift is a
// quadratic a channel, fitted along the picture's rim where it is not ink, and what calm areas that
// are joined to the rim differ from it; its grain is what is left beside it.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "cut/background.h"
#include "raster/raster.h"

namespace zl {

struct Ground {
    std::array<double, 3> middle{};  // its colour, code values 0..255
    std::array<std::array<double, 6>, 3>
        bend{};  // a channel: 1, x, y, x^2, xy, y^2 of the place, -1..1 across the picture
    PixelSize size;
    double share = 0;  // of the rim, 0..1, that follows it
    double grain = 0;  // standard deviation beside it, code values, of the channel that has most
    double span = 0;   // how much it drifts from one end to the other, code values

    // What the quadratic leaves, code values a channel, in the middle of each cell of a grid over
    // the picture, row by row; none where the quadratic is all.
    PixelSize cells{};
    std::vector<std::array<float, 3>> left;
};

// How far a ground is from its middle along one row of pixels.
class DriftRow {
  public:
    DriftRow(const Ground& ground, int y);
    std::array<double, 3> at(int x) const;  // code values a channel

  private:
    PixelSize size_;
    int cells_;
    std::array<std::array<double, 3>, 3> bend_{};  // a channel: 1, x, x^2 of the place
    std::vector<std::array<float, 3>> left_;       // of this row, a cell
};

// The ground along the rim of a picture without a flat one; nothing where the rim follows none.
std::optional<Ground> groundOf(const Straight8& picture);

// The same ground with what it leaves in calm areas that are joined to the rim and differ from it,
// and from each other, by a few code values: clouds, folds of a cloth. Ink is stepped over.
Ground withWhatIsLeft(const Straight8& picture, Ground ground);

// The picture as it would be on a ground without drift. What is clipped at 0 or 255 stays clipped.
Straight8 levelled(const Straight8& picture, const Ground& ground);

}  // namespace zl
