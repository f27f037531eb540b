// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/standing.h"

#include <algorithm>
#include <array>

#include "colour/sight.h"
#include "readings/reading.h"

namespace zl {
namespace {

using ByCode = std::array<double, 256>;

// What a code of red, of green, of blue gives to the luminance.
const std::array<ByCode, 3>& luminanceParts() {
    static const std::array<ByCode, 3> parts = [] {
        std::array<ByCode, 3> all{};
        for (int v = 0; v < 256; ++v) {
            const auto at = static_cast<std::size_t>(v);
            all[0][at] = relativeLuminance(v, 0, 0);
            all[1][at] = relativeLuminance(0, v, 0);
            all[2][at] = relativeLuminance(0, 0, v);
        }
        return all;
    }();
    return parts;
}

double luminanceOf(std::uint32_t p, const std::array<ByCode, 3>& parts = luminanceParts()) {
    return parts[0][p & 255u] + parts[1][p >> 8 & 255u] + parts[2][p >> 16 & 255u];
}

constexpr int reach = 2;  // px: how far across an edge is looked

// The mark over a footage, 0xFFRRGGBB, where it is close to an edge.
Straight8 laidOver(const Straight8& mark, const MarkEdges& edges, const Straight8& behind) {
    Straight8 out(mark.size());
    for (const auto& [y, from, to] : edges.near)
        for (int x = from; x < to; ++x) {
            const std::uint32_t p = mark.row(y)[x], b = behind.row(y)[x];
            const int a = alphaOf(p);
            const auto over = [&](int front, int back) {
                return (front * a + back * (255 - a) + 127) / 255;
            };
            out.row(y)[x] = packed(over(redOf(p), redOf(b)), over(greenOf(p), greenOf(b)),
                                   over(blueOf(p), blueOf(b)), 255);
        }
    return out;
}

Lab labAt(std::uint32_t p) {
    return labOf(redOf(p), greenOf(p), blueOf(p));
}

// Calls `each` for the pixels within reach of (x, y); beyond the frame there is nothing.
template <class Each>
void around(const Straight8& mark, int x, int y, const Each& each) {
    for (int sy = std::max(0, y - reach); sy <= std::min(mark.height() - 1, y + reach); ++sy)
        for (int sx = std::max(0, x - reach); sx <= std::min(mark.width() - 1, x + reach); ++sx)
            each(sx, sy);
}

// All pixels within reach of an edge.
std::vector<MarkEdges::Span> spansNear(const std::vector<PixelRect>& edges, PixelSize size) {
    std::vector<std::uint8_t> close(static_cast<std::size_t>(size.count()), 0);
    const auto row = [&](int y) {
        return close.data() + static_cast<std::ptrdiff_t>(y) * size.width;
    };
    for (const PixelRect& edge : edges)
        for (int y = std::max(0, edge.top - reach); y < std::min(size.height, edge.bottom + reach);
             ++y)
            std::fill(row(y) + std::max(0, edge.left - reach),
                      row(y) + std::min(size.width, edge.right + reach), 1);
    std::vector<MarkEdges::Span> spans;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            if (row(y)[x] == 0) continue;
            const int from = x;
            while (x < size.width && row(y)[x] != 0) ++x;
            spans.push_back({y, from, x});
        }
    return spans;
}

// Six codes are never a difference that counts, wherever they lie: most of a mark is one ink.
bool mayDiffer(const Straight8& mark, int x, int y, int sx, int sy) {
    constexpr int alike = 6;
    const std::uint32_t p = mark.row(y)[x], q = mark.row(sy)[sx];
    return std::abs(redOf(p) - redOf(q)) > alike || std::abs(greenOf(p) - greenOf(q)) > alike ||
           std::abs(blueOf(p) - blueOf(q)) > alike;
}

}  // namespace

MarkEdges markEdges(const Straight8& mark) {
    constexpr int solid = 166, outside = 90;  // alpha
    constexpr double apart = 20;              // CIEDE2000
    MarkEdges edges;
    std::vector<Lab> labs;
    for (const std::uint32_t p : mark.pixels()) labs.push_back(labAt(p));
    const auto lab = [&](int x, int y) {
        return labs[static_cast<std::size_t>(y) * static_cast<std::size_t>(mark.width()) +
                    static_cast<std::size_t>(x)];
    };
    for (int y = 0; y < mark.height(); ++y)
        for (int x = 0; x < mark.width(); ++x) {
            const int own = alphaOf(mark.row(y)[x]);
            if (own < outside) continue;
            // At the frame's border the ink ends, too.
            int least = x < reach || y < reach || x + reach >= mark.width() ||
                                y + reach >= mark.height()
                            ? 0
                            : 255,
                most = own;
            bool inks = false;
            around(mark, x, y, [&](int sx, int sy) {
                const int a = alphaOf(mark.row(sy)[sx]);
                least = std::min(least, a);
                most = std::max(most, a);
                inks = inks || (own >= solid && a >= solid && mayDiffer(mark, x, y, sx, sy) &&
                                differsCie2000(lab(x, y), lab(sx, sy), apart));
            });
            if ((most <= 127 || least >= outside) && !inks) continue;
            edges.at.push_back({x, y, x + 1, y + 1});
            edges.weights.push_back(most / 255.0);
            edges.all += edges.weights.back();
            if (inks) edges.own += edges.weights.back();
        }
    edges.near = spansNear(edges.at, mark.size());
    return edges;
}

