// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/labels.h"

#include <algorithm>
#include <cmath>

#include "cut/subject/graph.h"

namespace zl {
namespace {

// From the rim of the box to its inside over the outer half; a side on the picture's edge tells
// nothing.
Plane boxPrior(PixelSize size, const PixelRect& box, const Leaning& leaning) {
    Plane out(size, leaning.inside);
    const auto share = [](int at, int from, int to, bool first, bool last) {
        const double quarter = std::max(1.0, (to - from) / 4.0);
        double least = 1;
        if (!first) least = std::min(least, (at + 0.5 - from) / quarter);
        if (!last) least = std::min(least, (to - at - 0.5) / quarter);
        return std::clamp(least, 0.0, 1.0);
    };
    for (int y = 0; y < size.height; ++y) {
        const double down = share(y, box.top, box.bottom, box.top <= 0, box.bottom >= size.height);
        for (int x = 0; x < size.width; ++x) {
            const double across =
                share(x, box.left, box.right, box.left <= 0, box.right >= size.width);
            out.row(y)[x] = static_cast<float>(leaning.rim + (leaning.inside - leaning.rim) *
                                                                 std::min(down, across));
        }
    }
    return out;
}

// What strokes say beyond their own pixels: much near them, less the further a way goes over
// changes of colour.
void addStrokePrior(Plane& prior, const Working& working, const Labels& strokes) {
    const PixelSize size = working.size();
    const float reach = 0.12F * static_cast<float>(std::max(size.width, size.height));
    for (const std::uint8_t side : {ofGround, ofSubject}) {
        if (std::find(strokes.all().begin(), strokes.all().end(), side) == strokes.all().end())
            continue;
        const Plane far = geodesicFrom(working, strokes, side);
        const float most = side == ofSubject ? 4.0F : -4.0F;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                prior.row(y)[x] += most * std::exp(-far.row(y)[x] / reach);
    }
}

}  // namespace

Leaning leaningOf(SubjectEdge edge) {
    switch (edge) {
        case SubjectEdge::tighter:
            return {6, -1.5F, 0.5F};
        case SubjectEdge::fuller:
            return {10, 0.5F, 2};
        case SubjectEdge::asFound:
            break;
    }
    return {};
}

Result<Start> startOf(const Working& working, const PixelRect& box) {
    const PixelSize size = working.size();
    Start start{Labels(size), working.sure, box};
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const bool in = x >= box.left && x < box.right && y >= box.top && y < box.bottom;
            if (!in) start.sure.at(x, y) = ofGround;
            if (start.sure.at(x, y) == undecided) start.labels.at(x, y) = ofSubject;
        }
    constexpr int iterations = 4;
    auto labels = grabbed(working.pixels, start.labels, start.sure, iterations);
    if (!labels) return passOn(labels.error());
    start.labels = std::move(*labels);
    return start;
}

Result<Labels> refined(const Working& working, const Start& start, std::span<const Stroke> strokes,
                       const Leaning& leaning, const std::stop_token& stop) {
    const Labels touched =
        strokes.empty() ? Labels{} : drawn(strokes, working.size(), working.scale);
    Labels known = start.sure;
    Plane prior = boxPrior(working.size(), start.box, leaning);
    if (!touched.empty()) {
        for (std::size_t i = 0; i < known.all().size(); ++i)
            if (touched.all()[i] != undecided) known.all()[i] = touched.all()[i];
        addStrokePrior(prior, working, touched);
    }
    Labels now = start.labels;
    const auto link = [&](int x, int y, int dx, int dy) {
        return leaning.together * working.link(x, y, dx, dy);
    };
    const int rounds = strokes.empty() ? 3 : 2;
    for (int round = 0; round < rounds; ++round) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        for (std::size_t i = 0; i < now.all().size(); ++i)
            if (known.all()[i] != undecided) now.all()[i] = known.all()[i];
        const Colours colours(working, now, touched);
        auto next = minimumCut(
            known,
            [&](int x, int y) { return colours(working.pixels.row(y)[x]) + prior.row(y)[x]; },
            link);
        if (!next) return passOn(next.error());
        const bool same = *next == now;
        now = std::move(*next);
        if (same) break;
    }
    return now;
}

}  // namespace zl
