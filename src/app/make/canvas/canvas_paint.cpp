// SPDX-License-Identifier: GPL-3.0-or-later
// What the canvas draws over the piece: zones, guides, the choice, distances, the crop.
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "edit/arrange.h"
#include "look/theme.h"
#include "make/canvas/canvas.h"
#include "readings/zones.h"

namespace zl::app {
namespace {

constexpr double handle = 8;

}  // namespace

void Canvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    const Piece* piece = session_.piece();
    if (!piece || image_.isNull()) {
        painter.fillRect(rect(), theme["surround"]);
        if (!piece) drawEmpty(painter);
        return;
    }
    image_.setDevicePixelRatio(devicePixelRatioF());
    painter.drawImage(0, 0, image_);
    const QRectF frame = onWidget(RealRect::of(shownFrame()));
    painter.setPen(QPen(theme["ink"], 1));
    painter.setOpacity(0.35);
    painter.drawRect(frame.adjusted(-0.5, -0.5, 0.5, 0.5).toAlignedRect());
    painter.setOpacity(1);
    if (!refusal_.isEmpty() || piece->layers.empty()) {
        const QString words = refusal_.isEmpty() ? tr("This frame is empty.\nDrop a picture here, "
                                                      "paste one, or use Layer ▸ Add picture.")
                                                 : refusal_;
        painter.setFont(interfaceFont(15, 500));
        const QRect box = painter
                              .boundingRect(rect().adjusted(60, 0, -60, 0),
                                            Qt::AlignCenter | Qt::TextWordWrap, words)
                              .adjusted(-20, -14, 20, 14);
        painter.fillRect(box, theme["sheet-raised"]);
        painter.setPen(theme["ink"]);
        painter.drawText(box, Qt::AlignCenter | Qt::TextWordWrap, words);
    }
    if (crop_) return drawCrop(painter);
    if (outsideDimmed_) drawDimmed(painter);
    if (zonesShown_ && prepareZones()) painter.drawImage(0, 0, zonesDrawn_);
    drawRegions(painter);
    drawGuides(painter);
    if (pointed_) {
        const QRectF place(toWidget({pointed_->x, pointed_->y}),
                           toWidget({pointed_->right(), pointed_->bottom()}));
        painter.setPen(QPen(theme["ledge"], 5));
        painter.drawRect(place);
        painter.setPen(QPen(theme["ledge-watch"], 2, Qt::DashLine));
        painter.drawRect(place);
    }
    if (tool_.active()) return tool_.paint(painter);
    drawSelection(painter);
    if (drag_.grip == Grip::body && drag_.moved) drawDistances(painter);
}

// What drawSelection paints, with its handles, at most.
QRect Canvas::linesOfChoice() const {
    const Piece* piece = session_.piece();
    if (!piece || !session_.layer()) return {};
    constexpr int room = 40;  // the handle that turns stands 24 px off
    QRectF all;
    for (const Layer& layer : piece->layers)
        if (session_.chosenIds().contains(layer.id))
            all |= outlineOf(boxOf(layer), layer.turn).boundingRect();
    return all.toAlignedRect().adjusted(-room, -room, room, room);
}

// The choice's lines, where they were and where they are; all of them when more than a layer
// changed, or a hand is at work.
void Canvas::updateLines() {
    const Piece* piece = session_.piece();
    Piece now = piece ? *piece : Piece{};
    const std::size_t layers = now.layers.size();
    now.layers.clear();
    const QRect before = lines_;
    lines_ = linesOfChoice();
    const bool alone = now == linesOf_ && layers == linesOfLayers_ && layers > 0 && !crop_ &&
                       !pointed_ && drag_.grip == Grip::none && !tool_.active() &&
                       !regions_.active();
    linesOf_ = std::move(now);
    linesOfLayers_ = layers;
    alone ? update(before | lines_) : update();
}

