// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/find_picture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "colour/colour.h"

namespace zl {
namespace {

// Luma on a grid, row by row.
struct Grid {
    int width = 0, height = 0;
    std::vector<float> cells{};
    float at(int x, int y) const {
        return cells[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                     static_cast<std::size_t>(x)];
    }
};

// Each cell the mean of 16 samples spread over it.
Grid gridOf(const Straight8& picture, const RealRect& part, int width, int height) {
    constexpr int fine = 4;
    Grid out{width, height};
    out.cells.reserve(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    const auto sample = [&](double x, double y) {
        const std::uint32_t p = picture.row(std::clamp(
            static_cast<int>(y), 0,
            picture.height() - 1))[std::clamp(static_cast<int>(x), 0, picture.width() - 1)];
        return luma709(redOf(p), greenOf(p), blueOf(p));
    };
    for (int row = 0; row < height; ++row)
        for (int column = 0; column < width; ++column) {
            double sum = 0;
            for (int j = 0; j < fine; ++j)
                for (int i = 0; i < fine; ++i)
                    sum += sample(part.x + (column + (i + 0.5) / fine) * part.width / width,
                                  part.y + (row + (j + 0.5) / fine) * part.height / height);
            out.cells.push_back(static_cast<float>(sum / (fine * fine)));
        }
    return out;
}

// What is finer than five cells.
Grid detailsOf(const Grid& grid) {
    constexpr int reach = 2;
    Grid out{grid.width, grid.height};
    out.cells.reserve(grid.cells.size());
    for (int y = 0; y < grid.height; ++y)
        for (int x = 0; x < grid.width; ++x) {
            float sum = 0;
            int count = 0;
            for (int j = std::max(0, y - reach); j <= std::min(grid.height - 1, y + reach); ++j)
                for (int i = std::max(0, x - reach); i <= std::min(grid.width - 1, x + reach);
                     ++i) {
                    sum += grid.at(i, j);
                    ++count;
                }
            out.cells.push_back(grid.at(x, y) - sum / static_cast<float>(count));
        }
    return out;
}

// Less its mean, and of length 1; all 0 where it has no pattern.
Grid normalised(Grid grid) {
    double sum = 0, squares = 0;
    for (const float v : grid.cells) sum += v;
    const auto mean = static_cast<float>(sum / static_cast<double>(grid.cells.size()));
    for (float& v : grid.cells) {
        v -= mean;
        squares += static_cast<double>(v) * v;
    }
    const auto scale = squares > 1 ? static_cast<float>(1 / std::sqrt(squares)) : 0.0F;
    for (float& v : grid.cells) v *= scale;
    return grid;
}

// A grid in which parts are compared with smaller ones: sums over any part of it are at hand.
class Ground {
  public:
    explicit Ground(const Grid& grid) : grid_(grid), stride_(grid.width + 1) {
        const auto count =
            static_cast<std::size_t>(stride_) * static_cast<std::size_t>(grid.height + 1);
        sums_.resize(count);
        squares_.resize(count);
        for (int y = 0; y < grid.height; ++y) {
            double sum = 0, squares = 0;
            for (int x = 0; x < grid.width; ++x) {
                const double v = grid.at(x, y);
                sum += v;
                squares += v * v;
                sums_[to(x + 1, y + 1)] = sums_[to(x + 1, y)] + sum;
                squares_[to(x + 1, y + 1)] = squares_[to(x + 1, y)] + squares;
            }
        }
    }
    // The correlation of a normalised grid with the part whose corner is at x, y.
    double correlation(const Grid& small, int x, int y) const {
        const int w = small.width, h = small.height;
        const double n = w * h, sum = over(sums_, x, y, w, h),
                     spread = over(squares_, x, y, w, h) - sum * sum / n;
        if (spread <= 1) return 0;
        float both = 0;
        for (int j = 0; j < h; ++j) {
            const float* a =
                &small.cells[static_cast<std::size_t>(j) * static_cast<std::size_t>(w)];
            const float* b = &grid_.cells[static_cast<std::size_t>(y + j) *
                                              static_cast<std::size_t>(grid_.width) +
                                          static_cast<std::size_t>(x)];
            std::array<float, 4> lanes{};
            int i = 0;
            for (; i + 4 <= w; i += 4)
                for (int k = 0; k < 4; ++k)
                    lanes[static_cast<std::size_t>(k)] += a[i + k] * b[i + k];
            for (; i < w; ++i) lanes[0] += a[i] * b[i];
            both += lanes[0] + lanes[1] + lanes[2] + lanes[3];
        }
        return both / std::sqrt(spread);
    }
    int width() const { return grid_.width; }
    int height() const { return grid_.height; }

  private:
    std::size_t to(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(stride_) +
               static_cast<std::size_t>(x);
    }
    double over(const std::vector<double>& sums, int x, int y, int w, int h) const {
        return sums[to(x + w, y + h)] - sums[to(x, y + h)] - sums[to(x + w, y)] + sums[to(x, y)];
    }
    const Grid& grid_;
    int stride_;
    std::vector<double> sums_, squares_;
};

// Where a picture's pattern lies in a glimpse, cells of its grid.
struct Spotted {
    const Glimpse* glimpse = nullptr;
    double likeness = 0;
    RealRect place{};
};

constexpr double alikeAtAGlance = 0.5, alikeInDetail = 0.4;
constexpr std::size_t lookedAtCloser = 8;

// The picture at each size that it may have in the frame.
std::vector<Grid> templatesOf(const Straight8& picture, const RealRect& part, PixelSize shown) {
    constexpr int smallest = Glimpse::across / 2;
    const double cellShape = static_cast<double>(shown.width) / Glimpse::across /
                             (static_cast<double>(shown.height) / Glimpse::down);
    std::vector<Grid> all;
    for (int width = Glimpse::across; width >= smallest; width -= 2) {
        const int height =
            static_cast<int>(std::lround(width * cellShape * part.height / part.width));
        if (height <= Glimpse::down && height >= smallest / 4)
            all.push_back(normalised(gridOf(picture, part, width, height)));
    }
    return all;
}

Spotted spottedIn(const Glimpse& glimpse, const std::vector<Grid>& templates) {
    Spotted best{&glimpse};
    Grid cells{Glimpse::across, Glimpse::down, {}};
    cells.cells.assign(glimpse.pattern.begin(), glimpse.pattern.end());
    const Ground ground(cells);
    for (const Grid& one : templates)
        for (int y = 0; y + one.height <= ground.height(); ++y)
            for (int x = 0; x + one.width <= ground.width(); ++x)
                if (const double alike = ground.correlation(one, x, y); alike > best.likeness) {
                    best.likeness = alike;
                    best.place = {static_cast<double>(x), static_cast<double>(y),
                                  static_cast<double>(one.width), static_cast<double>(one.height)};
                }
    return best;
}

// How alike the details are where the pattern was spotted, or a cell of the glimpse beside it.
double detailAt(const Spotted& spotted, const Straight8& frame, const Straight8& picture,
                const RealRect& part) {
    constexpr int width = 64;
    const double cellWidth = static_cast<double>(frame.width()) / Glimpse::across,
                 cellHeight = static_cast<double>(frame.height()) / Glimpse::down;
    const int height = std::max(8, static_cast<int>(std::lround(width * part.height / part.width)));
    const Grid own = normalised(detailsOf(gridOf(picture, part, width, height)));
    double best = 0;
    // The grid is coarse: its place and size are known to half a cell only.
    for (const double grow : {-1.0, -0.5, 0.0, 0.5, 1.0}) {
        const double w = (spotted.place.width + grow) * cellWidth, h = w * part.height / part.width;
        constexpr int slack = 4;  // cells of `own`
        const double step = w / width;
        const RealRect room{(spotted.place.x - grow / 2) * cellWidth - slack * step,
                            spotted.place.y * cellHeight +
                                (spotted.place.height * cellHeight - h) / 2 - slack * step,
                            w + 2 * slack * step, h + 2 * slack * step};
        const Grid there = detailsOf(gridOf(frame, room, width + 2 * slack, height + 2 * slack));
        const Ground ground(there);
        for (int y = 0; y <= 2 * slack; ++y)
            for (int x = 0; x <= 2 * slack; ++x)
                best = std::max(best, ground.correlation(own, x, y));
    }
    return best;
}

}  // namespace

std::optional<FoundPicture> findPicture(
    const LookedThrough& looked, PixelSize shown, const Straight8& picture, const RealRect& part,
    const std::function<std::optional<Straight8>(double time)>& closer) {
    if (picture.empty() || part.area() <= 0 || shown.count() <= 0) return {};
    const std::vector<Grid> templates = templatesOf(picture, part, shown);
    std::vector<Spotted> spotted;
    for (const Glimpse& glimpse : looked.glimpses)
        if (Spotted one = spottedIn(glimpse, templates); one.likeness >= alikeAtAGlance)
            spotted.push_back(one);
    const std::size_t count = std::min(lookedAtCloser, spotted.size());
    std::partial_sort(spotted.begin(), spotted.begin() + static_cast<std::ptrdiff_t>(count),
                      spotted.end(),
                      [](const Spotted& a, const Spotted& b) { return a.likeness > b.likeness; });
    std::optional<FoundPicture> best;
    for (std::size_t i = 0; i < count; ++i) {
        const double time = spotted[i].glimpse->glance.time;
        const auto frame = closer(time);
        if (!frame) continue;
        const double alike = detailAt(spotted[i], *frame, picture, part);
        if (alike >= alikeInDetail && (!best || alike > best->likeness))
            best = FoundPicture{time, alike};
    }
    return best;
}

}  // namespace zl
