// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/crop_tool.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "edit/edits.h"
#include "look/theme.h"

namespace zl::app {
namespace {

constexpr double smallest = 4;  // px of the original

QString tidy(double v) {
    return QString::number(v, 'f', v == std::round(v) ? 0 : 1);
}

}  // namespace

void CropTool::begin(int layer, PixelSize original) {
    layer_ = layer;
    original_ = original;
}

bool CropTool::active() {
    if (layer_ == 0) return false;
    if (!session().picture() || session().layer()->id != layer_) end();
    return layer_ != 0;
}

Piece CropTool::shown() const {
    Piece piece;
    piece.id = piece.title = "original";
    piece.frame = original_;
    piece.layers = {*session().layer()};
    Layer& layer = piece.layers.front();
    layer.opacity = 1;
    if (PictureLayer* whole = layer.picture()) whole->crop = whole->place = RealRect::of(original_);
    return piece;
}

void CropTool::setBox(const RealRect& crop, const QString& mergeKey) {
    session().apply(
        withChangedLayer(session().kit(), session().piece()->id, cropped(*session().layer(), crop)),
        tr("Crop"), mergeKey);
}

bool CropTool::press(const Hand& hand) {
    if (hand.button != Qt::LeftButton) return false;
    before_ = box();
    corner_ = cornerAt({before_}, viewport(), hand.at);
    if (!corner_ && !viewport().onWidget(before_).contains(hand.at)) return false;
    DragTool::begin(hand);
    return true;
}

void CropTool::drag(const Hand& hand) {
    const RealPoint to = viewport().toFrame(hand.at);
    setBox(corner_ ? drawnTo(to, hand.with(Qt::ControlModifier))
                   : movedTo({to.x - from().x, to.y - from().y}),
           mergeKey());
}

// It stays inside the original: the hand meets the edge.
RealRect CropTool::movedTo(RealPoint by) const {
    RealRect out = before_;
    out.x = std::clamp(std::round(out.x + by.x), 0.0, original_.width - out.width);
    out.y = std::clamp(std::round(out.y + by.y), 0.0, original_.height - out.height);
    return out;
}

RealRect CropTool::drawnTo(RealPoint to, bool shapeFree) const {
    const RealPoint fixed = across(before_, *corner_);
    const double roomX = isLeft(*corner_) ? fixed.x : original_.width - fixed.x,
                 roomY = isTop(*corner_) ? fixed.y : original_.height - fixed.y;
    double wide = std::clamp(std::round(std::abs(to.x - fixed.x)), smallest, roomX),
           high = std::clamp(std::round(std::abs(to.y - fixed.y)), smallest, roomY);
    if (!shapeFree) {
        const double shape = before_.width / before_.height;
        wide = std::min({std::max(wide, high * shape), roomX, roomY * shape});
        high = wide / shape;
    }
    return {isLeft(*corner_) ? fixed.x - wide : fixed.x, isTop(*corner_) ? fixed.y - high : fixed.y,
            wide, high};
}

bool CropTool::nudge(double dx, double dy) {
    RealRect there = box();
    there.x = std::clamp(there.x + dx, 0.0, std::max(0.0, original_.width - there.width));
    there.y = std::clamp(there.y + dy, 0.0, std::max(0.0, original_.height - there.height));
    setBox(there, QString("nudge crop %1").arg(layer_));
    return true;
}

std::optional<Qt::CursorShape> CropTool::hover(const Hand& hand) {
    const auto corner = cornerAt({box()}, viewport(), hand.at);
    return corner ? cursorOf(*corner) : Qt::ArrowCursor;
}

void CropTool::paint(QPainter& painter) {
    const QRectF all = viewport().onWidget(RealRect::of(original_)),
                 kept = viewport().onWidget(box());
    QPainterPath outside;
    outside.addRect(all);
    outside.addRect(kept);
    painter.fillPath(outside, QColor(0, 0, 0, 150));
    painter.setPen(QPen(QColor(255, 255, 255, 110), 1));
    for (int i = 1; i < 3; ++i) {
        const double x = kept.left() + kept.width() * i / 3, y = kept.top() + kept.height() * i / 3;
        painter.drawLine(QPointF(x, kept.top()), QPointF(x, kept.bottom()));
        painter.drawLine(QPointF(kept.left(), y), QPointF(kept.right(), y));
    }
    const QPolygonF corners = viewport().outlineOf(box(), {});
    drawOutline(painter, corners, viewport().hasFocus() ? 2 : 1);
    drawCorners(painter, corners);
    const PictureLayer& picture = *session().picture();
    const QString words = tr("%1 × %2 px of %3 × %4, shown at %5 ×  ·  Enter ends")
                              .arg(tidy(picture.crop.width), tidy(picture.crop.height))
                              .arg(original_.width)
                              .arg(original_.height)
                              .arg(picture.place.width / picture.crop.width, 0, 'f', 2);
    painter.setFont(interfaceFont(12, 500));
    const double low = viewport().devicePixels().height / viewport().ratio();
    const QRectF label(8, std::round(low) - 30, painter.fontMetrics().horizontalAdvance(words) + 20,
                       22);
    painter.fillRect(label, Theme::now()["ledge"]);
    painter.setPen(Theme::now()["on-ledge"]);
    painter.drawText(label, Qt::AlignCenter, words);
}

}  // namespace zl::app
