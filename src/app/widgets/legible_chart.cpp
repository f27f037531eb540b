// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/legible_chart.h"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "look/theme.h"
#include "readings/reading.h"

namespace zl::app {
namespace {

constexpr int left = 44, right = 10, top = 8, bottom = 18;  // px round the curve

}  // namespace

LegibleChart::LegibleChart(QWidget* parent) : QWidget(parent) {
    setObjectName("legibleChart");
    setAccessibleName(tr("What stands out over the video's length"));
    setToolTip(
        tr("The line is the share of the mark's edges that stand out; 45 % should. The broken "
           "line is how much of the picture it hides. Click to see a moment; Left and Right "
           "go along it."));
    setMinimumHeight(96);
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::StrongFocus);
}

void LegibleChart::show(const LegibleCurve& curve, double length) {
    curve_ = curve;
    length_ = length;
    update();
}

void LegibleChart::showTime(double seconds) {
    time_ = seconds;
    update();
}

void LegibleChart::clear() {
    curve_ = {};
    update();
}

double LegibleChart::xOf(double seconds) const {
    return left + (length_ > 0 ? seconds / length_ : 0) * (width() - left - right);
}

double LegibleChart::yOf(double share) const {
    return top + (1 - share) * (height() - top - bottom);
}

void LegibleChart::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() == Qt::NoButton || length_ <= 0) return;
    const double part = (event->position().x() - left) / std::max(1, width() - left - right);
    Q_EMIT asked(std::clamp(part, 0.0, 1.0) * length_);
}

void LegibleChart::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 1 : 0.25;
    const double by = event->key() == Qt::Key_Left    ? -step
                      : event->key() == Qt::Key_Right ? step
                                                      : 0;
    if (by == 0 || length_ <= 0) return QWidget::keyPressEvent(event);
    Q_EMIT asked(std::clamp(time_ + by, 0.0, length_));
}

// What stands out as an area; the time in which too little does is filled to the top, too.
void LegibleChart::paintCurve(QPainter& painter) const {
    const Theme& theme = Theme::now();
    const auto& all = curve_.samples;
    QPolygonF line, hides;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const double from = xOf(all[i].time),
                     to = i + 1 < all.size() ? xOf(all[i + 1].time) : width() - right;
        if (all[i].share < thresholds::standingOut)
            painter.fillRect(
                QRectF(QPointF(from, yOf(1)), QPointF(to, yOf(0))),
                QColor(theme["fail"].red(), theme["fail"].green(), theme["fail"].blue(), 46));
        line << QPointF(from, yOf(all[i].share)) << QPointF(to, yOf(all[i].share));
        hides << QPointF(from, yOf(all[i].hides)) << QPointF(to, yOf(all[i].hides));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme["ink-soft"], 1, Qt::DashLine));
    painter.drawPolyline(hides);
    painter.setPen(QPen(theme["accent"], 2));
    painter.drawPolyline(line);
    if (const auto worst = curve_.worst(); worst && worst->share < thresholds::standingOut) {
        painter.setPen(QPen(theme["sheet-raised"], 1.5));
        painter.setBrush(theme["fail"]);
        const QPointF at(xOf(worst->time), yOf(worst->share));
        painter.drawPolygon(QPolygonF(
            {at + QPointF(0, -6), at + QPointF(6, 0), at + QPointF(0, 6), at + QPointF(-6, 0)}));
    }
}

void LegibleChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["sheet-raised"]);
    QFont small = font();
    small.setPixelSize(11);
    painter.setFont(small);
    painter.setPen(theme["ink-soft"]);
    for (const double share : {0.0, thresholds::standingOut, 1.0}) {
        const double y = yOf(share);
        painter.setPen(theme["seam"]);
        painter.drawLine(QPointF(left, y), QPointF(width() - right, y));
        painter.setPen(theme["ink-soft"]);
        painter.drawText(QRectF(0, y - 8, left - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QString("%1 %").arg(qRound(share * 100)));
    }
    if (!curve_.samples.empty()) paintCurve(painter);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(theme["ink-soft"]);
    painter.drawText(QRectF(left, height() - bottom + 2, 80, bottom - 2), Qt::AlignLeft, "0 s");
    if (length_ > 0)
        painter.drawText(QRectF(width() - right - 100, height() - bottom + 2, 100, bottom - 2),
                         Qt::AlignRight, QString("%1 s").arg(length_, 0, 'f', 1));
    if (length_ > 0) {
        painter.setPen(QPen(theme["ink"], 2));
        painter.drawLine(QPointF(xOf(time_), top - 4), QPointF(xOf(time_), height() - bottom + 4));
    }
    painter.setPen(QPen(theme[hasFocus() ? "accent" : "seam"], hasFocus() ? 2 : 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

}  // namespace zl::app