// Draws the zones for where they stand, unless that is what was drawn last. False: there are none.
bool Canvas::prepareZones() {
    const Brief* brief = session_.brief();
    if (!brief || brief->zones.empty()) return false;
    ZonesDrawn wanted{{}, mapping(), session_.piece()->frame, size() * devicePixelRatioF()};
    for (const Zone& zone : brief->zones)
        if (zoneAlone_.empty() || !brief->zone(zoneAlone_) || zone.id == zoneAlone_)
            wanted.zones.push_back(zone);
    if (!zonesDrawn_.isNull() && wanted == zonesOf_) return true;
    zonesOf_ = std::move(wanted);
    zonesDrawn_ = QImage(zonesOf_.size, QImage::Format_ARGB32_Premultiplied);
    zonesDrawn_.setDevicePixelRatio(devicePixelRatioF());
    zonesDrawn_.fill(Qt::transparent);
    QPainter painter(&zonesDrawn_);
    painter.setFont(interfaceFont(11));
    std::vector<QRectF> taken;
    for (const Zone& zone : zonesOf_.zones) {
        const QRectF place = onWidget(inFrame(zone, session_.piece()->frame));
        const QColor light(255, 255, 255, 150), dark(0, 0, 0, 120);
        painter.setBrush(zone.role == ZoneRole::keepClear
                             ? QBrush(QColor(255, 255, 255, 70), Qt::BDiagPattern)
                             : QBrush(Qt::NoBrush));
        if (zone.role == ZoneRole::keepClear)
            painter.fillRect(place, QColor(0, 0, 0, 22));  // seen on white, too
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
        if (zone.role != ZoneRole::keepClear) words.moveLeft(place.left() + 2);
        words.moveLeft(std::clamp(words.left(), 2.0, std::max(2.0, width() - words.width() - 2.0)));
        // Names stand beside one another, not on one another.
        while (std::any_of(taken.begin(), taken.end(),
                           [&](const QRectF& other) { return other.intersects(words); }))
            words.translate(0, 17);
        taken.push_back(words);
        painter.fillRect(words, QColor(0, 0, 0, 130));
        painter.setPen(Qt::white);
        painter.drawText(words, Qt::AlignCenter, name);
    }
    return true;
}

// What no device shows, or what the one that stands alone does not show.
void Canvas::drawDimmed(QPainter& painter) const {
    const Brief* brief = session_.brief();
    if (!brief) return;
    const QRectF frame = onWidget(RealRect::of(session_.piece()->frame));
    QPainterPath dark;
    dark.setFillRule(Qt::WindingFill);
    const Zone* alone = brief->zone(zoneAlone_);
    for (const Zone& zone : brief->zones) {
        if (alone && zone.id != alone->id) continue;
        const QRectF place = onWidget(inFrame(zone, session_.piece()->frame));
        QPainterPath one;
        one.addRect(place);
        if (zone.role != ZoneRole::keepClear) {
            one.addRect(frame);
            one.setFillRule(Qt::OddEvenFill);
        }
        dark = dark.united(one);
    }
    painter.fillPath(dark, QColor(16, 20, 23, 170));
}

// Link regions and slices, with their names; and what is being drawn.
void Canvas::drawRegions(QPainter& painter) const {
    const Piece& piece = *session_.piece();
    const Theme& theme = Theme::now();
    painter.save();
    painter.setFont(interfaceFont(11, 600));
    painter.setBrush(Qt::NoBrush);
    const auto draw = [&](const PixelRect& r, const QString& name, bool dashed) {
        const QRectF place =
            onWidget({static_cast<double>(r.left), static_cast<double>(r.top),
                      static_cast<double>(r.width()), static_cast<double>(r.height())});
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
    };
    for (const Slice& slice : piece.slices)
        draw(slice.place, tr("Slice: %1").arg(QString::fromStdString(slice.name)), true);
    for (const LinkRegion& link : piece.links)
        draw(link.place,
             QString::fromStdString(link.says.empty() ? cutToFit(link.address, 24) : link.says),
             false);
    if (regions_.dragging()) {
        const PixelRect r = regions_.rect();
        draw(r, QString("%1 × %2").arg(r.width()).arg(r.height()), true);
    }
    painter.restore();
}

