// SPDX-License-Identifier: GPL-3.0-or-later
// Least squares with outliers taken out round by round; the normal equations are solved by Gauss's
// elimination.
#include "cut/ground.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace zl {
namespace {

using Row = std::array<double, 6>;

// -1..1 across so many pixels.
double placeOf(int at, int pixels) {
    return pixels > 1 ? 2.0 * at / (pixels - 1) - 1 : 0;
}
Row termsAt(PixelSize size, int x, int y) {
    const double u = placeOf(x, size.width), v = placeOf(y, size.height);
    return {1, u, v, u * u, u * v, v * v};
}

// Between the middles of two cells: the first of them, and how far on, 0..1. Beyond the outermost
// it is as there.
std::pair<int, double> betweenCells(int at, int pixels, int cells) {
    const double place =
        std::clamp((at + 0.5) * cells / pixels - 0.5, 0.0, static_cast<double>(cells - 1));
    const int first = std::min(static_cast<int>(place), std::max(0, cells - 2));
    return {first, place - first};
}

double dot(const Row& a, const Row& b) {
    double sum = 0;
    for (std::size_t i = 0; i < 6; ++i) sum += a[i] * b[i];
    return sum;
}

// Solves A x = b in place; nothing when A is singular.
std::optional<Row> solved(std::array<Row, 6> a, Row b) {
    for (std::size_t i = 0; i < 6; ++i) {
        std::size_t pivot = i;
        for (std::size_t j = i + 1; j < 6; ++j)
            if (std::abs(a[j][i]) > std::abs(a[pivot][i])) pivot = j;
        if (std::abs(a[pivot][i]) < 1e-9) return {};
        std::swap(a[i], a[pivot]);
        std::swap(b[i], b[pivot]);
        for (std::size_t j = i + 1; j < 6; ++j) {
            const double by = a[j][i] / a[i][i];
            for (std::size_t k = i; k < 6; ++k) a[j][k] -= by * a[i][k];
            b[j] -= by * b[i];
        }
    }
    Row x{};
    for (std::size_t i = 6; i-- > 0;) {
        double sum = b[i];
        for (std::size_t k = i + 1; k < 6; ++k) sum -= a[i][k] * x[k];
        x[i] = sum / a[i][i];
    }
    return x;
}

struct RimPixel {
    Row terms;
    std::array<double, 3> colour;
    double off = 0;
};

// The outermost pixels, a few deep.
std::vector<RimPixel> rimOf(const Straight8& p) {
    constexpr int deep = 3, opaque = 250, most = 24'000;
    std::vector<RimPixel> rim;
    const int w = p.width(), h = p.height();
    const int every = std::max(1, 2 * deep * (w + h) / most);
    int n = 0;
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            if (x >= deep && x + deep < w && y >= deep && y + deep < h) {
                x = w - deep - 1;
                continue;
            }
            if (n++ % every != 0) continue;
            const std::uint32_t q = p.row(y)[x];
            if (alphaOf(q) < opaque) return {};  // it has been cut out already
            rim.push_back(
                {termsAt(p.size(), x, y), {redOf(q) * 1.0, greenOf(q) * 1.0, blueOf(q) * 1.0}});
        }
    return rim;
}

double medianOf(std::vector<double> v) {
    if (v.empty()) return 0;
    const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
    std::nth_element(v.begin(), middle, v.end());
    return *middle;
}

// One fit of all three channels to the rim pixels that are off by no more than `limit`; how far
// each is off then.
bool fit(std::vector<RimPixel>& rim, double limit, std::array<Row, 3>& bend) {
    std::array<Row, 6> a{};
    std::array<Row, 3> b{};
    for (const RimPixel& p : rim) {
        if (p.off > limit) continue;
        for (std::size_t i = 0; i < 6; ++i) {
            for (std::size_t j = 0; j < 6; ++j) a[i][j] += p.terms[i] * p.terms[j];
            for (std::size_t c = 0; c < 3; ++c) b[c][i] += p.terms[i] * p.colour[c];
        }
    }
    for (std::size_t c = 0; c < 3; ++c) {
        const auto x = solved(a, b[c]);
        if (!x) return false;
        bend[c] = *x;
    }
    for (RimPixel& p : rim) {
        p.off = 0;
        for (std::size_t c = 0; c < 3; ++c)
            p.off = std::max(p.off, std::abs(p.colour[c] - dot(bend[c], p.terms)));
    }
    return true;
}

}  // namespace

