// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/choice_box.h"

#include <QPainter>
#include <cmath>

#include "look/theme.h"

namespace zl::app {

std::optional<ChoiceBox> choiceBox(const Session& session) {
    const Layer* layer = session.layer();
    return layer ? std::optional(ChoiceBox{boxOf(*layer), layer->turn}) : std::nullopt;
}

RealPoint across(const RealRect& box, Corner corner) {
    return {isLeft(corner) ? box.right() : box.x, isTop(corner) ? box.bottom() : box.y};
}

std::optional<Corner> cornerAt(const ChoiceBox& choice, const Viewport& viewport, QPointF at) {
    const QPolygonF corners = viewport.outlineOf(choice.box, choice.turn);
    // Of a box too small for four handles, the one that makes it larger comes first.
    for (const Corner corner :
         {Corner::bottomRight, Corner::topLeft, Corner::topRight, Corner::bottomLeft}) {
        const QPointF away = corners[static_cast<int>(corner)] - at;
        if (std::abs(away.x()) <= handleReach && std::abs(away.y()) <= handleReach) return corner;
    }
    return {};
}

Qt::CursorShape cursorOf(Corner corner) {
    return isLeft(corner) == isTop(corner) ? Qt::SizeFDiagCursor : Qt::SizeBDiagCursor;
}

QPointF turnHandle(const ChoiceBox& choice, const Viewport& viewport) {
    const double away = 24 / viewport.scale();
    const RealRect& box = choice.box;
    // Above the box as it stands: mirrored top to bottom, the handle stays above.
    const RealPoint at{box.centre().x, choice.turn.flipY ? box.bottom() + away : box.y - away};
    return viewport.toWidget(turned(at, choice.turn, box.centre()));
}

// Two lines, so that it is seen on any picture.
void drawOutline(QPainter& painter, const QPolygonF& corners, double width) {
    painter.setBrush(Qt::NoBrush);
    painter.setRenderHint(QPainter::Antialiasing,
                          corners[0].y() != corners[1].y() && corners[0].x() != corners[1].x());
    painter.setPen(QPen(QColor(255, 255, 255, 200), width + 1));
    painter.drawPolygon(corners);
    painter.setPen(QPen(Theme::now()["accent"], width));
    painter.drawPolygon(corners);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

void drawCorners(QPainter& painter, const QPolygonF& corners) {
    constexpr double handle = 8;
    for (const QPointF& at : corners) {
        const QRectF box(at.x() - handle / 2, at.y() - handle / 2, handle, handle);
        painter.fillRect(box, Qt::white);
        painter.setPen(QPen(Theme::now()["accent"], 1.5));
        painter.drawRect(box);
    }
}

void drawTurnHandle(QPainter& painter, const ChoiceBox& choice, const Viewport& viewport) {
    const RealRect& box = choice.box;
    const QPointF knob = turnHandle(choice, viewport),
                  foot = viewport.toWidget(
                      turned({box.centre().x, choice.turn.flipY ? box.bottom() : box.y},
                             choice.turn, box.centre()));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(QColor(255, 255, 255, 200), 3));
    painter.drawLine(foot, knob);
    painter.setPen(QPen(Theme::now()["accent"], 1.5));
    painter.drawLine(foot, knob);
    painter.setBrush(Qt::white);
    painter.drawEllipse(knob, 5, 5);
    painter.setBrush(Qt::NoBrush);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

}  // namespace zl::app
