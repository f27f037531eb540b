// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/drawn_rims.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <utility>

namespace zl {
namespace {

// From the ground straight in: the pixels of ink, and how far each is from the ground's colour.
struct Way {
    static constexpr std::size_t longest = 8;  // px
    std::array<Spot, longest> spots;
    std::array<double, longest> away;  // code values
    std::size_t length = 0;
    double outside = 0;  // the pixel's before
};

class Walker {
  public:
    Walker(const Straight8& picture, const Regions& regions, const std::array<double, 3>& ground)
        : picture_(picture), regions_(regions), ground_(ground) {}

    // To the first pixel that is none of the edge; empty where the way leads out of the ink again.
    template <class IsEdge>
    Way from(Spot at, const IsEdge& isEdge) const {
        const Spot step = inwards(at), outside{at.x - step.x, at.y - step.y};
        if ((step.x == 0 && step.y == 0) || !isInside(outside) || isInk(outside)) return {};
        Way way;
        way.outside = awayAt(outside);
        while (isInk(at) && way.length < Way::longest) {
            way.spots[way.length] = at;
            way.away[way.length++] = awayAt(at);
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
    for (std::size_t i = 0; i < way.length; ++i) {
        const double rise = way.away[i] - before;
        if (steepest >= rises && rise < pauses * steepest) {
            const std::size_t pause = rise > 0 ? i : i - 1;
            return way.away[pause] >= clear ? pause : way.length;
        }
        steepest = std::max(steepest, rise);
        before = way.away[i];
    }
    return way.length;
}

}  // namespace

DrawnRims::DrawnRims(const Straight8& picture, const Regions& regions,
                     const std::array<double, 3>& ground, const std::vector<EdgeInk>& edge)
    : edge_(edge),
      size_(picture.size()),
      places_(static_cast<std::size_t>(picture.size().count())) {
    constexpr double rounding = 1;  // code values; what a mixture lacks less of has nothing wrong
    for (std::size_t i = 0; i < edge_.size(); ++i)
        places_[static_cast<std::size_t>(edge_[i].spot.y) * static_cast<std::size_t>(size_.width) +
                static_cast<std::size_t>(edge_[i].spot.x)] = static_cast<std::uint32_t>(i + 1);
    const Walker walker(picture, regions, ground);
    const auto isEdge = [&](Spot spot) { return at(spot) != nullptr; };
    for (const EdgeInk& ink : edge_) {
        if (ink.depth > 1) continue;
        const Way way = walker.from(ink.spot, isEdge);
        const std::size_t pause = pauseOf(way);
        if (pause + 1 >= way.length) continue;  // the last one is no edge
        const EdgeInk& known = *at(way.spots[pause]);
        if (known.shade || (1 - known.alpha) * way.away[pause] < rounding * known.alpha) continue;
        rim_.push_back(way.spots[pause]);
        for (std::size_t i = pause; i + 1 < way.length; ++i) whole_.push_back(way.spots[i]);
    }
    std::ranges::sort(whole_, {}, [](Spot spot) { return std::pair(spot.y, spot.x); });
    whole_.erase(std::unique(whole_.begin(), whole_.end()), whole_.end());
    for (const Spot& spot : whole_) at(spot)->alpha = 1;
}

EdgeInk* DrawnRims::at(Spot spot) {
    if (spot.x < 0 || spot.y < 0 || spot.x >= size_.width || spot.y >= size_.height) return nullptr;
    const std::uint32_t place =
        places_[static_cast<std::size_t>(spot.y) * static_cast<std::size_t>(size_.width) +
                static_cast<std::size_t>(spot.x)];
    return place > 0 ? &edge_[place - 1] : nullptr;
}

double DrawnRims::settled(Spot spot, double alpha, bool shade) {
    EdgeInk& own = *at(spot);
    own.alpha = alpha;
    own.shade = shade;
    if (shade) return alpha;
    for (int y = spot.y - 1; y <= spot.y + 1; ++y)
        for (int x = spot.x - 1; x <= spot.x + 1; ++x)
            if (const EdgeInk* other = at({x, y});
                other != nullptr && other->depth < own.depth && !other->shade)
                own.alpha = std::max(own.alpha, other->alpha);
    return own.alpha;
}

}  // namespace zl
