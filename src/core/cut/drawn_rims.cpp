// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/drawn_rims.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace zl {
namespace {

// From the ground straight in: the pixels of ink, and how far each is from the ground's colour.
struct Way {
    std::vector<Spot> spots;
    std::vector<double> away;  // code values
    double outside = 0;        // the pixel's before
};

class Walker {
  public:
    Walker(const Straight8& picture, const Regions& regions, const std::array<double, 3>& ground)
        : picture_(picture), regions_(regions), ground_(ground) {}

    // To the first pixel that is none of the edge; empty where the way leads out of the ink again.
    template <class IsEdge>
    Way from(Spot at, const IsEdge& isEdge) const {
        constexpr std::size_t farthest = 8;  // px
        const Spot step = inwards(at), outside{at.x - step.x, at.y - step.y};
        if ((step.x == 0 && step.y == 0) || !isInside(outside) || isInk(outside)) return {};
        Way way;
        way.outside = awayAt(outside);
        while (isInk(at) && way.spots.size() < farthest) {
            way.spots.push_back(at);
            way.away.push_back(awayAt(at));
            if (!isEdge(at)) return way;
            at = {at.x + step.x, at.y + step.y};
        }
        return {};
    }

  private:
    bool isInside(Spot at) const {
        return at.x >= 0 && at.y >= 0 && at.x < picture_.width() && at.y < picture_.height();
    }
    bool isInk(Spot at) const { return isInside(at) && regions_.row(at.y)[at.x] == Region::ink; }
    double awayAt(Spot at) const { return awayFrom(picture_.row(at.y)[at.x], ground_); }

    // Along the axis that is nearer to the way from the ground around.
    Spot inwards(Spot at) const {
        constexpr int reach = 2;
        int right = 0, down = 0;
        for (int dy = -reach; dy <= reach; ++dy)
            for (int dx = -reach; dx <= reach; ++dx)
                if (const Spot spot{at.x + dx, at.y + dy}; isInside(spot) && !isInk(spot)) {
                    right -= dx;
                    down -= dy;
                }
        if (std::abs(right) >= std::abs(down)) return {(right > 0) - (right < 0), 0};
        return {0, (down > 0) - (down < 0)};
    }

    const Straight8& picture_;
    const Regions& regions_;
    const std::array<double, 3> ground_;
};

// The first pixel behind which the way rises by much less than it did before; the way's length
// where there is none, or it is so near the ground's colour that it may be a shadow.
std::size_t pauseOf(const Way& way) {
    constexpr double pauses = 0.4;            // of the steepest rise
    constexpr double rises = 12, clear = 40;  // code values
    double steepest = 0, before = way.outside;
    for (std::size_t i = 0; i < way.away.size(); ++i) {
        const double rise = way.away[i] - before;
        if (steepest >= rises && rise < pauses * steepest) {
            const std::size_t pause = rise > 0 ? i : i - 1;
            return way.away[pause] >= clear ? pause : way.away.size();
        }
        steepest = std::max(steepest, rise);
        before = way.away[i];
    }
    return way.away.size();
}

}  // namespace

DrawnRims::DrawnRims(const Straight8& picture, const Regions& regions,
                     const std::array<double, 3>& ground, const std::vector<EdgeInk>& edge)
    : width_(picture.width()) {
    constexpr double rounding = 1;  // code values; what a mixture lacks less of has nothing wrong
    for (const EdgeInk& ink : edge) edge_[keyOf(ink.spot)] = ink;
    const Walker walker(picture, regions, ground);
    const auto isEdge = [&](Spot spot) { return edge_.contains(keyOf(spot)); };
    for (const EdgeInk& ink : edge) {
        const Way way = walker.from(ink.spot, isEdge);
        const std::size_t pause = pauseOf(way), last = way.spots.size() - 1;  // that is no edge
        if (way.spots.empty() || pause >= last) continue;
        const EdgeInk& known = edge_.at(keyOf(way.spots[pause]));
        if (known.shade || (1 - known.alpha) * way.away[pause] < rounding * known.alpha) continue;
        rim_.push_back(way.spots[pause]);
        for (std::size_t i = pause; i < last; ++i) whole_.push_back(way.spots[i]);
    }
    std::ranges::sort(whole_, {}, [&](Spot spot) { return keyOf(spot); });
    whole_.erase(std::ranges::unique(whole_).begin(), whole_.end());
    for (const Spot& spot : whole_) edge_[keyOf(spot)].alpha = 1;
}

std::uint64_t DrawnRims::keyOf(Spot spot) const {
    return static_cast<std::uint64_t>(spot.y) * static_cast<std::uint64_t>(width_) +
           static_cast<std::uint64_t>(spot.x);
}

double DrawnRims::settled(Spot spot, double alpha, bool shade) {
    EdgeInk& own = edge_.at(keyOf(spot));
    own.alpha = alpha;
    own.shade = shade;
    if (shade) return alpha;
    for (int y = std::max(0, spot.y - 1); y <= spot.y + 1; ++y)
        for (int x = std::max(0, spot.x - 1); x <= std::min(width_ - 1, spot.x + 1); ++x)
            if (const auto other = edge_.find(keyOf({x, y}));
                other != edge_.end() && other->second.depth < own.depth && !other->second.shade)
                own.alpha = std::max(own.alpha, other->second.alpha);
    return own.alpha;
}

}  // namespace zl
