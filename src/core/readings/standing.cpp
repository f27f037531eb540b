// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/standing.h"

#include <algorithm>

#include "colour/colour.h"
#include "readings/reading.h"

namespace zl {
namespace {

double luminanceOf(std::uint32_t p) {
    return relativeLuminance(redOf(p), greenOf(p), blueOf(p));
}

constexpr int reach = 2;  // px: how far across an edge is looked

// The mark over a footage, 0xFFRRGGBB.
Straight8 laidOver(const Straight8& mark, const Straight8& behind) {
    Straight8 out(mark.size());
    for (int y = 0; y < mark.height(); ++y)
        for (int x = 0; x < mark.width(); ++x) {
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
                inks = inks || (own >= solid && a >= solid &&
                                differenceCie2000(lab(x, y), lab(sx, sy)) >= apart);
            });
            if ((most <= 127 || least >= outside) && !inks) continue;
            edges.at.push_back({x, y, x + 1, y + 1});
            edges.weights.push_back(most / 255.0);
            edges.all += edges.weights.back();
            if (inks) edges.own += edges.weights.back();
        }
    return edges;
}

// The share of the edges, by their weights, that stand out on that footage, 0..1.
double shareStandingOut(const Straight8& mark, const MarkEdges& edges, const Straight8& behind) {
    const Straight8 seenAs = laidOver(mark, behind);
    const bool drawn = edges.own >= thresholds::drawnShare * edges.all;
    double seen = 0;
    for (std::size_t i = 0; i < edges.at.size(); ++i) {
        const int x = edges.at[i].left, y = edges.at[i].top;
        std::uint32_t lightest = seenAs.row(y)[x], darkest = lightest;
        double most = luminanceOf(lightest), least = most;
        const auto look = [&](std::uint32_t p) {
            const double l = luminanceOf(p);
            if (l > most) {
                most = l;
                lightest = p;
            }
            if (l < least) {
                least = l;
                darkest = p;
            }
        };
        around(mark, x, y, [&](int sx, int sy) { look(seenAs.row(sy)[sx]); });
        if (x < reach || y < reach || x + reach >= mark.width() || y + reach >= mark.height())
            look(behind.row(y)[x]);
        bool out = contrastRatio(most, least) >= thresholds::contrastWatch;
        if (!out && drawn) {
            const Lab own = labAt(seenAs.row(y)[x]);
            out = differenceCie2000(labAt(lightest), labAt(darkest)) >= thresholds::standingColour;
            if (!out)
                around(mark, x, y, [&](int sx, int sy) {
                    out = out || differenceCie2000(own, labAt(seenAs.row(sy)[sx])) >=
                                     thresholds::standingColour;
                });
        }
        if (out) seen += edges.weights[i];
    }
    return edges.all > 0 ? seen / edges.all : 0;
}

}  // namespace zl
