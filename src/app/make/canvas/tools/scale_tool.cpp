// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/scale_tool.h"

#include <cmath>

#include "edit/edits.h"

namespace zl::app {

std::optional<Corner> ScaleTool::cornerUnder(QPointF at) const {
    const auto choice = choiceBox(session());
    return choice ? cornerAt(*choice, viewport(), at) : std::nullopt;
}

std::optional<Qt::CursorShape> ScaleTool::hover(const Hand& hand) {
    const auto corner = cornerUnder(hand.at);
    return corner ? std::optional(cursorOf(*corner)) : std::nullopt;
}

bool ScaleTool::press(const Hand& hand) {
    const auto corner = cornerUnder(hand.at);
    if (hand.button != Qt::LeftButton || !corner) return false;
    corner_ = *corner;
    before_ = *session().layer();
    begin(hand);
    return true;
}

// In the layer's own, unturned coordinates; the corner that stands fixed does so after the turn,
// too.
void ScaleTool::drag(const Hand& hand) {
    constexpr double smallest = 4;  // px of the frame
    const Turn& turn = before_.turn;
    const RealRect box = boxOf(before_);
    const RealPoint centre = box.centre(),
                    own = unturned(viewport().toFrame(hand.at), turn, centre),
                    fixed = across(box, corner_);
    double fx = std::max(std::abs(own.x - fixed.x), smallest) / box.width,
           fy = std::max(std::abs(own.y - fixed.y), smallest) / box.height;
    if (!hand.with(Qt::ControlModifier) || kindOf(before_).keepsShape) fx = fy = std::max(fx, fy);
    Layer next = scaled(before_, fx, fy, fixed);
    if (place_.insideCut) next = withShapesStanding(before_, std::move(next));
    if (!turn.none()) {
        const RealPoint was = turned(fixed, turn, centre),
                        is = turned(fixed, turn, boxOf(next).centre());
        next = moved(next, was.x - is.x, was.y - is.y);
    }
    session().apply(withChangedLayer(session().kit(), session().piece()->id, next), tr("Scale"),
                    mergeKey());
}

}  // namespace zl::app
