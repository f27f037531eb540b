// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/turn_tool.h"

#include <cmath>
#include <numbers>

#include "edit/edits.h"
#include "make/canvas/tools/choice_box.h"

namespace zl::app {

bool TurnTool::isOver(QPointF at) const {
    const auto choice = choiceBox(session());
    if (!choice) return false;
    const QPointF away = turnHandle(*choice, viewport()) - at;
    return std::hypot(away.x(), away.y()) <= handleReach;
}

std::optional<Qt::CursorShape> TurnTool::hover(const Hand& hand) {
    return isOver(hand.at) ? std::optional(Qt::PointingHandCursor) : std::nullopt;
}

bool TurnTool::press(const Hand& hand) {
    if (hand.button != Qt::LeftButton || !isOver(hand.at)) return false;
    before_ = *session().layer();
    begin(hand);
    return true;
}

void TurnTool::drag(const Hand& hand) {
    const RealPoint centre = boxOf(before_).centre(), to = viewport().toFrame(hand.at);
    const double by = (std::atan2(to.y - centre.y, to.x - centre.x) -
                       std::atan2(from().y - centre.y, from().x - centre.x)) *
                      180 / std::numbers::pi;
    double degrees = before_.turn.degrees + by;
    constexpr double step = 15, nearly = 2;
    if (hand.with(Qt::ShiftModifier))
        degrees = std::round(degrees / step) * step;
    else if (std::abs(degrees - std::round(degrees / 90) * 90) < nearly)
        degrees = std::round(degrees / 90) * 90;
    degrees = std::round(std::remainder(degrees, 360) * 10) / 10;
    Layer next = before_;
    next.turn.degrees = degrees;
    session().apply(withChangedLayer(session().kit(), session().piece()->id, next), tr("Turn"),
                    mergeKey());
}

}  // namespace zl::app
