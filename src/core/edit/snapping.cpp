// SPDX-License-Identifier: GPL-3.0-or-later
#include "edit/snapping.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace zl {

std::vector<SnapLine> snapLines(PixelSize frame, const std::vector<RealRect>& zones,
                                const std::vector<RealRect>& layers,
                                const std::vector<Guide>& guides) {
    using Of = SnapLine::Of;
    std::vector<SnapLine> lines;
    const auto add = [&](bool upright, Of of, std::initializer_list<double> places) {
        for (const double at : places) lines.push_back({upright, at, of, 0});
    };
    const double w = frame.width, h = frame.height;
    add(true, Of::centre, {w / 2});
    add(false, Of::centre, {h / 2});
    add(true, Of::edge, {0, w});
    add(false, Of::edge, {0, h});
    for (const Guide& guide : guides) add(guide.upright, Of::guide, {guide.inPx(frame)});
    add(true, Of::third, {w / 3, 2 * w / 3});
    add(false, Of::third, {h / 3, 2 * h / 3});
    for (const RealRect& r : zones) {
        add(true, Of::zone, {r.x, r.right()});
        add(false, Of::zone, {r.y, r.bottom()});
    }
    for (const RealRect& r : layers) {
        add(true, Of::layer, {r.x, r.centre().x, r.right()});
        add(false, Of::layer, {r.y, r.centre().y, r.bottom()});
    }
    return lines;
}

std::vector<SnapLine> gapLines(const RealRect& box, const std::vector<RealRect>& layers) {
    std::vector<SnapLine> lines;
    for (const bool across : {true, false}) {
        const auto start = [&](const RealRect& r) { return across ? r.x : r.y; };
        const auto end = [&](const RealRect& r) { return across ? r.right() : r.bottom(); };
        // What stands beside the box, seen along the other axis, in order.
        std::vector<RealRect> beside;
        for (const RealRect& r : layers)
            if (across ? r.y < box.bottom() && r.bottom() > box.y
                       : r.x < box.right() && r.right() > box.x)
                beside.push_back(r);
        std::sort(beside.begin(), beside.end(),
                  [&](const RealRect& a, const RealRect& b) { return start(a) < start(b); });
        const double length = end(box) - start(box);
        const auto add = [&](double at, double wide) {
            lines.push_back({across, at, SnapLine::Of::gap, wide});
        };
        for (std::size_t i = 0; i + 1 < beside.size(); ++i) {
            const double gap = start(beside[i + 1]) - end(beside[i]);
            if (gap <= 0) continue;
            if (gap > length) add(end(beside[i]) + (gap - length) / 2, (gap - length) / 2);
            add(end(beside[i + 1]) + gap, gap);
            add(start(beside[i]) - gap - length, gap);
        }
    }
    return lines;
}

Snapped snap(const RealRect& box, const std::vector<SnapLine>& lines, double reach) {
    Snapped out;
    double nearestX = reach, nearestY = reach;
    for (const SnapLine& line : lines) {
        const double places[3] = {line.upright ? box.x : box.y,
                                  line.upright ? box.centre().x : box.centre().y,
                                  line.upright ? box.right() : box.bottom()};
        double& nearest = line.upright ? nearestX : nearestY;
        for (const double place : std::span(places, line.of == SnapLine::Of::gap ? 1 : 3)) {
            const double by = line.at - place;
            auto& kept = line.upright ? out.upright : out.level;
            if (std::abs(by) > nearest || (kept && std::abs(by) == nearest)) continue;
            nearest = std::abs(by);
            kept = line;
            (line.upright ? out.by.x : out.by.y) = by;
        }
    }
    return out;
}

}  // namespace zl
