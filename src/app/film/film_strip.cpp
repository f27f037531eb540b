// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/film_strip.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "look/theme.h"

namespace zl::app {
namespace {

constexpr int markRoom = 14;  // px over the pictures, for cuts and proposals

}  // namespace

FilmStrip::FilmStrip(FilmDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("filmStrip");
    setAccessibleName(tr("The video's length"));
    setFixedHeight(68);
    setToolTip(tr("Drag along it. Feet above the pictures are cuts, dots are proposals."));
    setCursor(Qt::PointingHandCursor);
    connect(&desk_, &FilmDesk::stripGrew, this, qOverload<>(&QWidget::update));
}

double FilmStrip::xOf(double seconds) const {
    return desk_.facts() && desk_.facts()->duration > 0
               ? seconds / desk_.facts()->duration * width()
               : 0;
}

double FilmStrip::secondsAt(const QMouseEvent& event) const {
    return std::clamp(event.position().x() / std::max(1, width()), 0.0, 1.0) *
           desk_.facts()->duration;
}

void FilmStrip::showTime(double seconds) {
    time_ = seconds;
    update();
}

void FilmStrip::mark(std::vector<double> times) {
    marks_ = std::move(times);
    update();
}

void FilmStrip::showPart(const Span& part) {
    part_ = part;
    update();
}

void FilmStrip::mouseMoveEvent(QMouseEvent* event) {
    if (desk_.facts() && event->buttons() != Qt::NoButton) Q_EMIT asked(secondsAt(*event));
}

void FilmStrip::mouseReleaseEvent(QMouseEvent* event) {
    if (desk_.facts()) Q_EMIT settled(secondsAt(*event));
}

// Each picture fills the room round its moment.
void FilmStrip::paintPictures(QPainter& painter) const {
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const double high = height() - markRoom;
    const auto& frames = desk_.places();
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const double from = static_cast<double>(i) * width() / static_cast<double>(frames.size()),
                     to = static_cast<double>(i + 1) * width() / static_cast<double>(frames.size());
        const QRectF place(from, markRoom, std::max(1.0, to - from), high);
        const QImage& image = frames[i].image;
        const double scale = std::max(place.width() / image.width(), high / image.height());
        const QSizeF part(place.width() / scale, high / scale);
        painter.drawImage(place, image,
                          QRectF(QPointF((image.width() - part.width()) / 2,
                                         (image.height() - part.height()) / 2),
                                 part));
    }
}

// A cut is a hairline through the pictures with a foot above them; a proposal is a dot.
void FilmStrip::paintMarks(QPainter& painter) const {
    const Theme& theme = Theme::now();
    painter.setRenderHint(QPainter::Antialiasing, false);
    for (const HardCut& cut : desk_.cuts()) {
        const int x = static_cast<int>(std::lround(xOf(cut.time)));
        painter.fillRect(QRect(x - 1, markRoom, 2, height() - markRoom), theme["ledge"]);
        painter.fillRect(QRect(x - 3, markRoom - 4, 6, 3), theme["on-ledge"]);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme["ledge-watch"]);
    for (const double time : marks_) painter.drawEllipse(QPointF(xOf(time), 5), 3, 3);
}

void FilmStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), Theme::now()["ledge"]);
    paintPictures(painter);
    paintMarks(painter);
    if (part_.length() > 0) {
        const QColor veil(20, 24, 28, 190);
        painter.fillRect(QRectF(0, markRoom, xOf(part_.from), height() - markRoom), veil);
        painter.fillRect(QRectF(QPointF(xOf(part_.to), markRoom), QPointF(width(), height())),
                         veil);
    }
    const double x = std::clamp(xOf(time_), 1.0, width() - 1.0);
    painter.setPen(QPen(QColor(0, 0, 0, 160), 4));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setPen(QPen(Qt::white, 2));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
}

}  // namespace zl::app
