// SPDX-License-Identifier: GPL-3.0-or-later
// What each device shows of the piece, side by side and live; for briefs whose devices show
// different parts.
#pragma once

#include <QImage>
#include <QWidget>

#include "make/canvas/canvas.h"
#include "work/session.h"

namespace zl::app {

class DeviceStrip : public QWidget {
    Q_OBJECT
  public:
    DeviceStrip(Session& session, Canvas& canvas, QWidget* parent = nullptr);
    // Where a device's window is drawn, by the zone's id; empty when it is not shown.
    QRectF windowOf(const std::string& zone) const;
    QSize sizeHint() const override { return {400, 116}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    struct Window {
        std::string id;
        QString title;
        RealRect part;
        QRectF place;
    };
    void refresh();
    std::vector<Window> windows() const;
    Session& session_;
    Canvas& canvas_;
    QImage overview_;
};

}  // namespace zl::app