void Canvas::drawDistances(QPainter& painter) const {
    if (!session_.layer()) return;
    const Theme& theme = Theme::now();
    std::vector<RealRect> moving;
    for (const Layer& layer : drag_.layers)
        if (const Layer* now = session_.piece()->layer(layer.id)) moving.push_back(boundsOf(*now));
    const RealRect box = around(moving).value_or(chosenBox());
    const PixelSize frame = shownFrame();
    painter.save();
    for (const auto& line : {drag_.snapped.upright, drag_.snapped.level}) {
        if (!line) continue;
        if (line->of == SnapLine::Of::gap) {  // both gaps, with their width
            painter.setFont(interfaceFont(11, 600));
            painter.setPen(theme["on-accent"]);
            const QPointF at = line->upright ? toWidget({box.centre().x, box.y}) + QPointF(0, -14)
                                             : toWidget({box.x, box.centre().y}) + QPointF(-50, 0);
            const QRectF label(at - QPointF(44, 9), QSizeF(88, 18));
            painter.fillRect(label, theme["accent"]);
            painter.drawText(label, Qt::AlignCenter,
                             tr("gaps of %1 px").arg(std::round(line->gap)));
            continue;
        }
        const QLineF drawn = line->upright
                                 ? QLineF(toWidget({line->at, 0}),
                                          toWidget({line->at, static_cast<double>(frame.height)}))
                                 : QLineF(toWidget({0, line->at}),
                                          toWidget({static_cast<double>(frame.width), line->at}));
        painter.setPen(QPen(Qt::white, 3));
        painter.drawLine(drawn);
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawLine(drawn);
    }
    painter.setFont(interfaceFont(12, 600));
    const auto tell = [&](const QPointF& from, const QPointF& to, double px) {
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawLine(from, to);
        const QString words = tr("%1 px").arg(std::round(px));
        const QRectF label(QPointF((from + to) / 2) - QPointF(30, 10), QSizeF(60, 20));
        painter.fillRect(label, theme["accent"]);
        painter.setPen(theme["on-accent"]);
        painter.drawText(label, Qt::AlignCenter, words);
    };
    const double midX = box.centre().x, midY = box.centre().y;
    const bool nearLeft = box.x <= frame.width - box.right(),
               nearTop = box.y <= frame.height - box.bottom();
    if (nearLeft)
        tell(toWidget({0, midY}), toWidget({box.x, midY}), box.x);
    else
        tell(toWidget({box.right(), midY}), toWidget({static_cast<double>(frame.width), midY}),
             frame.width - box.right());
    if (nearTop)
        tell(toWidget({midX, 0}), toWidget({midX, box.y}), box.y);
    else
        tell(toWidget({midX, box.bottom()}), toWidget({midX, static_cast<double>(frame.height)}),
             frame.height - box.bottom());
    painter.restore();
}

void Canvas::drawCrop(QPainter& painter) const {
    const QRectF all = onWidget(RealRect::of(crop_->original)), kept = selectionRect();
    QPainterPath outside;
    outside.addRect(all);
    outside.addRect(kept);
    painter.fillPath(outside, QColor(0, 0, 0, 150));
    painter.setPen(QPen(QColor(255, 255, 255, 110), 1));
    for (int i = 1; i < 3; ++i) {
        painter.drawLine(QPointF(kept.left() + kept.width() * i / 3, kept.top()),
                         QPointF(kept.left() + kept.width() * i / 3, kept.bottom()));
        painter.drawLine(QPointF(kept.left(), kept.top() + kept.height() * i / 3),
                         QPointF(kept.right(), kept.top() + kept.height() * i / 3));
    }
    drawSelection(painter);
    const PictureLayer& picture = *session_.picture();
    const QString words = tr("%1 × %2 px of %3 × %4, shown at %5 ×  ·  Enter ends")
                              .arg(picture.crop.width, 0, 'f',
                                   picture.crop.width == std::round(picture.crop.width) ? 0 : 1)
                              .arg(picture.crop.height, 0, 'f',
                                   picture.crop.height == std::round(picture.crop.height) ? 0 : 1)
                              .arg(crop_->original.width)
                              .arg(crop_->original.height)
                              .arg(picture.place.width / picture.crop.width, 0, 'f', 2);
    painter.setFont(interfaceFont(12, 500));
    const QRectF label(8, height() - 30, painter.fontMetrics().horizontalAdvance(words) + 20, 22);
    painter.fillRect(label, Theme::now()["ledge"]);
    painter.setPen(Theme::now()["on-ledge"]);
    painter.drawText(label, Qt::AlignCenter, words);
}