DriftRow::DriftRow(const Ground& ground, int y) : size_(ground.size), cells_(ground.cells.width) {
    const double v = placeOf(y, size_.height);
    for (std::size_t c = 0; c < 3; ++c) {
        const Row& b = ground.bend[c];
        bend_[c] = {b[0] + v * (b[2] + v * b[5]) - ground.middle[c], b[1] + v * b[4], b[3]};
    }
    if (ground.left.empty()) return;
    const auto [row, down] = betweenCells(y, size_.height, ground.cells.height);
    const auto* above = ground.left.data() + static_cast<std::ptrdiff_t>(row) * cells_;
    const auto* below = ground.cells.height > 1 ? above + cells_ : above;
    left_.resize(static_cast<std::size_t>(cells_));
    for (std::size_t i = 0; i < left_.size(); ++i)
        for (std::size_t c = 0; c < 3; ++c)
            left_[i][c] = above[i][c] + (below[i][c] - above[i][c]) * static_cast<float>(down);
}

std::array<double, 3> DriftRow::at(int x) const {
    const double u = placeOf(x, size_.width);
    std::array<double, 3> out{};
    for (std::size_t c = 0; c < 3; ++c) out[c] = bend_[c][0] + u * (bend_[c][1] + u * bend_[c][2]);
    if (left_.empty()) return out;
    const auto [column, right] = betweenCells(x, size_.width, cells_);
    const auto& here = left_[static_cast<std::size_t>(column)];
    const auto& next = left_[static_cast<std::size_t>(std::min(column + 1, cells_ - 1))];
    for (std::size_t c = 0; c < 3; ++c)
        out[c] += static_cast<double>(here[c]) + static_cast<double>(next[c] - here[c]) * right;
    return out;
}

std::optional<Ground> groundOf(const Straight8& picture) {
    if (picture.width() < 16 || picture.height() < 16) return {};
    std::vector<RimPixel> rim = rimOf(picture);
    if (rim.size() < 100) return {};
    Ground out;
    out.size = picture.size();
    // From the middle of what is seen: the channels' medians; then nearer and nearer, until only
    // what follows it is left.
    std::array<double, 3> start{};
    for (std::size_t c = 0; c < 3; ++c) {
        std::vector<double> values;
        for (const RimPixel& p : rim) values.push_back(p.colour[c]);
        start[c] = medianOf(values);
    }
    for (RimPixel& p : rim)
        for (std::size_t c = 0; c < 3; ++c)
            p.off = std::max(p.off, std::abs(p.colour[c] - start[c]));
    constexpr double farthest = 48, rounding = 1.5;  // code values
    double limit = farthest, grain = 0;
    for (int round = 0; round < 8; ++round) {
        if (!fit(rim, limit, out.bend)) return {};
        std::vector<double> offs;
        for (const RimPixel& p : rim)
            if (p.off <= limit) offs.push_back(p.off);
        if (offs.size() * 2 < rim.size()) return {};
        // Of the largest of three channels the median is about 1.2 standard deviations (from
        // memory, checked by the tests).
        grain = medianOf(offs) / 1.2;
        limit = std::max(rounding, std::min(limit, 4 * grain + 1));
    }
    std::size_t follow = 0;
    double squares = 0;
    for (const RimPixel& p : rim)
        if (p.off <= limit) {
            ++follow;
            squares += p.off * p.off;
        }
    out.share = static_cast<double>(follow) / static_cast<double>(rim.size());
    out.grain = grain;
    for (std::size_t c = 0; c < 3; ++c) out.middle[c] = out.bend[c][0];
    double low = 255, high = -255;
    for (int j = 0; j <= 8; ++j)
        for (int i = 0; i <= 8; ++i) {
            const auto drift =
                DriftRow(out, j * (picture.height() - 1) / 8).at(i * (picture.width() - 1) / 8);
            low = std::min({low, drift[0], drift[1], drift[2]});
            high = std::max({high, drift[0], drift[1], drift[2]});
        }
    out.span = high - low;
    constexpr double enough = 0.6, mostGrain = 6, mostSpan = 110;
    if (out.share < enough || out.grain > mostGrain || out.span > mostSpan) return {};
    return out;
}

Straight8 levelled(const Straight8& picture, const Ground& ground) {
    Straight8 out(picture.size());
    const auto code = [](double v) { return static_cast<int>(std::clamp(v, 0.0, 255.0) + 0.5); };
    for (int y = 0; y < picture.height(); ++y) {
        const DriftRow drifts(ground, y);
        for (int x = 0; x < picture.width(); ++x) {
            const std::uint32_t p = picture.row(y)[x];
            const auto drift = drifts.at(x);
            out.row(y)[x] = packed(code(redOf(p) - drift[0]), code(greenOf(p) - drift[1]),
                                   code(blueOf(p) - drift[2]), alphaOf(p));
        }
    }
    return out;
}

}  // namespace zl
