// SPDX-License-Identifier: GPL-3.0-or-later
// What a quadratic leaves of a ground, in cells: from the rim inwards, as long as it is calm.
#include <algorithm>
#include <cmath>
#include <vector>

#include "cut/ground.h"
#include "raster/carry_on.h"

namespace zl {
namespace {

constexpr double mostLeft = 12;  // code values: what is farther off is something else

// px; larger in a large picture, where clouds are larger, too.
int sideOf(PixelSize size) {
    return size.count() <= 2'000'000 ? 8 : size.count() <= 8'000'000 ? 16 : 32;
}

class Leftovers {
  public:
    Leftovers(const Straight8& picture, const Ground& ground)
        : picture_(picture),
          ground_(ground),
          side_(sideOf(picture.size())),
          count_{picture.width() / side_, picture.height() / side_},
          cells_(static_cast<std::size_t>(count_.count())) {
        for (int j = 0; j < count_.height; ++j)
            for (int i = 0; i < count_.width; ++i) measure(i, j);
    }

    // From calm cells at the rim that follow the quadratic to those beside them.
    void follow() {
        const double start = std::max(1.5, std::min(mostLeft, 4 * ground_.grain + 1));
        for (int j = 0; j < count_.height; ++j)
            for (int i = 0; i < count_.width; ++i)
                if (i == 0 || j == 0 || i + 1 == count_.width || j + 1 == count_.height)
                    if (at(i, j).calm && most(at(i, j).left) <= start) take(i, j);
        const double step = 1.5 + 0.6 * ground_.grain;
        for (std::size_t n = 0; n < todo_.size(); ++n) {
            const auto [i, j] = todo_[n];
            for (const auto& [di, dj] : around) {
                if (!isIn(i + di, j + dj)) continue;
                const Cell& here = at(i, j);
                const Cell& next = at(i + di, j + dj);
                if (next.taken || !next.calm || most(next.left) > mostLeft) continue;
                std::array<float, 3> apart{};
                for (std::size_t c = 0; c < 3; ++c) apart[c] = next.left[c] - here.left[c];
                if (most(apart) <= step) take(i + di, j + dj);
            }
        }
    }

    // Where there is ink, what is round it; then a little smoother, for a cell has its grain.
    std::vector<std::array<float, 3>> filled() const {
        std::vector<std::array<float, 3>> out(cells_.size());
        Plane known(count_);
        for (int j = 0; j < count_.height; ++j)
            for (int i = 0; i < count_.width; ++i) known.row(j)[i] = at(i, j).taken ? 1.0f : 0.0f;
        for (std::size_t c = 0; c < 3; ++c) {
            Plane values(count_);
            for (int j = 0; j < count_.height; ++j)
                for (int i = 0; i < count_.width; ++i) values.row(j)[i] = at(i, j).left[c];
            carryOn(values, known);
            for (int j = 0; j < count_.height; ++j)
                for (int i = 0; i < count_.width; ++i) out[place(i, j)][c] = smooth(values, i, j);
        }
        return out;
    }
    PixelSize count() const { return count_; }
    bool any() const { return !todo_.empty(); }

  private:
    struct Cell {
        std::array<float, 3> left{};
        bool calm = false, taken = false;
    };
    static constexpr std::array<std::pair<int, int>, 4> around{{{-1, 0}, {1, 0}, {0, -1}, {0, 1}}};

    static double most(const std::array<float, 3>& v) {
        return static_cast<double>(std::max({std::abs(v[0]), std::abs(v[1]), std::abs(v[2])}));
    }
    bool isIn(int i, int j) const {
        return i >= 0 && j >= 0 && i < count_.width && j < count_.height;
    }
    std::size_t place(int i, int j) const {
        return static_cast<std::size_t>(j) * static_cast<std::size_t>(count_.width) +
               static_cast<std::size_t>(i);
    }
    Cell& at(int i, int j) { return cells_[place(i, j)]; }
    const Cell& at(int i, int j) const { return cells_[place(i, j)]; }
    void take(int i, int j) {
        at(i, j).taken = true;
        todo_.emplace_back(i, j);
    }

    // A cell's median off the quadratic, from some 64 of its pixels; calm where nearly all of them
    // are no farther from it than a grain.
    void measure(int i, int j) {
        const int x0 = picture_.width() * i / count_.width,
                  x1 = picture_.width() * (i + 1) / count_.width,
                  y0 = picture_.height() * j / count_.height,
                  y1 = picture_.height() * (j + 1) / count_.height;
        std::vector<std::array<float, 3>> offs;
        for (int y = y0; y < y1; y += side_ / 8) {
            const DriftRow drifts(ground_, y);
            for (int x = x0; x < x1; x += side_ / 8) {
                const std::uint32_t p = picture_.row(y)[x];
                const auto drift = drifts.at(x);
                offs.push_back({static_cast<float>(redOf(p) - ground_.middle[0] - drift[0]),
                                static_cast<float>(greenOf(p) - ground_.middle[1] - drift[1]),
                                static_cast<float>(blueOf(p) - ground_.middle[2] - drift[2])});
            }
        }
        Cell& cell = at(i, j);
        std::vector<float> one(offs.size());
        const auto rank = [&](double share) {
            const auto nth =
                one.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(one.size()) * share);
            std::nth_element(one.begin(), nth, one.end());
            return *nth;
        };
        for (std::size_t c = 0; c < 3; ++c) {
            std::transform(offs.begin(), offs.end(), one.begin(),
                           [c](const auto& off) { return off[c]; });
            cell.left[c] = rank(0.5);
        }
        std::transform(offs.begin(), offs.end(), one.begin(), [&](const auto& off) {
            std::array<float, 3> beside{};
            for (std::size_t c = 0; c < 3; ++c) beside[c] = off[c] - cell.left[c];
            return static_cast<float>(most(beside));
        });
        cell.calm = static_cast<double>(rank(0.95)) <= 1.5 + 3.5 * ground_.grain;
    }

    // Half of it, and half of the four beside it.
    float smooth(const Plane& values, int i, int j) const {
        float sum = 4 * values.row(j)[i], weight = 4;
        for (const auto& [di, dj] : around)
            if (isIn(i + di, j + dj)) {
                sum += values.row(j + dj)[i + di];
                weight += 1;
            }
        return sum / weight;
    }

    const Straight8& picture_;
    const Ground& ground_;
    int side_;
    PixelSize count_;
    std::vector<Cell> cells_;
    std::vector<std::pair<int, int>> todo_;
};

}  // namespace

Ground withWhatIsLeft(const Straight8& picture, Ground ground) {
    constexpr int fewest = 3;  // cells a side
    const int least = fewest * sideOf(picture.size());
    if (picture.width() < least || picture.height() < least) return ground;
    Leftovers cells(picture, ground);
    cells.follow();
    if (!cells.any()) return ground;
    ground.left = cells.filled();
    ground.cells = cells.count();
    return ground;
}

}  // namespace zl
