// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/overlay.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "look/theme.h"
#include "readings/zones.h"

namespace zl::app {
void drawNamed(QPainter& painter, const QRectF& place, const QString& name, bool dashed) {
    const Theme& theme = Theme::now();
    painter.setPen(QPen(Qt::white, 3));
    painter.drawRect(place);
    painter.setPen(QPen(theme["accent"], 1.5, dashed ? Qt::DashLine : Qt::SolidLine));
    painter.drawRect(place);
    if (name.isEmpty()) return;
    const QRectF label(place.left(), place.top() - 16,
                       painter.fontMetrics().horizontalAdvance(name) + 10, 16);
    painter.fillRect(label, theme["accent"]);
    painter.setPen(theme["on-accent"]);
    painter.drawText(label, Qt::AlignCenter, name);
}

void drawLine(QPainter& painter, const QLineF& line, Qt::PenStyle style, const QColor& colour) {
    painter.setPen(QPen(QColor(255, 255, 255, 150), 1));
    painter.drawLine(line.translated(1, 1));
    painter.setPen(QPen(colour, 1, style));
    painter.drawLine(line);
}

void Overlay::prepare() {
    if (zonesShown && session_.piece()) prepareZones();
}

void Overlay::paint(QPainter& painter) {
    if (outsideDimmed) drawDimmed(painter);
    if (zonesShown && prepareZones()) painter.drawImage(0, 0, zonesDrawn_);
    drawRegions(painter);
    if (thirdsShown) drawThirds(painter);
}

void Overlay::paintPointed(QPainter& painter) const {
    if (!pointed) return;
    const QRectF place = viewport_.onWidget(*pointed);
    painter.setPen(QPen(Theme::now()["ledge"], 5));
    painter.drawRect(place);
    painter.setPen(QPen(Theme::now()["ledge-watch"], 2, Qt::DashLine));
    painter.drawRect(place);
}

// Draws the zones for where they stand, unless that is what was drawn last. False: there are none.
bool Overlay::prepareZones() {
    const Brief* brief = session_.brief();
    if (!brief || brief->zones.empty()) return false;
    ZonesDrawn wanted{{}, viewport_.mapping(), viewport_.frame(), viewport_.devicePixels()};
    for (const Zone& zone : brief->zones)
        if (zoneAlone.empty() || !brief->zone(zoneAlone) || zone.id == zoneAlone)
            wanted.zones.push_back(zone);
    if (!zonesDrawn_.isNull() && wanted == zonesOf_) return true;
    zonesOf_ = std::move(wanted);
    zonesDrawn_ =
        QImage(zonesOf_.size.width, zonesOf_.size.height, QImage::Format_ARGB32_Premultiplied);
    zonesDrawn_.setDevicePixelRatio(viewport_.ratio());
    zonesDrawn_.fill(Qt::transparent);
    QPainter painter(&zonesDrawn_);
    painter.setFont(interfaceFont(11));
    std::vector<QRectF> taken;
    for (const Zone& zone : zonesOf_.zones) drawZone(painter, zone, taken);
    return true;
}

// Faint, with its name: keep clear is hatched, keep inside and visible are lines.
void Overlay::drawZone(QPainter& painter, const Zone& zone, std::vector<QRectF>& taken) const {
    const bool clear = zone.role == ZoneRole::keepClear;
    const QRectF place = viewport_.onWidget(inFrame(zone, viewport_.frame()));
    const QColor light(255, 255, 255, 150), dark(0, 0, 0, 120);
    painter.setBrush(clear ? QBrush(QColor(255, 255, 255, 70), Qt::BDiagPattern)
                           : QBrush(Qt::NoBrush));
    if (clear) painter.fillRect(place, QColor(0, 0, 0, 22));  // seen on white, too
    painter.setPen(QPen(dark, 1));
    painter.drawRect(place.adjusted(1, 1, 1, 1));
    painter.setPen(QPen(light, 1, Qt::DashLine));
    painter.drawRect(place);
    const QString name = QString::fromStdString(zone.title);
    const int wide = painter.fontMetrics().horizontalAdvance(name) + 8;
    // Above a zone that is too low for its name, else inside, from its right; never past the
    // widget's edge.
    QRectF words(place.right() - wide, place.height() > 22 ? place.top() + 1 : place.top() - 17,
                 wide, 16);
    if (!clear) words.moveLeft(place.left() + 2);
    const double room = zonesOf_.size.width / viewport_.ratio();
    words.moveLeft(std::clamp(words.left(), 2.0, std::max(2.0, room - words.width() - 2.0)));
    // Names stand beside one another, not on one another.
    while (std::any_of(taken.begin(), taken.end(),
                       [&](const QRectF& other) { return other.intersects(words); }))
        words.translate(0, 17);
    taken.push_back(words);
    painter.fillRect(words, QColor(0, 0, 0, 130));
    painter.setPen(Qt::white);
    painter.drawText(words, Qt::AlignCenter, name);
}

// What no device shows, or what the one that stands alone does not show.
void Overlay::drawDimmed(QPainter& painter) const {
    const Brief* brief = session_.brief();
    if (!brief) return;
    const QRectF frame = viewport_.onWidget(RealRect::of(viewport_.frame()));
    QPainterPath dark;
    dark.setFillRule(Qt::WindingFill);
    const Zone* alone = brief->zone(zoneAlone);
    for (const Zone& zone : brief->zones) {
        if (alone && zone.id != alone->id) continue;
        QPainterPath one;
        one.addRect(viewport_.onWidget(inFrame(zone, viewport_.frame())));
        if (zone.role != ZoneRole::keepClear) {
            one.addRect(frame);
            one.setFillRule(Qt::OddEvenFill);
        }
        dark = dark.united(one);
    }
    painter.fillPath(dark, QColor(16, 20, 23, 170));
}

void Overlay::drawRegions(QPainter& painter) const {
    const Piece& piece = *session_.piece();
    painter.save();
    painter.setFont(interfaceFont(11, 600));
    painter.setBrush(Qt::NoBrush);
    for (const Slice& slice : piece.slices)
        drawNamed(painter, viewport_.onWidget(RealRect::ofPixels(slice.place)),
                  tr("Slice: %1").arg(QString::fromStdString(slice.name)), true);
    for (const LinkRegion& link : piece.links)
        drawNamed(
            painter, viewport_.onWidget(RealRect::ofPixels(link.place)),
            QString::fromStdString(link.says.empty() ? cutToFit(link.address, 24) : link.says),
            false);
    painter.restore();
}

void Overlay::drawThirds(QPainter& painter) const {
    const double w = viewport_.frame().width, h = viewport_.frame().height;
    for (const double share : {1 / 3.0, 0.5, 2 / 3.0}) {
        const Qt::PenStyle style = share == 0.5 ? Qt::DashDotLine : Qt::DotLine;
        const auto at = [&](double x, double y) { return viewport_.toWidget({x, y}); };
        drawLine(painter, {at(share * w, 0), at(share * w, h)}, style, QColor(0, 0, 0, 150));
        drawLine(painter, {at(0, share * h), at(w, share * h)}, style, QColor(0, 0, 0, 150));
    }
}

void Overlay::paintFrame(QPainter& painter) const {
    const QRectF frame = viewport_.onWidget(RealRect::of(viewport_.frame()));
    painter.setPen(QPen(Theme::now()["ink"], 1));
    painter.setOpacity(0.35);
    painter.drawRect(frame.adjusted(-0.5, -0.5, 0.5, 0.5).toAlignedRect());
    painter.setOpacity(1);
}

void Overlay::paintWords(QPainter& painter, const QRect& widget, const QString& wrong) const {
    const Brief* brief = session_.brief();
    const bool moves = brief && !brief->moving.formats.empty();
    const QString words = !wrong.isEmpty() ? wrong
                          : moves
                              ? tr("This frame is empty.\nDrop a video or a picture here, or use "
                                   "“+ Add” beside it.")
                              : tr("This frame is empty.\nDrop a picture here, "
                                   "paste one, or use “+ Add” beside it.");
    constexpr int how = Qt::AlignCenter | Qt::TextWordWrap;
    painter.setFont(interfaceFont(15, 500));
    const QRect box = painter.boundingRect(widget.adjusted(60, 0, -60, 0), how, words);
    painter.fillRect(box.adjusted(-20, -14, 20, 14), Theme::now()["sheet-raised"]);
    painter.setPen(Theme::now()["ink"]);
    painter.drawText(box, how, words);
}

void Overlay::paintStart(QPainter& painter, const QRect& widget) const {
    const bool busy = session_.files().busy();
    painter.setPen(Theme::now()["ink"]);
    painter.setFont(interfaceFont(17, 600));
    const QRect middle = widget.adjusted(40, widget.height() / 2 - 40, -40, 0);
    painter.drawText(middle, Qt::AlignHCenter | Qt::AlignTop,
                     busy ? tr("Opening the kit …") : tr("What are you making?"));
    if (busy) return;
    painter.setFont(interfaceFont(13));
    painter.drawText(middle.adjusted(0, 30, 0, 0),
                     Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap,
                     tr("Start a piece with “+ Piece” on the left: choose where it goes, and its "
                        "frame is set up.\nOr begin with its video: Ctrl+Shift+I, or drop it here. "
                        "Ctrl+O opens a kit."));
}

}  // namespace zl::app