namespace {

// Luminances of a raster close to edges, and of each pixel there the least and the most within
// reach along its row.
class Lights {
  public:
    Lights(const Straight8& raster, const MarkEdges& edges) : width_(raster.width()) {
        const std::array<ByCode, 3>& parts = luminanceParts();
        const auto count = static_cast<std::size_t>(raster.size().count());
        std::vector<double> own(count);
        least_.resize(count);
        most_.resize(count);
        const auto all = raster.pixels();
        const auto rowOf = [&](int y) {
            return static_cast<std::size_t>(y) * static_cast<std::size_t>(width_);
        };
        for (const auto& [y, from, to] : edges.near)
            for (std::size_t i = rowOf(y) + static_cast<std::size_t>(from);
                 i < rowOf(y) + static_cast<std::size_t>(to); ++i)
                own[i] = luminanceOf(all[i], parts);
        for (const auto& [y, from, end] : edges.near) {
            const std::size_t row = rowOf(y);
            for (int x = from; x < end; ++x) {
                const int to = std::min(width_ - 1, x + reach);
                double low = 1, high = 0;
                for (int sx = std::max(0, x - reach); sx <= to; ++sx) {
                    const double v = own[row + static_cast<std::size_t>(sx)];
                    low = std::min(low, v);
                    high = std::max(high, v);
                }
                least_[row + static_cast<std::size_t>(x)] = low;
                most_[row + static_cast<std::size_t>(x)] = high;
            }
        }
    }
    std::pair<double, double> around(int x, int y, int height) const {
        double low = 1, high = 0;
        for (int sy = std::max(0, y - reach); sy <= std::min(height - 1, y + reach); ++sy) {
            const std::size_t at = static_cast<std::size_t>(sy) * static_cast<std::size_t>(width_) +
                                   static_cast<std::size_t>(x);
            low = std::min(low, least_[at]);
            high = std::max(high, most_[at]);
        }
        return {low, high};
    }

  private:
    int width_;
    std::vector<double> least_, most_;
};

// L*a*b* of a raster's pixels, each worked out once, when it is asked for.
class SeenLabs {
  public:
    explicit SeenLabs(const Straight8& raster)
        : raster_(raster), labs_(static_cast<std::size_t>(raster.size().count()), Lab{unknown}) {}
    const Lab& at(int x, int y) {
        Lab& lab = labs_[static_cast<std::size_t>(y) * static_cast<std::size_t>(raster_.width()) +
                         static_cast<std::size_t>(x)];
        if (lab.l == unknown) lab = labAt(raster_.row(y)[x]);
        return lab;
    }

  private:
    static constexpr double unknown = -1;
    const Straight8& raster_;
    std::vector<Lab> labs_;
};

// Whether a difference of colour is enough there: between the lightest and the darkest pixel within
// reach, or between the edge's own and any of them.
bool differsInColour(const Straight8& seenAs, const Straight8& behind, SeenLabs& labs, int x, int y,
                     bool atRim) {
    const std::array<ByCode, 3>& parts = luminanceParts();
    std::uint32_t lightest = seenAs.row(y)[x], darkest = lightest;
    double most = luminanceOf(lightest, parts), least = most;
    const auto look = [&](std::uint32_t p) {
        const double l = luminanceOf(p, parts);
        if (l > most) {
            most = l;
            lightest = p;
        }
        if (l < least) {
            least = l;
            darkest = p;
        }
    };
    around(seenAs, x, y, [&](int sx, int sy) { look(seenAs.row(sy)[sx]); });
    if (atRim) look(behind.row(y)[x]);
    bool out = differsCie2000(labAt(lightest), labAt(darkest), thresholds::standingColour);
    if (out) return true;
    const Lab own = labs.at(x, y);
    around(seenAs, x, y, [&](int sx, int sy) {
        out = out || differsCie2000(own, labs.at(sx, sy), thresholds::standingColour);
    });
    return out;
}

// Straight across the edge: where most of the ink is, against where least of it is.
bool differsInHue(const Straight8& mark, const Straight8& seenAs, const Straight8& behind, int x,
                  int y, bool atRim) {
    std::uint32_t in = seenAs.row(y)[x], out = in;
    int most = alphaOf(mark.row(y)[x]), least = most;
    around(mark, x, y, [&](int sx, int sy) {
        const int a = alphaOf(mark.row(sy)[sx]);
        if (a > most) in = seenAs.row(sy)[sx];
        if (a < least) out = seenAs.row(sy)[sx];
        most = std::max(most, a);
        least = std::min(least, a);
    });
    if (atRim) out = behind.row(y)[x];
    using namespace thresholds;
    return differsSeenBy(Sight::full, in, out, standingHue, true) &&
           std::ranges::all_of(
               std::array{Sight::withoutLong, Sight::withoutMiddle, Sight::withoutShort},
               [&](Sight sight) { return differsSeenBy(sight, in, out, standingColour); });
}

}  // namespace

double shareStandingOut(const Straight8& mark, const MarkEdges& edges, const Straight8& behind) {
    const Straight8 seenAs = laidOver(mark, edges, behind);
    const Lights lights(seenAs, edges);
    SeenLabs labs(seenAs);
    const bool drawn = edges.own >= thresholds::drawnShare * edges.all;
    double seen = 0;
    for (std::size_t i = 0; i < edges.at.size(); ++i) {
        const int x = edges.at[i].left, y = edges.at[i].top;
        auto [least, most] = lights.around(x, y, mark.height());
        const bool atRim =
            x < reach || y < reach || x + reach >= mark.width() || y + reach >= mark.height();
        if (atRim) {
            const double beside = luminanceOf(behind.row(y)[x]);
            least = std::min(least, beside);
            most = std::max(most, beside);
        }
        if (contrastRatio(most, least) >= thresholds::contrastWatch ||
            (drawn && differsInColour(seenAs, behind, labs, x, y, atRim)) ||
            differsInHue(mark, seenAs, behind, x, y, atRim))
            seen += edges.weights[i];
    }
    return edges.all > 0 ? seen / edges.all : 0;
}

}  // namespace zl
