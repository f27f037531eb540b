// SPDX-License-Identifier: GPL-3.0-or-later
// The box of what is chosen, with its handles: where they are, which of them lies under the hand,
// and how they are drawn.
#pragma once

#include <optional>

#include "make/canvas/viewport.h"
#include "work/session.h"

class QPainter;

namespace zl::app {

inline constexpr double handleReach = 9;  // px of the widget

struct ChoiceBox {
    RealRect box;  // px of what is shown, before its turn
    Turn turn{};
};
// Of the chosen layer; nothing when none is.
std::optional<ChoiceBox> choiceBox(const Session& session);

enum class Corner { topLeft, topRight, bottomRight, bottomLeft };
inline bool isLeft(Corner corner) {
    return corner == Corner::topLeft || corner == Corner::bottomLeft;
}
inline bool isTop(Corner corner) {
    return corner == Corner::topLeft || corner == Corner::topRight;
}
// The corner that stands fixed while the other one across is dragged.
RealPoint across(const RealRect& box, Corner corner);
std::optional<Corner> cornerAt(const ChoiceBox& choice, const Viewport& viewport, QPointF at);
Qt::CursorShape cursorOf(Corner corner);
// Where the handle that turns stands, on the widget.
QPointF turnHandle(const ChoiceBox& choice, const Viewport& viewport);

void drawOutline(QPainter& painter, const QPolygonF& corners, double width);
void drawCorners(QPainter& painter, const QPolygonF& corners);
void drawTurnHandle(QPainter& painter, const ChoiceBox& choice, const Viewport& viewport);

}  // namespace zl::app
