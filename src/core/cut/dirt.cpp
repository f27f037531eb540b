// SPDX-License-Identifier: GPL-3.0-or-later
// Specks, pinholes and haze. Sizes and distances are ours.
#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "colour/colour.h"
#include "cut/edge_scan.h"
#include "raster/components.h"

namespace zl {
namespace {

constexpr double largestSpeck = 24, largestPinhole = 6;
constexpr int leastApart = 8, widthsApart = 4;

// Runs by row, so that what lies near a spot is found without looking at every run.
class RunIndex {
  public:
    RunIndex(const Components& components, int height)
        : components_(components), first_(static_cast<std::size_t>(height) + 1) {
        for (const auto& run : components.runs()) ++first_[static_cast<std::size_t>(run.y) + 1];
        for (std::size_t y = 1; y < first_.size(); ++y) first_[y] += first_[y - 1];
    }
    // Whether a run of a component that `counts` lies within `reach` px of the box.
    template <class Counts>
    bool anyNear(const PixelRect& box, int reach, const Counts& counts) const {
        const int height = static_cast<int>(first_.size()) - 1;
        for (int y = std::max(0, box.top - reach); y < std::min(height, box.bottom + reach); ++y) {
            const int dy = y < box.top ? box.top - y : y >= box.bottom ? y - box.bottom + 1 : 0;
            for (std::size_t i = first_[static_cast<std::size_t>(y)];
                 i < first_[static_cast<std::size_t>(y) + 1]; ++i) {
                const auto& run = components_.runs()[i];
                const int dx = run.to <= box.left      ? box.left - run.to + 1
                               : run.from >= box.right ? run.from - box.right + 1
                                                       : 0;
                if (dx * dx + dy * dy <= reach * reach && counts(run.component)) return true;
            }
        }
        return false;
    }

  private:
    const Components& components_;
    std::vector<std::size_t> first_;
};

// The pixels of the components that are wanted, by component.
template <class Wanted>
std::vector<Dirt::Piece> piecesOf(const Components& components, const Wanted& wanted) {
    std::vector<int> index(components.all().size(), -1);
    std::vector<Dirt::Piece> out;
    for (const auto& run : components.runs()) {
        const auto c = static_cast<std::size_t>(run.component);
        if (index[c] == -2 || (index[c] < 0 && !wanted(run.component))) {
            index[c] = -2;
            continue;
        }
        if (index[c] < 0) {
            index[c] = static_cast<int>(out.size());
            out.push_back({components.all()[c].box, {}});
        }
        for (int x = run.from; x < run.to; ++x)
            out[static_cast<std::size_t>(index[c])].pixels.push_back({x, run.y});
    }
    return out;
}

// Opaque all round, in one colour.
bool liesInInk(const Straight8& ink, const PixelRect& box) {
    std::vector<Lab> round;
    for (int y = box.top - 1; y <= box.bottom; ++y)
        for (int x = box.left - 1; x <= box.right; ++x) {
            if (x < 0 || y < 0 || x >= ink.width() || y >= ink.height()) return false;
            const std::uint32_t p = ink.row(y)[x];
            const bool rim =
                y == box.top - 1 || y == box.bottom || x == box.left - 1 || x == box.right;
            if (!rim) continue;
            if (alphaOf(p) < edge::opaque) return false;
            round.push_back(labOf(redOf(p), greenOf(p), blueOf(p)));
        }
    constexpr double oneColour = 4;  // CIEDE2000
    return std::all_of(round.begin(), round.end(), [&](const Lab& l) {
        return differenceCie2000(l, round.front()) <= oneColour;
    });
}

// Faint, far from ink, and rough: a shadow's tail is smooth.
void findHaze(const Straight8& ink, Dirt& dirt) {
    constexpr int far = 4;
    constexpr double rough = 1.5;
    const int w = ink.width(), h = ink.height();
    const auto faint = [](std::uint32_t p) {
        return p >> 24 != 0 && p >> 24 < static_cast<unsigned>(edge::leastInk);
    };
    const auto alpha = [&](int x, int y) {
        return alphaOf(ink.row(std::clamp(y, 0, h - 1))[std::clamp(x, 0, w - 1)]);
    };
    const auto bend = [&](int x, int y) {
        return std::abs(alpha(x, y) -
                        (alpha(x - 1, y) + alpha(x + 1, y) + alpha(x, y - 1) + alpha(x, y + 1)) /
                            4.0);
    };
    const auto& near = nearestFirst(far);
    for (int y = 0; y < h; ++y) {
        const std::uint32_t* row = ink.row(y);
        for (int x = 0; x < w; ++x) {
            if (!faint(row[x])) continue;
            const bool beside = std::any_of(near.begin(), near.end(), [&](const Spot& o) {
                const int sx = x + o.x, sy = y + o.y;
                return sx >= 0 && sy >= 0 && sx < w && sy < h &&
                       alphaOf(ink.row(sy)[sx]) >= edge::leastInk;
            });
            if (beside) continue;
            double sum = 0;
            for (int sy = y - 2; sy <= y + 2; ++sy)
                for (int sx = x - 2; sx <= x + 2; ++sx)
                    sum += bend(std::clamp(sx, 0, w - 1), std::clamp(sy, 0, h - 1));
            if (sum >= 25 * rough) dirt.haze.push_back({x, y});
        }
    }
    dirt.hazeShare = static_cast<double>(dirt.haze.size()) /
                     static_cast<double>(std::max(1LL, ink.size().count()));
}

}  // namespace

Dirt dirtOf(const Straight8& ink, double scale) {
    Dirt dirt;
    if (ink.empty()) return dirt;
    const double area = scale * scale;
    const Components inks(ink.size(), Neighbours::eight, [&](int x, int y) {
        return ink.row(y)[x] >> 24 >= static_cast<unsigned>(edge::leastInk);
    });
    const RunIndex index(inks, ink.height());
    dirt.specks = piecesOf(inks, [&](int component) {
        const auto& small = inks.all()[static_cast<std::size_t>(component)];
        if (static_cast<double>(small.pixels) > largestSpeck * area) return false;
        const int width = std::max(small.box.width(), small.box.height());
        return !index.anyNear(
            small.box,
            std::max(static_cast<int>(std::lround(leastApart * scale)), widthsApart * width),
            [&](int other) {
                return static_cast<double>(inks.all()[static_cast<std::size_t>(other)].pixels) >
                       largestSpeck * area;
            });
    });
    const Components holes(ink.size(), Neighbours::four, [&](int x, int y) {
        return ink.row(y)[x] >> 24 < static_cast<unsigned>(edge::contour);
    });
    dirt.pinholes = piecesOf(holes, [&](int component) {
        const auto& hole = holes.all()[static_cast<std::size_t>(component)];
        return static_cast<double>(hole.pixels) <= largestPinhole * area && !hole.touchesRim &&
               liesInInk(ink, hole.box);
    });
    findHaze(ink, dirt);
    return dirt;
}

}  // namespace zl
