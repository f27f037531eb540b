// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/move_tool.h"

#include <QKeyEvent>
#include <QPainter>
#include <cmath>

#include "edit/arrange.h"
#include "edit/edits.h"
#include "edit/stack.h"
#include "look/theme.h"
#include "readings/zones.h"

namespace zl::app {
bool MoveTool::press(const Hand& hand) {
    if (hand.button != Qt::LeftButton) return false;
    onlyThisOne_ = false;
    pick(hand);
    if (!session().layer()) return false;
    begin(hand);
    remember();
    return true;
}

// Shift takes a layer into the choice or out of it. A press on one of several chosen layers may be
// the start of moving them all.
void MoveTool::pick(const Hand& hand) {
    Choice& choice = session().choice();
    const int under = layerAt(*session().piece(), *session().inks(), viewport().toFrame(hand.at));
    if (hand.with(Qt::ShiftModifier)) {
        if (under != 0) choice.toggleLayer(under);
        return;
    }
    const std::set<int>& chosen = session().chosenIds();
    onlyThisOne_ = under != 0 && chosen.size() > 1 && chosen.contains(under);
    onlyThisOne_ ? choice.chooseLayers(chosen, under) : choice.chooseLayer(under);
}

void MoveTool::remember() {
    const Piece& piece = *session().piece();
    const std::set<int> moving = withGroupMates(piece, session().chosenIds());
    layers_.clear();
    others_.clear();
    snapped_ = {};
    std::vector<RealRect> zones, bounds;
    for (const Layer& one : piece.layers) {
        if (moving.contains(one.id)) {
            layers_.push_back(one);
            bounds.push_back(boundsOf(one));
        } else if (!one.hidden) {
            others_.push_back(boundsOf(one));
        }
    }
    bounds_ = around(bounds).value_or(boxOf(*session().layer()));
    if (const Brief* brief = session().brief())
        for (const Zone& zone : brief->zones) zones.push_back(inFrame(zone, piece.frame));
    lines_ = snapLines(piece.frame, zones, others_, piece.guides);
}

void MoveTool::drag(const Hand& hand) {
    const RealPoint to = viewport().toFrame(hand.at),
                    by{std::round(to.x - from().x), std::round(to.y - from().y)};
    RealRect there = bounds_;
    there.x += by.x;
    there.y += by.y;
    constexpr double reach = 6;  // px of the widget
    snapped_ = {};
    if (!hand.with(Qt::ControlModifier)) {
        std::vector<SnapLine> lines = lines_;
        for (const SnapLine& gap : gapLines(there, others_)) lines.push_back(gap);
        snapped_ = snap(there, lines, reach / viewport().scale());
    }
    // A hand that has not moved one way is not drawn that way: coming back is coming back.
    if (by.x == 0) snapped_.upright.reset(), snapped_.by.x = 0;
    if (by.y == 0) snapped_.level.reset(), snapped_.by.y = 0;
    std::vector<Layer> next = layers_;
    for (Layer& layer : next) {
        Layer there_ = moved(layer, by.x + snapped_.by.x, by.y + snapped_.by.y);
        layer = place_.insideCut ? withShapesStanding(layer, std::move(there_)) : there_;
    }
    session().apply(withChangedLayers(session().kit(), session().piece()->id, next), tr("Move"),
                    mergeKey());
}

void MoveTool::release() {
    if (onlyThisOne_ && !hasMoved() && session().layer())
        session().choice().chooseLayer(session().layer()->id);
    DragTool::release();
}

bool MoveTool::nudge(double dx, double dy) {
    if (!session().layer()) return false;
    session().moveChosen(dx, dy, tr("Nudge"), QString("nudge %1").arg(session().layer()->id));
    return true;
}

bool MoveTool::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape) {
        session().choice().chooseLayer(0);
        return true;
    }
    const bool up = event.key() == Qt::Key_PageUp;
    if (!up && event.key() != Qt::Key_PageDown) return false;
    const std::vector<Layer>& layers = session().piece()->layers;
    const int n = static_cast<int>(layers.size());
    if (n == 0) return true;
    int at = up ? n - 1 : 0;
    for (int i = 0; i < n; ++i)
        if (session().layer() && layers[static_cast<std::size_t>(i)].id == session().layer()->id)
            at = i;
    at = (at + (up ? 1 : n - 1)) % n;
    session().choice().chooseLayer(layers[static_cast<std::size_t>(at)].id);
    return true;
}

void MoveTool::paint(QPainter& painter) {
    if (!hasMoved() || !session().layer()) return;
    std::vector<RealRect> moving;
    for (const Layer& layer : layers_)
        if (const Layer* now = session().piece()->layer(layer.id)) moving.push_back(boundsOf(*now));
    const RealRect box = around(moving).value_or(boxOf(*session().layer()));
    painter.save();
    drawLines(painter, box);
    drawDistances(painter, box);
    painter.restore();
}

// The lines that it was drawn to; of equal gaps their width.
void MoveTool::drawLines(QPainter& painter, const RealRect& box) const {
    const Theme& theme = Theme::now();
    const double w = viewport().frame().width, h = viewport().frame().height;
    const auto on = [&](double x, double y) { return viewport().toWidget({x, y}); };
    for (const auto& line : {snapped_.upright, snapped_.level}) {
        if (!line) continue;
        if (line->of == SnapLine::Of::gap) {
            painter.setFont(interfaceFont(11, 600));
            painter.setPen(theme["on-accent"]);
            const QPointF at = line->upright ? on(box.centre().x, box.y) + QPointF(0, -14)
                                             : on(box.x, box.centre().y) + QPointF(-50, 0);
            const QRectF label(at - QPointF(44, 9), QSizeF(88, 18));
            painter.fillRect(label, theme["accent"]);
            painter.drawText(label, Qt::AlignCenter,
                             tr("gaps of %1 px").arg(std::round(line->gap)));
            continue;
        }
        const QLineF drawn = line->upright ? QLineF(on(line->at, 0), on(line->at, h))
                                           : QLineF(on(0, line->at), on(w, line->at));
        painter.setPen(QPen(Qt::white, 3));
        painter.drawLine(drawn);
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawLine(drawn);
    }
}

// To the nearer edge, each way.
void MoveTool::drawDistances(QPainter& painter, const RealRect& box) const {
    const Theme& theme = Theme::now();
    painter.setFont(interfaceFont(12, 600));
    const auto tell = [&](RealPoint one, RealPoint other, double px) {
        const QPointF from = viewport().toWidget(one), to = viewport().toWidget(other);
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawLine(from, to);
        const QRectF label(QPointF((from + to) / 2) - QPointF(30, 10), QSizeF(60, 20));
        painter.fillRect(label, theme["accent"]);
        painter.setPen(theme["on-accent"]);
        painter.drawText(label, Qt::AlignCenter, tr("%1 px").arg(std::round(px)));
    };
    const double w = viewport().frame().width, h = viewport().frame().height, midX = box.centre().x,
                 midY = box.centre().y;
    if (box.x <= w - box.right())
        tell({0, midY}, {box.x, midY}, box.x);
    else
        tell({box.right(), midY}, {w, midY}, w - box.right());
    if (box.y <= h - box.bottom())
        tell({midX, 0}, {midX, box.y}, box.y);
    else
        tell({midX, box.bottom()}, {midX, h}, h - box.bottom());
}

}  // namespace zl::app
