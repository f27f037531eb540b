// SPDX-License-Identifier: GPL-3.0-or-later
// What part of a frame a widget shows, and how large: where points of the one lie on the other.
#pragma once

#include <QPolygonF>
#include <QWidget>
#include <functional>

#include "base/geometry.h"
#include "picture/shrink.h"

namespace zl::app {

class Viewport {
  public:
    // `frame` says what is shown now; empty: nothing.
    Viewport(const QWidget& widget, std::function<PixelSize()> frame)
        : widget_(widget), frame_(std::move(frame)) {}

    PixelSize frame() const { return frame_(); }
    bool hasFocus() const { return widget_.hasFocus(); }
    PixelSize devicePixels() const;
    double ratio() const { return widget_.devicePixelRatioF(); }  // device px in a px of the widget
    Mapping mapping() const;                                      // frame to device px
    double scale() const {
        return mapping().scale / ratio();
    }                         // px of the widget in one of the
                              // frame
    bool holdsFrame() const;  // whether all of it is seen

    QPointF toWidget(RealPoint frame) const;
    RealPoint toFrame(QPointF widget) const;
    QRectF onWidget(const RealRect& frame) const;
    // The corners of a box that is turned about its centre, from the top left clockwise.
    QPolygonF outlineOf(const RealRect& box, const Turn& turn) const;

    double zoom() const { return zoom_; }
    // 0: as large as fits; else px of the widget in one of the frame.
    void setZoom(double zoom);
    // The point of the frame that lies there stays there.
    void zoomTo(double zoom, QPointF there);
    RealPoint pan() const { return pan_; }
    void setPan(RealPoint pan);  // what is in the middle, as shares of the frame
    void moveBy(RealPoint widgetPx);
    bool moves() const { return zoom_ > 0; }  // a frame that fits does not

  private:
    const QWidget& widget_;
    const std::function<PixelSize()> frame_;
    double zoom_ = 0;
    RealPoint pan_{0.5, 0.5};
};

}  // namespace zl::app
