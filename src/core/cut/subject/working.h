// SPDX-License-Identifier: GPL-3.0-or-later
// A picture at a working size, with what graph cuts ask of each of its pixels.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "cut/subject/cells.h"
#include "kit/cut_values.h"
#include "raster/plane.h"
#include "raster/raster.h"

namespace zl {

// Which cell of 32 x 32 x 32 over CIE L*a*b* a colour of 8 bits falls in.
std::uint16_t labCell(std::uint32_t pixel);
inline constexpr std::size_t labCells = std::size_t{32} * 32 * 32;

struct Working {
    Straight8 pixels;    // opaque; see-through ones stand on grey
    Labels sure;         // `ofGround` where the picture is see-through, else `undecided`
    double scale = 1;    // working px to one px of the picture
    float contrast = 0;  // 1 over twice the mean squared difference of neighbours, code values

    PixelSize size() const { return pixels.size(); }
    // What parting two neighbours costs, 0..1: less across an edge (Boykov and Jolly 2001).
    float link(int x, int y, int dx, int dy) const;
};
// The longer side at most `longSide`.
Working workingOf(const Straight8& picture, int longSide, int threads = 1);

// How much likelier a colour is in the subject than in the ground: the logarithm of the ratio,
// from -5 to 5, a cell of labCell().
class Colours {
  public:
    // Of the pixels that carry these labels; where there are strokes, their pixels count for a
    // fifth of their side.
    Colours(const Working& working, const Labels& labels, const Labels& strokes);
    float operator()(std::uint32_t pixel) const { return ratio_[labCell(pixel)]; }
    // How well the two sides are told apart by colour alone, 0..1: the mean of |ratio| over 5.
    double apart() const { return apart_; }

  private:
    std::vector<float> ratio_;
    double apart_ = 0;
};

// The strokes at a working size: `ofSubject` and `ofGround`, the later one on top, `undecided`
// where there is none.
Labels drawn(std::span<const Stroke> strokes, PixelSize size, double scale);

// The distance of each pixel from the nearest of `from` that is `label`, in px, along ways that
// avoid changes of colour (the geodesic distance of Criminisi, Sharp and Blake 2008, by scans).
Plane geodesicFrom(const Working& working, const Labels& from, std::uint8_t label);

// The distance in px to the nearest pixel that has another label; half a px at the border between.
Plane depthOf(const Labels& labels);

// Nearest-neighbour enlargement of labels.
Labels enlarged(const Labels& labels, PixelSize size);

// A copy of the labels of `part`, which lies in them.
Labels partOf(const Labels& labels, const PixelRect& part);

// The share of all pixels labelled subject that both have, of those that one has; 1 for two empty.
double overlapOf(const Labels& one, const Labels& other);
PixelRect boxOf(const Labels& labels, std::uint8_t label);

}  // namespace zl
