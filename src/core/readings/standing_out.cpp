// SPDX-License-Identifier: GPL-3.0-or-later
// `standing-out`: for a mark, the share of its ink (by alpha, laid over the footage) that has a contrast of at least 3 : 1 with what is
// behind it, or lies within 4 % of the mark's width of ink that has; on three footages: light, dark, busy. Contrast after WCAG 2.2,
// SC 1.4.11.
#include <fmt/core.h>

#include <cmath>

#include "raster/colour.h"
#include "raster/distance.h"
#include "raster/footage.h"
#include "raster/ink_box.h"
#include "readings/reading.h"

namespace zl {
namespace {

// The share of the ink that stands out, 0..1.
double shareOn(const Straight8& mark, const Straight8& behind, double near) {
    Plane stands(mark.size());
    for (int y = 0; y < mark.height(); ++y)
        for (int x = 0; x < mark.width(); ++x) {
            const std::uint32_t p = mark.row(y)[x], b = behind.row(y)[x];
            const double a = alphaOf(p) / 255.0;
            if (a == 0) continue;
            const auto over = [&](int front, int back) { return front * a + back * (1 - a); };
            const double ink = relativeLuminance(over(redOf(p), redOf(b)), over(greenOf(p), greenOf(b)), over(blueOf(p), blueOf(b)));
            if (contrastRatio(ink, relativeLuminance(redOf(b), greenOf(b), blueOf(b))) >= thresholds::contrastWatch) stands.row(y)[x] = 1;
        }
    const EdgeDistance measured(stands, static_cast<float>(near + 2), std::array{static_cast<float>(near)});
    const Plane& away = measured.plane();
    double all = 0, seen = 0;
    for (int y = 0; y < mark.height(); ++y)
        for (int x = 0; x < mark.width(); ++x) {
            const double a = alphaOf(mark.row(y)[x]);
            all += a;
            if (away.row(y)[x] <= near) seen += a;
        }
    return all > 0 ? seen / all : 0;
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
    const Straight8& mark = *subject.pixels;
    const auto box = inkBoxOf(mark, marginAlpha);
    if (!box) {
        reading.says = {"standing-out.nothing", {}};
        return reading;
    }
    const double near = standingReach * box->width();
    double least = 1;
    int lost = 0;
    std::string where;
    for (const Footage footage : allFootage) {
        const double share = shareOn(mark, footageOf(footage, mark.size()), near);
        if (share < standingOut) {
            ++lost;
            reading.findings.push_back({*box, {}, {"standing-out.on", {std::string(nameOf(footage)), wholePercent(share)}}});
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
    reading.says = lost == 0 ? Message{"standing-out.good", {}} : Message{"standing-out.least", {wholePercent(least), where}};
    if (lost > 0 && subject.piece) reading.mends.emplace_back("outline-contrast");
    return reading;
}

}  // namespace zl
