// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/guide_tool.h"

#include <QPainter>
#include <cmath>

#include "edit/edits.h"
#include "look/theme.h"
#include "make/canvas/overlay.h"

namespace zl::app {

// Above an upright guide, left of a level one.
QPolygonF GuideTool::flagOf(const Guide& guide) const {
    const double at = guide.inPx(viewport().frame());
    const QPointF tip = viewport().toWidget(guide.upright ? RealPoint{at, 0} : RealPoint{0, at});
    return guide.upright
               ? QPolygonF({tip + QPointF(0, -2), tip + QPointF(-6, -12), tip + QPointF(6, -12)})
               : QPolygonF({tip + QPointF(-2, 0), tip + QPointF(-12, -6), tip + QPointF(-12, 6)});
}

bool GuideTool::press(const Hand& hand) {
    if (hand.button != Qt::LeftButton) return false;
    const auto& guides = session().piece()->guides;
    for (std::size_t i = 0; i < guides.size(); ++i)
        if (flagOf(guides[i]).boundingRect().adjusted(-3, -3, 3, 3).contains(hand.at)) {
            guide_ = i;
            before_ = guides;
            begin(hand);
            return true;
        }
    return false;
}

void GuideTool::drag(const Hand& hand) {
    // From what there was at the press: a hand that comes back brings the guide back.
    Piece next = *session().piece();
    next.guides = before_;
    Guide& guide = next.guides[guide_];
    const RealPoint to = viewport().toFrame(hand.at);
    const double side = guide.upright ? next.frame.width : next.frame.height,
                 at = std::round(guide.upright ? to.x : to.y);
    if (at < 0 || at > side)
        next.guides.erase(next.guides.begin() + static_cast<std::ptrdiff_t>(guide_));
    else
        guide.at = guide.isShare ? at / side : at;
    session().apply(withChangedPiece(session().kit(), next), tr("Move a guide"), mergeKey());
}

void GuideTool::paint(QPainter& painter) {
    const PixelSize frame = viewport().frame();
    const QColor accent = Theme::now()["accent"];
    for (const Guide& guide : session().piece()->guides) {
        const double at = guide.inPx(frame);
        const auto on = [&](double x, double y) { return viewport().toWidget({x, y}); };
        drawLine(painter,
                 guide.upright ? QLineF(on(at, 0), on(at, frame.height))
                               : QLineF(on(0, at), on(frame.width, at)),
                 Qt::SolidLine, accent);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(Qt::white, 1));
        painter.setBrush(accent);
        painter.drawPolygon(flagOf(guide));
        painter.setBrush(Qt::NoBrush);
        painter.setRenderHint(QPainter::Antialiasing, false);
    }
}

}  // namespace zl::app
