// SPDX-License-Identifier: GPL-3.0-or-later
// `cut-off`: for pieces that stand free, the length of frame border where ink (alpha >= 24) is cut:
// a run along the border at least 70 % as long as the run 3 px further in (a disc that only touches
// the border is not cut). Common practice, no source: a shadow needs room.
#include <fmt/core.h>

#include "readings/reading.h"

namespace zl {
namespace {

constexpr int leastAlpha = 24, further = 3;
constexpr double share = 0.70;

struct Side {
    bool upright = false;       // left and right
    int length = 0, depth = 0;  // px along it, and across the frame
    std::function<int(int along, int in)> alpha;
    std::function<PixelRect(int from, int to)> place;
};

std::array<Side, 4> sidesOf(const Straight8& p) {
    const int w = p.width(), h = p.height();
    return {{{false, w, h, [&p](int i, int in) { return alphaOf(p.row(in)[i]); },
              [](int a, int b) {
                  return PixelRect{a, 0, b, 1};
              }},
             {false, w, h, [&p, h](int i, int in) { return alphaOf(p.row(h - 1 - in)[i]); },
              [h](int a, int b) {
                  return PixelRect{a, h - 1, b, h};
              }},
             {true, h, w, [&p](int i, int in) { return alphaOf(p.row(i)[in]); },
              [](int a, int b) {
                  return PixelRect{0, a, 1, b};
              }},
             {true, h, w, [&p, w](int i, int in) { return alphaOf(p.row(i)[w - 1 - in]); },
              [w](int a, int b) {
                  return PixelRect{w - 1, a, w, b};
              }}}};
}

// The runs of ink along one line, [from, to).
std::vector<std::pair<int, int>> runsOf(const Side& side, int in) {
    std::vector<std::pair<int, int>> runs;
    for (int i = 0; i < side.length; ++i) {
        if (side.alpha(i, in) < leastAlpha) continue;
        if (!runs.empty() && runs.back().second == i)
            ++runs.back().second;
        else
            runs.emplace_back(i, i + 1);
    }
    return runs;
}

}  // namespace

Reading measureCutOff(const Subject& subject) {
    Reading reading;
    reading.unit = "px";
    reading.limit = 0.0;
    reading.verdict = Verdict::pass;
    long long cut = 0;
    for (const Side& side : sidesOf(*subject.pixels)) {
        // Ink that is meant to be as wide as its frame, or to be its circle, touches it.
        if (subject.brief->fits == Fits::circle ||
            (subject.brief->fits == Fits::width && side.upright))
            continue;
        const auto inner = runsOf(side, std::min(further, side.depth - 1));
        for (const auto& [from, to] : runsOf(side, 0)) {
            int within = 0;  // what the runs further in that go on with this one measure
            for (const auto& [a, b] : inner)
                if (a < to && b > from) within += b - a;
            const int length = to - from;
            if (length < share * within) continue;
            cut += length;
            // A straight edge over a whole side may be meant: a bar that reaches from side to side.
            const bool whole = length == side.length;
            reading.verdict = std::max(reading.verdict, whole ? Verdict::watch : Verdict::fail);
            reading.findings.push_back(
                {side.place(from, to),
                 {},
                 {whole ? "cut-off.side" : "cut-off.run", {static_cast<long long>(length)}}});
        }
    }
    reading.value = static_cast<double>(cut);
    reading.rule = Rule{static_cast<double>(cut), 0, 40};
    reading.shown = fmt::format("{} px", cut);
    reading.shownBeside = "of the border";
    reading.says = cut == 0 ? Message{"cut-off.none", {}} : Message{"cut-off.most", {cut}};
    if (cut > 0 && subject.piece) reading.mends.emplace_back("make-room");
    return reading;
}

}  // namespace zl
