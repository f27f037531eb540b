// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/film_strip.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "look/theme.h"

namespace zl::app {
namespace {

constexpr int markRoom = 10;  // px over the pictures, for the proposals

}  // namespace

FilmStrip::FilmStrip(FilmDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("filmStrip");
    setAccessibleName(tr("The video's length"));
    setFixedHeight(64);
    setCursor(Qt::PointingHandCursor);
    connect(&desk_, &FilmDesk::stripGrew, this, qOverload<>(&QWidget::update));
}

double FilmStrip::xOf(double seconds) const {
    return desk_.facts() && desk_.facts()->duration > 0
               ? seconds / desk_.facts()->duration * width()
               : 0;
}

void FilmStrip::showTime(double seconds) {
    time_ = seconds;
    update();
}

void FilmStrip::mark(std::vector<double> times) {
    marks_ = std::move(times);
    update();
}

void FilmStrip::mouseMoveEvent(QMouseEvent* event) {
    if (!desk_.facts() || event->buttons() == Qt::NoButton) return;
    const double share = std::clamp(event->position().x() / std::max(1, width()), 0.0, 1.0);
    Q_EMIT asked(share * desk_.facts()->duration);
}

void FilmStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["ledge"]);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const double high = height() - markRoom;
    // Each picture fills the room round its moment.
    const auto& frames = desk_.strip();
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const double from = i == 0 ? 0 : xOf((frames[i - 1].time + frames[i].time) / 2),
                     to = i + 1 == frames.size() ? xOf(frames[i].time) * 2 - from
                                                 : xOf((frames[i].time + frames[i + 1].time) / 2);
        const QRectF place(from, markRoom, std::max(1.0, to - from), high);
        const QImage& image = frames[i].image;
        const double scale = std::max(place.width() / image.width(), high / image.height());
        const QSizeF part(place.width() / scale, high / scale);
        painter.drawImage(place, image,
                          QRectF(QPointF((image.width() - part.width()) / 2,
                                         (image.height() - part.height()) / 2),
                                 part));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme["ledge-watch"]);
    for (const double time : marks_) painter.drawEllipse(QPointF(xOf(time), 5), 3, 3);
    const double x = std::clamp(xOf(time_), 1.0, width() - 1.0);
    painter.setPen(QPen(QColor(0, 0, 0, 160), 4));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setPen(QPen(Qt::white, 2));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
}

}  // namespace zl::app
