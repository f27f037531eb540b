// SPDX-License-Identifier: GPL-3.0-or-later
// What alpha a pixel may have, told from colours of subject and ground that are seen from it
// (Gastal and Oliveira, Shared sampling for real-time alpha matting, 2010).
#pragma once

#include <array>
#include <memory>
#include <stop_token>
#include <vector>

#include "cut/subject/cells.h"
#include "raster/raster.h"

namespace zl {

struct Sample {
    float alpha = 0.5F;
    float trust = 0;  // 0..1: how well the two colours explain the pixel
};

// Pixels by their place; `first` is x.
using PixelList = std::vector<std::array<int, 2>>;

// Samples of pixels that are `undecided`, of more and more of them: those that were taken stay, but
// for those near new ones.
class Samples {
  public:
    Samples(const Straight8& picture, const Labels& known);
    ~Samples();
    // Adds those of `all` from the index `from` on, all of which are undecided in the labels given
    // to the constructor, as they are now.
    void take(const PixelList& all, std::size_t from, int threads, const std::stop_token& stop);
    const std::vector<Sample>& all() const { return samples_; }

  private:
    struct Seen;
    std::unique_ptr<Seen> seen_;
    std::vector<Sample> samples_;
};

}  // namespace zl
