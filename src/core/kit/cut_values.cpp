// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/cut_values.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace zl {
namespace {

constexpr double farthest = 1e6;  // px

bool within(double v, double low, double high) {
    return std::isfinite(v) && v >= low && v <= high;
}
bool placed(const std::vector<RealPoint>& points) {
    return std::all_of(points.begin(), points.end(), [](const RealPoint& p) {
        return within(p.x, -farthest, farthest) && within(p.y, -farthest, farthest);
    });
}

bool sized(const RealRect& b) {
    return within(b.x, -farthest, farthest) && within(b.y, -farthest, farthest) &&
           within(b.width, 1e-3, farthest) && within(b.height, 1e-3, farthest);
}

Result<void> check(const std::vector<Stroke>& strokes) {
    if (strokes.size() > mostStrokes)
        return fail(Code::badUsage, fmt::format("A cut takes up to {} strokes.", mostStrokes));
    for (const Stroke& stroke : strokes) {
        if (!within(stroke.radius, 0.5, 2000))
            return fail(Code::badUsage, "A brush is 0.5 to 2000 px in radius.");
        if (stroke.points.empty() || stroke.points.size() > mostPoints || !placed(stroke.points))
            return fail(Code::badUsage, "A stroke has 1 to 20,000 points, none too far away.");
    }
    return {};
}

Result<void> check(const KeyCut& key) {
    if (key.tolerance && !within(*key.tolerance, 0, 100))
        return fail(Code::badUsage, "A key's tolerance goes from 0 to 100.");
    if (key.colour && key.colour->alpha != 255)
        return fail(Code::badUsage, "A key's colour has no alpha.", "Write #RRGGBB.");
    if (key.from && !placed({*key.from}))
        return fail(Code::badUsage, "The point that a key starts from is too far away.");
    return check(key.strokes);
}

Result<void> check(const SubjectCut& subject) {
    if (subject.box && !sized(*subject.box))
        return fail(Code::badUsage, "A subject's box is 0.001 to 1,000,000 px wide and high.");
    if (subject.guess < 0 || subject.guess >= mostGuesses)
        return fail(Code::badUsage, "There are three guesses, from 0 to 2.");
    return check(subject.strokes);
}

Result<void> check(const ShapeCut& shape) {
    if (!within(shape.feather, 0, 2000))
        return fail(Code::badUsage, "A feather goes from 0 to 2000 px.");
    if (shape.shape == CutShape::polygon) {
        if (shape.points.size() < 3 || shape.points.size() > mostPoints)
            return fail(Code::badUsage, "A polygon has 3 or more points.");
        if (!placed(shape.points))
            return fail(Code::badUsage, "A point of the polygon is too far away.");
        return {};
    }
    if (!sized(shape.box))
        return fail(Code::badUsage, "A cut's width and height go from 0.001 to 1,000,000 px.");
    for (const double r : shape.radii)
        if (!within(r, 0, shape.radiiAreShares ? 50 : farthest))
            return fail(Code::badUsage, shape.radiiAreShares
                                            ? "A corner takes up to 50 % of the shorter side."
                                            : "A corner's radius is 0 px or more.");
    return {};
}

Result<void> check(const CleanCut& clean) {
    if (!within(clean.scale, 0.01, 100))
        return fail(Code::badUsage, "A cleaning's scale goes from 0.01 to 100.");
    return {};
}

}  // namespace

std::vector<Stroke>* Cut::strokes() {
    if (KeyCut* its = key()) return &its->strokes;
    SubjectCut* its = subject();
    return its ? &its->strokes : nullptr;
}

Result<void> checkCut(const Cut& cut) {
    return std::visit([](const auto& what) { return check(what); }, cut.what);
}

}  // namespace zl
