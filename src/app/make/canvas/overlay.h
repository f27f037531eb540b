// SPDX-License-Identifier: GPL-3.0-or-later
// What lies over the piece without being a part of it: zones, what no device shows, link regions
// and slices, thirds, a place that is pointed at.
#pragma once

#include <QCoreApplication>
#include <QImage>
#include <optional>

#include "make/canvas/viewport.h"
#include "work/session.h"

namespace zl::app {

// A rectangle with its name on a flag, seen on any picture.
void drawNamed(QPainter& painter, const QRectF& place, const QString& name, bool dashed);
// A line with a light shadow, seen on any picture.
void drawLine(QPainter& painter, const QLineF& line, Qt::PenStyle style, const QColor& colour);

class Overlay {
    Q_DECLARE_TR_FUNCTIONS(Canvas)
  public:
    Overlay(Session& session, const Viewport& viewport) : session_(session), viewport_(viewport) {}

    bool zonesShown = true, thirdsShown = false, outsideDimmed = false;
    std::string zoneAlone;            // one zone alone, by its id; empty: all
    std::optional<RealRect> pointed;  // draws the eye there

    void prepare();                 // the paint that follows has enough to do
    void paint(QPainter& painter);  // below the guides
    void paintPointed(QPainter& painter) const;
    void paintFrame(QPainter& painter) const;
    // In the middle of the widget: what is wrong, or what to do with an empty frame.
    void paintWords(QPainter& painter, const QRect& widget, const QString& wrong) const;
    void paintStart(QPainter& painter, const QRect& widget) const;  // without a piece

  private:
    bool prepareZones();
    void drawZone(QPainter& painter, const Zone& zone, std::vector<QRectF>& taken) const;
    void drawDimmed(QPainter& painter) const;
    void drawRegions(QPainter& painter) const;
    void drawThirds(QPainter& painter) const;

    Session& session_;
    const Viewport& viewport_;
    // The zones, drawn once for where they stand: dashes are slow, and a drag paints them at every
    // step.
    struct ZonesDrawn {
        std::vector<Zone> zones;
        Mapping mapping;
        PixelSize frame;
        PixelSize size;
        bool operator==(const ZonesDrawn&) const = default;
    };
    ZonesDrawn zonesOf_;
    QImage zonesDrawn_;
};

}  // namespace zl::app
