// SPDX-License-Identifier: GPL-3.0-or-later
// The bar over the canvas: backdrops, zones, zoom, and what the frame is.
#pragma once

#include <QWidget>

#include "make/canvas/canvas.h"

class QButtonGroup;
class QHBoxLayout;
class QLabel;
class QMenu;
class QToolButton;

namespace zl::app {

class CanvasBar : public QWidget {
    Q_OBJECT
  public:
    CanvasBar(Session& session, Canvas& canvas);

  Q_SIGNALS:
    void briefAsked();  // a brief of one's own, from the zones

  private:
    void addBackdrops(QHBoxLayout* row);
    void addZones(QHBoxLayout* row);
    void addZooms(QHBoxLayout* row);
    void fillZones(QMenu* menu);
    void tellZone();
    void tellZoom();

    Session& session_;
    Canvas& canvas_;
    QToolButton *zones_, *zoneMenu_;
    QAction* dimmed_;
    QButtonGroup* zooms_;
    QLabel* frameWords_;
};

}  // namespace zl::app
