// SPDX-License-Identifier: GPL-3.0-or-later
// `black-bars`: bars left by another shape, by Rec. ITU-R BT.709 luma. A bar is dark, even but for
// the ringing of a JPEG, and ends in a sharp step; a dark scene has no step and passes.
#include <fmt/core.h>

#include "colour/colour.h"
#include "readings/bars.h"
#include "readings/reading.h"

namespace zl {
namespace {

double luma(std::uint32_t p) {
    return luma709(redOf(p), greenOf(p), blueOf(p));
}

// The frame seen from one border: line 0 is the outermost row or column.
struct FromBorder {
    const Straight8& frame;
    bool rows, fromEnd;
    int lines() const { return rows ? frame.height() : frame.width(); }
    int length() const { return rows ? frame.width() : frame.height(); }
    double at(int line, int i) const {
        const int n = fromEnd ? lines() - 1 - line : line;
        return rows ? luma(frame.row(n)[i]) : luma(frame.row(i)[n]);
    }
    PixelRect rect(int thickness) const {
        const int from = fromEnd ? lines() - thickness : 0, to = fromEnd ? lines() : thickness;
        return rows ? PixelRect{0, from, frame.width(), to}
                    : PixelRect{from, 0, to, frame.height()};
    }
};

// Thickness in px of the bar at that border; 0 when there is none.
int barAt(const FromBorder& view) {
    using namespace thresholds;
    double darkest = 255, lightest = 0;
    int even = 0;  // lines that are dark and of one luma throughout
    for (; even < view.lines(); ++even) {
        double low = darkest, high = lightest;
        for (int i = 0; i < view.length() && high <= barLuma && high - low <= barSpread; ++i) {
            const double v = view.at(even, i);
            low = std::min(low, v);
            high = std::max(high, v);
        }
        if (high > barLuma || high - low > barSpread) break;
        darkest = low;
        lightest = high;
    }
    if (even == view.lines() || even < barShare * view.lines()) return 0;
    // A JPEG disturbs the last lines before the step: the blocks that the step goes through ring.
    // Resampling may spread the step over two lines: either of them has to show it.
    const double black = (darkest + lightest) / 2;
    const auto share = [&](int line, double above) {
        int count = 0;
        for (int i = 0; i < view.length(); ++i) count += view.at(line, i) - black >= above;
        return count / static_cast<double>(view.length());
    };
    for (int line = even; line < std::min(even + barRinging + 1, view.lines()); ++line) {
        if (share(line, barStep) >= barStepShare ||
            share(std::min(line + 1, view.lines() - 1), barStep) >= barStepShare)
            return line;
        if (share(line, barStep) > barDisturbed) return 0;
    }
    return 0;
}

struct Bars {
    int first = 0, second = 0;  // px at the two borders; none of them 0, or both
};
Bars barsOf(const Straight8& frame, bool rows) {
    const int first = barAt({frame, rows, false}),
              second = first > 0 ? barAt({frame, rows, true}) : 0;
    return first > 0 && second > 0 ? Bars{first, second} : Bars{};
}

}  // namespace

std::optional<PixelRect> insideBars(const Straight8& frame) {
    const Bars rows = barsOf(frame, true), columns = barsOf(frame, false);
    const PixelRect inside{columns.first, rows.first, frame.width() - columns.second,
                           frame.height() - rows.second};
    if (inside.empty() || inside == PixelRect::of(frame.size())) return {};
    return inside;
}

Reading measureBlackBars(const Subject& subject) {
    Reading reading;
    reading.unit = "px";
    reading.limit = 0.0;
    if (!subject.opaque) {
        reading.says = {"black-bars.see-through", {}};
        return reading;
    }
    const Straight8& frame = *subject.pixels;
    reading.verdict = Verdict::pass;
    reading.says = {"black-bars.none", {}};
    long long total = 0;
    for (const bool rows : {true, false}) {
        const FromBorder head{frame, rows, false}, foot{frame, rows, true};
        const auto [first, second] = barsOf(frame, rows);
        if (first == 0) continue;
        reading.verdict = Verdict::fail;
        reading.says = {"black-bars.found",
                        {static_cast<long long>(first), static_cast<long long>(second),
                         std::string(rows ? "top and bottom" : "left and right")}};
        reading.findings.push_back(
            {head.rect(first), {}, {"black-bars.bar", {static_cast<long long>(first)}}});
        reading.findings.push_back(
            {foot.rect(second), {}, {"black-bars.bar", {static_cast<long long>(second)}}});
        total += first + second;
    }
    if (total > 0) reading.mends = {"crop-bars", "fill-bars"};
    reading.value = static_cast<double>(total);
    reading.shown = total == 0 ? "none" : fmt::format("{} px", total);
    return reading;
}

}  // namespace zl