void Canvas::drawSelection(QPainter& painter) const {
    const Piece* piece = session_.piece();
    if (!session_.layer() || !piece) return;
    const Theme& theme = Theme::now();
    // Two lines, so that it is seen on any picture.
    painter.setBrush(Qt::NoBrush);
    const auto frame = [&](const QPolygonF& corners, double width) {
        painter.setRenderHint(QPainter::Antialiasing,
                              corners[0].y() != corners[1].y() && corners[0].x() != corners[1].x());
        painter.setPen(QPen(QColor(255, 255, 255, 200), width + 1));
        painter.drawPolygon(corners);
        painter.setPen(QPen(theme["accent"], width));
        painter.drawPolygon(corners);
    };
    if (!crop_)
        for (const int id : session_.chosenIds())
            if (const Layer* other = piece->layer(id); other && id != session_.layer()->id)
                frame(outlineOf(boxOf(*other), other->turn), 1);
    const QPolygonF corners = outlineOf(chosenBox(), chosenTurn());
    frame(corners, hasFocus() ? 2 : 1);
    painter.setRenderHint(QPainter::Antialiasing, false);
    const auto grip = [&](const QPointF& at) {
        const QRectF box(at.x() - handle / 2, at.y() - handle / 2, handle, handle);
        painter.fillRect(box, Qt::white);
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawRect(box);
    };
    for (const QPointF& corner : corners) grip(corner);
    if (crop_) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF knob = turnHandle(),
                  foot =
                      toWidget(turned({chosenBox().centre().x,
                                       chosenTurn().flipY ? chosenBox().bottom() : chosenBox().y},
                                      chosenTurn(), chosenBox().centre()));
    painter.setPen(QPen(QColor(255, 255, 255, 200), 3));
    painter.drawLine(foot, knob);
    painter.setPen(QPen(theme["accent"], 1.5));
    painter.drawLine(foot, knob);
    painter.setBrush(Qt::white);
    painter.drawEllipse(knob, 5, 5);
    painter.setBrush(Qt::NoBrush);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

std::optional<QPolygonF> Canvas::guideHandle(const Guide& guide) const {
    const Piece* piece = session_.piece();
    if (!piece) return {};
    const double at = guide.inPx(piece->frame);
    // A small flag outside the frame: above an upright guide, left of a level one.
    const QPointF tip = guide.upright ? toWidget({at, 0}) : toWidget({0, at});
    return guide.upright
               ? QPolygonF({tip + QPointF(0, -2), tip + QPointF(-6, -12), tip + QPointF(6, -12)})
               : QPolygonF({tip + QPointF(-2, 0), tip + QPointF(-12, -6), tip + QPointF(-12, 6)});
}

void Canvas::drawGuides(QPainter& painter) const {
    const Piece* piece = session_.piece();
    if (!piece) return;
    const PixelSize frame = piece->frame;
    const auto line = [&](bool upright, double at) {
        return upright
                   ? QLineF(toWidget({at, 0}), toWidget({at, static_cast<double>(frame.height)}))
                   : QLineF(toWidget({0, at}), toWidget({static_cast<double>(frame.width), at}));
    };
    const auto draw = [&](const QLineF& drawn, Qt::PenStyle style, const QColor& colour) {
        painter.setPen(QPen(QColor(255, 255, 255, 150), 1));
        painter.drawLine(drawn.translated(1, 1));
        painter.setPen(QPen(colour, 1, style));
        painter.drawLine(drawn);
    };
    if (thirdsShown_)
        for (const double share : {1 / 3.0, 0.5, 2 / 3.0})
            for (const bool upright : {true, false})
                draw(line(upright, share * (upright ? frame.width : frame.height)),
                     share == 0.5 ? Qt::DashDotLine : Qt::DotLine, QColor(0, 0, 0, 150));
    const QColor accent = Theme::now()["accent"];
    for (const Guide& guide : piece->guides) {
        draw(line(guide.upright, guide.inPx(frame)), Qt::SolidLine, accent);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(Qt::white, 1));
        painter.setBrush(accent);
        painter.drawPolygon(*guideHandle(guide));
        painter.setBrush(Qt::NoBrush);
        painter.setRenderHint(QPainter::Antialiasing, false);
    }
}

void Canvas::drawEmpty(QPainter& painter) const {
    painter.setPen(Theme::now()["ink"]);
    painter.setFont(interfaceFont(17, 600));
    const QRect middle = rect().adjusted(40, height() / 2 - 40, -40, 0);
    painter.drawText(middle, Qt::AlignHCenter | Qt::AlignTop,
                     session_.files().busy() ? tr("Opening the kit …") : tr("What are you making?"));
    if (session_.files().busy()) return;
    painter.setFont(interfaceFont(13));
    painter.drawText(middle.adjusted(0, 30, 0, 0),
                     Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap,
                     tr("Start a piece with “+ Piece” on the left: choose where it goes, and its "
                        "frame is set up.\nOr open a kit with Ctrl+O."));
}

}  // namespace zl::app
