// SPDX-License-Identifier: GPL-3.0-or-later
// `standing-out`: for what is laid over footage. A mark is seen by its edges: the share, by length
// and alpha, of its outer contour and of the edges between its own inks (CIEDE2000 >= 20 apart), at
// the size it has on a large player, across which it stands out over the footage; on three
// footages: light, dark, busy. A mark of one ink is told from its ground by lightness alone and
// needs a contrast of 3 : 1 (WCAG 2.2, SC 1.4.11); one that has a drawing of its own carries
// contrast along, and a difference of colour (CIEDE2000 >= 10) is enough there. The shares and the
// difference are ours, set on real icons (docs/truth.md).
#include <fmt/core.h>

#include <cmath>

#include "colour/colour.h"
#include "raster/footage.h"
#include "raster/ink_box.h"
#include "raster/resample.h"
#include "readings/reading.h"

namespace zl {
namespace {

double luminanceOf(std::uint32_t p) {
    return relativeLuminance(redOf(p), greenOf(p), blueOf(p));
}

constexpr int reach = 2;  // px: how far across an edge is looked

// px of the player for a px of the frame, on the largest player of the brief; 1 where it has none.
double scaleOnPlayer(const Brief& brief, PixelSize frame) {
    double most = 0;
    for (const SurfaceSpec& surface : brief.surfaces)
        if (surface.kind == SurfaceKind::player)
            most = std::max(most, static_cast<double>(markHeightOn(surface.width)) / frame.height);
    return most > 0 ? std::min(most, 1.0) : 1;
}

Straight8 scaled(const Straight8& mark, double scale) {
    if (scale >= 1) return mark.clone();
    const PixelSize size{std::max(1, static_cast<int>(std::lround(mark.width() * scale))),
                         std::max(1, static_cast<int>(std::lround(mark.height() * scale)))};
    const auto shared = std::make_shared<const Straight8>(mark.clone());
    const Ink small = resampled(shared, false, RealRect::of(mark.size()), RealRect::of(size),
                                PixelRect::of(size));
    Straight8 out = Straight8::cleared(size);
    const Straight8 part = rounded8(small);
    for (int y = 0; y < part.height(); ++y)
        std::copy_n(part.row(y), part.width(), out.row(y + small.box.top) + small.box.left);
    return out;
}

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

struct Edges {
    std::vector<PixelRect> at;    // a pixel each
    std::vector<double> weights;  // the alpha beside it, 0..1
    double own = 0, all = 0;      // the weight of the edges between its own inks, and of all
};

// The mark's contour, and where two of its inks meet.
Edges edgesOf(const Straight8& mark) {
    constexpr int solid = 166, outside = 90;  // alpha
    constexpr double apart = 20;              // CIEDE2000
    Edges edges;
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
double shareOn(const Straight8& mark, const Edges& edges, const Straight8& behind) {
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

// What is told never promises more than is measured.
double wholePercent(double share) {
    return std::floor(share * 100);
}

}  // namespace

Reading measureStandingOut(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "share";
    reading.limit = standingOut;
    const auto box = inkBoxOf(*subject.pixels, marginAlpha);
    const Straight8 mark =
        scaled(*subject.pixels, scaleOnPlayer(*subject.brief, subject.pixels->size()));
    const auto edges = edgesOf(mark);
    if (!box || edges.at.empty()) {
        reading.says = {"standing-out.nothing", {}};
        return reading;
    }
    double least = 1;
    int lost = 0;
    std::string where;
    for (const Footage footage : allFootage) {
        const double share = shareOn(mark, edges, footageOf(footage, mark.size()));
        if (share < standingOut) {
            ++lost;
            reading.findings.push_back(
                {*box,
                 {},
                 {"standing-out.on", {std::string(nameOf(footage)), wholePercent(share)}}});
        }
        if (share < least) {
            least = share;
            where = nameOf(footage);
        }
    }
    reading.verdict = lost == 0 ? Verdict::pass : lost == 1 ? Verdict::watch : Verdict::fail;
    reading.value = least;
    reading.rule = Rule{least * 100, standingOut * 100, 100};
    reading.shown = fmt::format("{:.0f} %", wholePercent(least));
    reading.shownBeside = where.empty() ? "on all footage" : fmt::format("on {} footage", where);
    reading.says = lost == 0 ? Message{"standing-out.good", {}}
                             : Message{"standing-out.least", {wholePercent(least), where}};
    if (lost > 0) reading.mends.emplace_back("outline-contrast");
    return reading;
}

}  // namespace zl
