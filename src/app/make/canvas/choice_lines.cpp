// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/choice_lines.h"

#include <QPainter>

#include "make/canvas/tools/choice_box.h"

namespace zl::app {

void ChoiceLines::paint(QPainter& painter) const {
    const auto choice = choiceBox(session_);
    if (!choice) return;
    for (const int id : session_.chosenIds())
        if (const Layer* other = session_.piece()->layer(id); other && id != session_.layer()->id)
            drawOutline(painter, viewport_.outlineOf(boxOf(*other), other->turn), 1);
    const QPolygonF corners = viewport_.outlineOf(choice->box, choice->turn);
    drawOutline(painter, corners, viewport_.hasFocus() ? 2 : 1);
    drawCorners(painter, corners);
    drawTurnHandle(painter, *choice, viewport_);
}

// With its handles, at most.
QRect ChoiceLines::now() const {
    const Piece* piece = session_.piece();
    if (!piece || !session_.layer()) return {};
    constexpr int room = 40;  // the handle that turns stands 24 px off
    QRectF all;
    for (const Layer& layer : piece->layers)
        if (session_.chosenIds().contains(layer.id))
            all |= viewport_.outlineOf(boxOf(layer), layer.turn).boundingRect();
    return all.toAlignedRect().adjusted(-room, -room, room, room);
}

std::optional<QRect> ChoiceLines::changedPart() {
    const Piece* shown = session_.piece();
    Piece piece = shown ? *shown : Piece{};
    const std::size_t layers = piece.layers.size();
    piece.layers.clear();
    const QRect before = std::exchange(last_, now());
    const bool alone = piece == drawnFor_ && layers == layers_ && layers > 0;
    drawnFor_ = std::move(piece);
    layers_ = layers;
    return alone ? std::optional(before | last_) : std::nullopt;
}

}  // namespace zl::app
