// SPDX-License-Identifier: GPL-3.0-or-later
// `margins`: the empty rim to ink of alpha >= 8 on each side, and how far the ink's box stands off the centre. Common practice, no
// source.
#include <fmt/core.h>

#include <cmath>

#include "raster/ink_box.h"
#include "readings/reading.h"

namespace zl {

Reading measureMargins(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "px";
    if (subject.brief->centred) reading.limit = offCentre;
    const PixelSize frame = subject.pixels->size();
    const auto ink = inkBoxOf(*subject.pixels, marginAlpha);
    if (!ink) {
        reading.says = {"margins.nothing", {}};
        return reading;
    }
    reading.verdict = Verdict::pass;
    const auto side = [&](const char* word, int empty, int length, PixelRect rim) {
        if (empty <= marginWatch * length) return;
        reading.verdict = Verdict::watch;
        reading.findings.push_back({rim, {}, {"margins.rim", {std::string(word), static_cast<long long>(empty), 100.0 * empty / length}}});
    };
    const int w = frame.width, h = frame.height;
    side("left", ink->left, w, {0, 0, ink->left, h});
    side("top", ink->top, h, {0, 0, w, ink->top});
    side("right", w - ink->right, w, {ink->right, 0, w, h});
    side("bottom", h - ink->bottom, h, {0, ink->bottom, w, h});
    const bool rimmed = !reading.findings.empty();
    const double off = std::hypot((ink->left + ink->right - w) / 2.0, (ink->top + ink->bottom - h) / 2.0);
    const bool aside = subject.brief->centred && off > offCentre;
    if (aside) {
        reading.verdict = Verdict::watch;
        reading.findings.push_back({*ink, {}, {"margins.off-centre", {off}}});
    }
    reading.value = off;
    reading.rule = Rule{off, offCentre, 5 * offCentre};
    reading.shown = fmt::format("{:.1f} px", off);
    reading.shownBeside = "off the centre";
    reading.says = reading.findings.empty() ? Message{"margins.good",
                                                      {static_cast<long long>(ink->left), static_cast<long long>(ink->top),
                                                       static_cast<long long>(w - ink->right), static_cast<long long>(h - ink->bottom)}}
                                            : reading.findings.front().says;
    if (rimmed) reading.mends.emplace_back("trim");
    if (aside) reading.mends.emplace_back("centre");
    return reading;
}

}  // namespace zl
