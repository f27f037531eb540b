// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/glimpses.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>

namespace zl {
namespace {

constexpr double flat = 6;       // codes of deviation: a frame without a pattern
constexpr double otherAt = 0.8;  // likeness under which two frames show something else
constexpr double changes = 10;   // codes of mean difference that a cut makes at least
constexpr double appears = 18;   // the same where one of them has no pattern
constexpr double farAt = 60;     // codes of mean difference: something else, whatever its pattern
constexpr double flashes = 0.4;  // s: what is as before after so long was lightning, no cut

double meanOf(const Glance& glance) {
    return std::accumulate(glance.cells.begin(), glance.cells.end(), 0.0) /
           static_cast<double>(glance.cells.size());
}

double deviationOf(const Glance& glance) {
    const double mean = meanOf(glance);
    double sum = 0;
    for (const std::uint8_t v : glance.cells) sum += (v - mean) * (v - mean);
    return std::sqrt(sum / static_cast<double>(glance.cells.size()));
}

// A cut changes the picture at once and wholly. A fade or a lamp keeps its pattern, a pan moves it.
bool isCut(const Glance& a, const Glance& b) {
    const double apart = cellDifference(a, b);
    if (apart > farAt) return true;
    if (deviationOf(a) <= flat || deviationOf(b) <= flat) return apart > appears;
    return apart > changes && likenessMoved(a, b) < otherAt;
}

// Each cell the mean of the luma that it covers.
decltype(Glimpse::pattern) patternOf(const Passing& passing) {
    decltype(Glimpse::pattern) out{};
    const int w = passing.width, h = passing.height;
    for (int row = 0; row < Glimpse::down; ++row)
        for (int column = 0; column < Glimpse::across; ++column) {
            const int top = row * h / Glimpse::down,
                      bottom = std::max(top + 1, (row + 1) * h / Glimpse::down),
                      left = column * w / Glimpse::across,
                      right = std::max(left + 1, (column + 1) * w / Glimpse::across);
            int sum = 0;
            for (int y = top; y < std::min(bottom, h); ++y)
                for (int x = left; x < std::min(right, w); ++x)
                    sum += passing.luma[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
                                        static_cast<std::size_t>(x)];
            out[static_cast<std::size_t>(row * Glimpse::across + column)] =
                static_cast<std::uint8_t>(sum / ((bottom - top) * (right - left)));
        }
    return out;
}

Glimpse glimpseOf(const Passing& passing) {
    Glimpse out{passing.glance};
    const auto n = static_cast<double>(passing.luma.size());
    double sum = 0, squares = 0;
    for (const std::uint8_t v : passing.luma) {
        sum += v;
        squares += static_cast<double>(v) * v;
    }
    out.mean = sum / n;
    out.deviation = std::sqrt(std::max(0.0, squares / n - out.mean * out.mean));
    out.pattern = patternOf(passing);
    double bends = 0, bendSquares = 0;
    int count = 0;
    const int w = passing.width;
    for (int y = 1; y + 1 < passing.height; ++y)
        for (int x = 1; x + 1 < w; ++x) {
            const std::uint8_t* p = passing.luma.data() + static_cast<std::ptrdiff_t>(y) * w + x;
            const double bend = 4.0 * p[0] - p[-1] - p[1] - p[-w] - p[w];
            bends += bend;
            bendSquares += bend * bend;
            ++count;
        }
    if (count > 0) {
        const double middle = bends / count;
        out.sharpness = bendSquares / count - middle * middle;
    }
    return out;
}

class Cuts {
  public:
    void see(const Glance& glance) {
        if (last_ && isCut(*last_, glance)) {
            if (!all_.empty() && before_ && glance.time - all_.back().time < flashes &&
                !isCut(*before_, glance)) {
                all_.pop_back();  // it is as it was before the last one
            } else {
                all_.push_back({last_->number, glance.number, glance.time});
                before_ = *last_;
            }
        }
        last_ = glance;
    }
    std::vector<HardCut> taken() && { return std::move(all_); }

