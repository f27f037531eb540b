// SPDX-License-Identifier: GPL-3.0-or-later
// A whole video looked through once: how it looks four times a second, and where it is cut.
#pragma once

#include <functional>
#include <vector>

#include "video/video.h"

namespace zl {

// How the video looks at a moment.
struct Glimpse {
    Glance glance;
    double mean = 0, deviation = 0;  // of luma, codes of 255
    double sharpness = 0;            // variance of the Laplacian of the small luma
    // The means of the cells of a finer grid, row by row; codes of luma.
    static constexpr int across = 32, down = 18;
    std::array<std::uint8_t, static_cast<std::size_t>(across* down)> pattern{};
};

// A hard cut. Frames that no other needs are not decoded, so it lies up to two frames before the
// first one that was seen of the new shot: `firstOfShot` finds it.
struct HardCut {
    long long before = 0, number = 0;  // the last one seen of the old shot, the first of the new
    double time = 0;                   // s, of `number`
    bool operator==(const HardCut&) const = default;
};

struct LookedThrough {
    std::vector<Glimpse> glimpses;  // in their order
    std::vector<HardCut> cuts;      // in their order
    // The shot that a frame is in, from 0.
    std::size_t shotOf(long long number) const;
};

inline constexpr double glimpseStep = 0.25;  // s

// Looks are told as they are seen, with their pictures where `pictureWidth` is not 0. Seen at most
// 4,000 times in a video of any length. `progress` hears 0..1. Code::cancelled.
[[nodiscard]] Result<LookedThrough> lookThrough(
    Video& video, int pictureWidth, const std::stop_token& stop = {},
    const std::function<void(double)>& progress = {},
    const std::function<bool(const Glimpse&, const Straight8& picture)>& told = {});

// The first frame of the shot that begins with this cut; decodes one or two.
[[nodiscard]] Result<long long> firstOfShot(Video& video, const HardCut& cut,
                                            const std::stop_token& stop = {});

// How far apart two glances are: the mean difference of their cells, codes of 255.
double cellDifference(const Glance& a, const Glance& b);
// How alike their patterns are whatever their light and contrast: the correlation of their cells,
// -1..1; 0 where one of them has no pattern.
double likeness(const Glance& a, const Glance& b);
// The same when one of them has moved by up to three cells across and two down; 0..1.
double likenessMoved(const Glance& a, const Glance& b);
Glance glanceAt(const Straight8& picture);

}  // namespace zl
