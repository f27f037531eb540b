// SPDX-License-Identifier: GPL-3.0-or-later
// What a drag does to the kit: layers moved, scaled, turned; guides moved.
#include <cmath>
#include <numbers>

#include "edit/edits.h"
#include "kit/layer_kinds.h"
#include "make/canvas/canvas.h"

namespace zl::app {
namespace {

constexpr double smallest = 4;

}  // namespace

void Canvas::moveTo(RealPoint by, bool free) {
    RealRect there = drag_.bounds;
    there.x += by.x;
    there.y += by.y;
    constexpr double reachPx = 6;
    drag_.snapped = {};
    if (!free) {  // Ctrl lets it go where the hand goes
        std::vector<SnapLine> lines = drag_.lines;
        for (const SnapLine& gap : gapLines(there, drag_.others)) lines.push_back(gap);
        drag_.snapped = snap(there, lines, reachPx / shownScale());
    }
    // A hand that has not moved one way is not drawn that way: coming back is coming back.
    if (by.x == 0) drag_.snapped.upright.reset(), drag_.snapped.by.x = 0;
    if (by.y == 0) drag_.snapped.level.reset(), drag_.snapped.by.y = 0;
    std::vector<Layer> next = drag_.layers;
    for (Layer& layer : next)
        layer =
            insideCut(moved(layer, by.x + drag_.snapped.by.x, by.y + drag_.snapped.by.y), layer);
    session_.apply(withChangedLayers(session_.kit(), session_.piece()->id, next), tr("Move"),
                   drag_.mergeKey);
}

// In the layer's own, unturned coordinates; the corner that stands fixed does so after the turn,
// too.
void Canvas::scaleTo(const RealPoint& to, bool shapeFree) {
    const Turn& turn = drag_.layer.turn;
    const RealPoint centre = drag_.box.centre(), own = unturned(to, turn, centre);
    const bool left = drag_.grip == Grip::topLeft || drag_.grip == Grip::bottomLeft;
    const bool top = drag_.grip == Grip::topLeft || drag_.grip == Grip::topRight;
    const RealPoint fixed{left ? drag_.box.right() : drag_.box.x,
                          top ? drag_.box.bottom() : drag_.box.y};
    double fx = std::abs(own.x - fixed.x) / drag_.box.width,
           fy = std::abs(own.y - fixed.y) / drag_.box.height;
    fx = std::max(fx, smallest / drag_.box.width);
    fy = std::max(fy, smallest / drag_.box.height);
    if (!shapeFree || kindOf(drag_.layer).keepsShape) fx = fy = std::max(fx, fy);
    Layer next = insideCut(scaled(drag_.layer, fx, fy, fixed), drag_.layer);
    if (!turn.none()) {
        const RealPoint before = turned(fixed, turn, centre),
                        after = turned(fixed, turn, boxOf(next).centre());
        next = moved(next, before.x - after.x, before.y - after.y);
    }
    session_.apply(withChangedLayer(session_.kit(), session_.piece()->id, next), tr("Scale"),
                   drag_.mergeKey);
}

void Canvas::turnTo(const RealPoint& from, const RealPoint& to, bool inSteps) {
    const RealPoint centre = drag_.box.centre();
    const double by = (std::atan2(to.y - centre.y, to.x - centre.x) -
                       std::atan2(from.y - centre.y, from.x - centre.x)) *
                      180 / std::numbers::pi;
    double degrees = drag_.layer.turn.degrees + by;
    constexpr double step = 15, nearly = 2;
    if (inSteps)
        degrees = std::round(degrees / step) * step;
    else if (std::abs(degrees - std::round(degrees / 90) * 90) < nearly)
        degrees = std::round(degrees / 90) * 90;
    degrees = std::round(std::remainder(degrees, 360) * 10) / 10;
    Layer next = drag_.layer;
    next.turn.degrees = degrees;
    session_.apply(withChangedLayer(session_.kit(), session_.piece()->id, next), tr("Turn"),
                   drag_.mergeKey);
}

// Out of the frame, a guide is thrown away.
void Canvas::guideTo(const RealPoint& to) {
    Piece next = *session_.piece();
    if (drag_.guide < 0 || drag_.guide >= static_cast<int>(next.guides.size())) return;
    Guide& guide = next.guides[static_cast<std::size_t>(drag_.guide)];
    const double side = guide.upright ? next.frame.width : next.frame.height,
                 at = std::round(guide.upright ? to.x : to.y);
    if (at < 0 || at > side) {
        next.guides.erase(next.guides.begin() + drag_.guide);
        drag_ = {};
    } else {
        guide.at = guide.isShare ? at / side : at;
    }
    session_.apply(withChangedPiece(session_.kit(), next), tr("Move a guide"), drag_.mergeKey);
}

Layer Canvas::insideCut(Layer next, const Layer& before) const {
    return insideCut_ ? withShapesStanding(before, std::move(next)) : next;
}

}  // namespace zl::app