  private:
    std::vector<HardCut> all_;
    std::optional<Glance> last_, before_;  // before the last cut
};

}  // namespace

double cellDifference(const Glance& a, const Glance& b) {
    int sum = 0;
    for (std::size_t i = 0; i < a.cells.size(); ++i)
        sum += std::abs(static_cast<int>(a.cells[i]) - static_cast<int>(b.cells[i]));
    return static_cast<double>(sum) / static_cast<double>(a.cells.size());
}

double likeness(const Glance& a, const Glance& b) {
    const double ma = meanOf(a), mb = meanOf(b);
    double both = 0, aa = 0, bb = 0;
    for (std::size_t i = 0; i < a.cells.size(); ++i) {
        const double x = a.cells[i] - ma, y = b.cells[i] - mb;
        both += x * y;
        aa += x * x;
        bb += y * y;
    }
    return aa > 0 && bb > 0 ? both / std::sqrt(aa * bb) : 0;
}

double likenessMoved(const Glance& a, const Glance& b) {
    constexpr int across = Glance::across, down = Glance::down, right = 3, under = 2;
    double best = 0;
    for (int dy = -under; dy <= under; ++dy)
        for (int dx = -right; dx <= right; ++dx) {
            int n = 0, sumA = 0, sumB = 0, squaresA = 0, squaresB = 0, both = 0;
            for (int y = std::max(0, -dy); y < std::min(down, down - dy); ++y)
                for (int x = std::max(0, -dx); x < std::min(across, across - dx); ++x) {
                    const int p = a.cells[static_cast<std::size_t>(y * across + x)],
                              q = b.cells[static_cast<std::size_t>((y + dy) * across + x + dx)];
                    ++n;
                    sumA += p;
                    sumB += q;
                    squaresA += p * p;
                    squaresB += q * q;
                    both += p * q;
                }
            const double spread = (squaresA - static_cast<double>(sumA) * sumA / n) *
                                  (squaresB - static_cast<double>(sumB) * sumB / n);
            if (spread > 0)
                best = std::max(best,
                                (both - static_cast<double>(sumA) * sumB / n) / std::sqrt(spread));
        }
    return best;
}

Glance glanceAt(const Straight8& picture) {
    Glance out;
    if (picture.empty()) return out;
    constexpr int finer = 8, w = Glance::across * finer, h = Glance::down * finer;
    std::array<int, static_cast<std::size_t>(Glance::across * Glance::down)> sums{};
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const std::uint32_t p =
                picture.row(static_cast<int>((2ll * y + 1) * picture.height() /
                                             (2 * h)))[(2ll * x + 1) * picture.width() / (2 * w)];
            // BT.709's luma in whole numbers.
            const int v = (54 * redOf(p) + 183 * greenOf(p) + 19 * blueOf(p)) / 256;
            sums[static_cast<std::size_t>(y / finer * Glance::across + x / finer)] += v;
        }
    for (std::size_t i = 0; i < sums.size(); ++i)
        out.cells[i] = static_cast<std::uint8_t>(sums[i] / (finer * finer));
    return out;
}

std::size_t LookedThrough::shotOf(long long number) const {
    const auto next =
        std::upper_bound(cuts.begin(), cuts.end(), number,
                         [](long long n, const HardCut& cut) { return n < cut.number; });
    return static_cast<std::size_t>(next - cuts.begin());
}

Result<LookedThrough> lookThrough(
    Video& video, int pictureWidth, const std::stop_token& stop,
    const std::function<void(double)>& progress,
    const std::function<bool(const Glimpse&, const Straight8& picture)>& told) {
    const double length = video.facts().duration;
    constexpr double most = 4000;  // glimpses
    LookedThrough out;
    Cuts cuts;
    auto looked = video.each(
        std::max(glimpseStep, length / most), pictureWidth,
        [&](const Passing& passing) {
            cuts.see(passing.glance);
            if (passing.luma.empty()) return true;
            out.glimpses.push_back(glimpseOf(passing));
            if (progress && length > 0) progress(std::min(1.0, passing.glance.time / length));
            return !told || told(out.glimpses.back(), passing.picture);
        },
        stop);
    if (!looked) return passOn(looked.error());
    out.cuts = std::move(cuts).taken();
    return out;
}

Result<long long> firstOfShot(Video& video, const HardCut& cut, const std::stop_token& stop) {
    long long old = cut.before, begun = cut.number;
    if (begun - old <= 1) return begun;
    const auto glance = [&](long long number) -> Result<Glance> {
        const auto frame = video.frame(number, stop);
        if (!frame) return passOn(frame.error());
        return glanceAt(frame->pixels);
    };
    const auto before = glance(old), after = glance(begun);
    if (!before) return passOn(before.error());
    if (!after) return passOn(after.error());
    while (begun - old > 1) {
        const long long middle = (old + begun) / 2;
        const auto at = glance(middle);
        if (!at) return passOn(at.error());
        (cellDifference(*at, *after) < cellDifference(*at, *before) ? begun : old) = middle;
    }
    return begun;
}

}  // namespace zl
