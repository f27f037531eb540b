// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/snapping.h"

#include <cmath>

namespace zl {

std::vector<SnapLine> snapLines(PixelSize frame, const std::vector<RealRect>& zones, const std::vector<RealRect>& layers) {
    using Of = SnapLine::Of;
    std::vector<SnapLine> lines;
    const auto add = [&](bool upright, Of of, std::initializer_list<double> places) {
        for (const double at : places) lines.push_back({upright, at, of});
    };
    const double w = frame.width, h = frame.height;
    add(true, Of::centre, {w / 2});
    add(false, Of::centre, {h / 2});
    add(true, Of::edge, {0, w});
    add(false, Of::edge, {0, h});
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

Snapped snap(const RealRect& box, const std::vector<SnapLine>& lines, double reach) {
    Snapped out;
    double nearestX = reach, nearestY = reach;
    for (const SnapLine& line : lines) {
        const double places[3] = {line.upright ? box.x : box.y, line.upright ? box.centre().x : box.centre().y,
                                  line.upright ? box.right() : box.bottom()};
        double& nearest = line.upright ? nearestX : nearestY;
        for (const double place : places) {
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
