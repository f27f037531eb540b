// SPDX-License-Identifier: GPL-3.0-or-later
// `margins`: the empty rim to ink of alpha >= 24 on each side, and how far the ink stands off the
// centre. Ink that is as wide as its frame is no fault of that direction, nor of the other one's
// rim. The centre of a lopsided shape is no one point: its box, the box of its solid part and its
// centre of mass differ, and what they differ by is left open. Common practice, no source; the
// numbers are ours.
#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "raster/ink_box.h"
#include "readings/reading.h"

namespace zl {
namespace {

constexpr double fillsForCentre = 0.85,
                 fillsForRim = 0.88;  // share of the side: as wide as its frame

// How far the ink stands off the centre in one direction, px: 0 where it fills it; less what its
// own shape leaves open.
double offIn(double length, double from, double to, double solidFrom, double solidTo, double mass) {
    if (to - from >= fillsForCentre * length) return 0;
    const std::array<double, 3> off{(from + to - length) / 2, (solidFrom + solidTo - length) / 2,
                                    mass - length / 2};
    const auto [low, high] = std::minmax_element(off.begin(), off.end());
    if (*low <= 0 && *high >= 0) return 0;
    return std::max(0.0, std::min(std::abs(*low), std::abs(*high)) - 2 * (*high - *low));
}

RealPoint massOf(const Straight8& p) {
    double all = 0, x = 0, y = 0;
    for (int j = 0; j < p.height(); ++j)
        for (int i = 0; i < p.width(); ++i) {
            const double a = alphaOf(p.row(j)[i]);
            all += a;
            x += a * (i + 0.5);
            y += a * (j + 0.5);
        }
    return {x / all, y / all};
}

}  // namespace

namespace {

Message roomRound(const PixelRect& ink, PixelSize frame) {
    return {"margins.good",
            {static_cast<long long>(ink.left), static_cast<long long>(ink.top),
             static_cast<long long>(frame.width - ink.right),
             static_cast<long long>(frame.height - ink.bottom)}};
}

}  // namespace

Reading measureMargins(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "px";
    const PixelSize frame = subject.pixels->size();
    const double allowed =
        std::max(offCentre, offCentreShare * std::max(frame.width, frame.height));
    if (subject.brief->centred) reading.limit = allowed;
    const auto ink = inkBoxOf(*subject.pixels, marginAlpha);
    if (!ink) {
        reading.says = {"margins.nothing", {}};
        return reading;
    }
    reading.verdict = Verdict::pass;
    // A wide mark leaves room above and below, and is none the worse for it.
    const bool fillsWidth =
        subject.brief->fits != Fits::inside || ink->width() >= fillsForRim * frame.width;
    const bool fillsHeight =
        subject.brief->fits == Fits::circle || ink->height() >= fillsForRim * frame.height;
    const auto side = [&](const char* word, int empty, int length, PixelRect rim) {
        if (empty <= marginWatch * length) return;
        reading.verdict = Verdict::watch;
        reading.findings.push_back(
            {rim,
             {},
             {"margins.rim",
              {std::string(word), static_cast<long long>(empty), 100.0 * empty / length}}});
    };
    const int w = frame.width, h = frame.height;
    if (!fillsHeight) {
        side("left", ink->left, w, {0, 0, ink->left, h});
        side("right", w - ink->right, w, {ink->right, 0, w, h});
    }
    if (!fillsWidth) {
        side("top", ink->top, h, {0, 0, w, ink->top});
        side("bottom", h - ink->bottom, h, {0, ink->bottom, w, h});
    }
    const bool rimmed = !reading.findings.empty();
    const RealPoint mass = massOf(*subject.pixels);
    const PixelRect solid = inkBoxOf(*subject.pixels, 128).value_or(*ink);
    const double off = std::hypot(offIn(w, ink->left, ink->right, solid.left, solid.right, mass.x),
                                  offIn(h, ink->top, ink->bottom, solid.top, solid.bottom, mass.y));
    const bool aside = subject.brief->centred && off > allowed;
    if (aside) {
        reading.verdict = Verdict::watch;
        reading.findings.push_back({*ink, {}, {"margins.off-centre", {off}}});
    }
    reading.value = off;
    reading.rule = Rule{off, allowed, 5 * allowed};
    reading.shown = fmt::format("{:.1f} px", off);
    reading.shownBeside = "off the centre";
    reading.says = rimmed || aside ? reading.findings.front().says : roomRound(*ink, frame);
    if (rimmed) reading.mends.emplace_back("trim");
    if (aside) reading.mends.emplace_back("centre");
    return reading;
}

}  // namespace zl
