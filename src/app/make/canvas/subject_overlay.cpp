// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/subject_overlay.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "edit/edits.h"
#include "look/theme.h"

namespace zl::app {

QPointF SubjectOverlay::widget(const Layer& layer, RealPoint original) const {
    const PictureLayer& picture = *layer.picture();
    return viewport_.toWidget(
        turned(zl::inFrame(picture, original), layer.turn, picture.place.centre()));
}

QPolygonF SubjectOverlay::widget(const Layer& layer, const RealRect& b) const {
    QPolygonF out;
    for (const RealPoint p : {RealPoint{b.x, b.y}, RealPoint{b.right(), b.y},
                              RealPoint{b.right(), b.bottom()}, RealPoint{b.x, b.bottom()}})
        out << widget(layer, p);
    return out;
}

RealRect SubjectOverlay::inFrame(const RealRect& original) const {
    const Layer* layer = session_.layer();
    if (!layer || !layer->picture()) return {};
    const QRectF box = widget(*layer, original).boundingRect();
    const RealPoint from = viewport_.toFrame(box.topLeft()),
                    to = viewport_.toFrame(box.bottomRight());
    return {from.x, from.y, to.x - from.x, to.y - from.y};
}

void SubjectOverlay::paintLook(QPainter& painter, const Layer& layer, const SubjectState& state,
                               bool correcting) const {
    const SubjectDesk& desk = session_.subject();
    SubjectLook look = desk.look();
    // The labels are there at once; the soft edge takes longer.
    if (look == SubjectLook::cutOut && correcting && desk.working()) look = SubjectLook::original;
    if (look == SubjectLook::matte && state.matte.isNull()) look = SubjectLook::original;
    if (look == SubjectLook::cutOut) return;
    const RealRect whole = RealRect::of(state.start->size);
    const QPolygonF corners = widget(layer, whole);
    painter.save();
    QPainterPath seen;
    seen.addPolygon(widget(layer, layer.picture()->crop));
    seen.closeSubpath();
    painter.setClipPath(seen);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const auto draw = [&](const QImage& image) {
        QTransform onto;
        const QPolygonF from(QRectF(QPointF(0, 0), QSizeF(image.size())));
        if (!QTransform::quadToQuad(QPolygonF(from.mid(0, 4)), corners, onto)) return;
        painter.save();
        painter.setTransform(onto, true);
        painter.drawImage(0, 0, image);
        painter.restore();
    };
    if (look == SubjectLook::matte) {
        draw(state.matte);
    } else {
        draw(state.original);
        draw(state.ground);
    }
    painter.restore();
}

void SubjectOverlay::paintStrokes(QPainter& painter, const Layer& layer,
                                  const SubjectCut& cut) const {
    const QPointF across = widget(layer, RealPoint{1, 0}) - widget(layer, RealPoint{0, 0});
    const double perPx = std::hypot(across.x(), across.y());
    for (const Stroke& stroke : cut.strokes) {
        QPainterPath path(widget(layer, stroke.points.front()));
        for (const RealPoint& p : stroke.points) path.lineTo(widget(layer, p));
        if (stroke.points.size() == 1) path.lineTo(path.currentPosition() + QPointF(0.01, 0));
        const QColor colour = Theme::now()[stroke.restores ? "accent" : "fail"];
        QColor pale = stroke.restores ? QColor(255, 255, 255, 120) : QColor(0, 0, 0, 120);
        const double wide = std::max(3.0, 2 * stroke.radius * perPx);
        painter.strokePath(path, QPen(pale, wide, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        const Qt::BrushStyle hatch = stroke.restores ? Qt::BDiagPattern : Qt::FDiagPattern;
        painter.strokePath(
            path, QPen(QBrush(colour, hatch), wide, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    }
}

void SubjectOverlay::paint(QPainter& painter, bool correcting) const {
    const Layer* layer = session_.layer();
    const SubjectState* state = session_.subject().state();
    if (!layer || !layer->picture() || !state || state->layer != layer->id) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    paintLook(painter, *layer, *state, correcting);
    if (correcting && state->cut < layer->picture()->cuts.size())
        if (const SubjectCut* cut = layer->picture()->cuts[state->cut].subject())
            paintStrokes(painter, *layer, *cut);
    if (correcting && state->report) {
        painter.setBrush(Qt::NoBrush);
        for (const PixelRect& place : state->report->places) {
            const QRectF box =
                widget(*layer, RealRect::ofPixels(place)).boundingRect().adjusted(-3, -3, 3, 3);
            painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
            painter.drawRoundedRect(box, 4, 4);
            painter.setPen(QPen(Theme::now()["ledge-watch"], 1.5, Qt::DashLine));
            painter.drawRoundedRect(box, 4, 4);
        }
    }
    painter.restore();
}

}  // namespace zl::app
