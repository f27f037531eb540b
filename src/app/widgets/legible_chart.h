// SPDX-License-Identifier: GPL-3.0-or-later
// The length of a video as a chart: how much of a mark stands out at each moment, and how much of
// the picture it hides. A click goes to the moment.
#pragma once

#include <QWidget>

#include "readings/over_frames.h"

namespace zl::app {

class LegibleChart : public QWidget {
    Q_OBJECT
  public:
    explicit LegibleChart(QWidget* parent = nullptr);
    void show(const LegibleCurve& curve, double length);
    void showTime(double seconds);
    void clear();
    double xOf(double seconds) const;
    QSize sizeHint() const override { return {640, 96}; }

  Q_SIGNALS:
    void asked(double seconds);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override { mouseMoveEvent(event); }
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    double yOf(double share) const;
    void paintCurve(QPainter& painter) const;
    LegibleCurve curve_;
    double length_ = 0, time_ = 0;
};

}  // namespace zl::app
