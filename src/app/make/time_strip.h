// SPDX-License-Identifier: GPL-3.0-or-later
// Under the canvas of a piece that moves: play and step, the clock, and its length with when each
// layer is seen. A still piece has none.
#pragma once

#include <QWidget>

#include "make/canvas/canvas.h"
#include "work/session.h"

class QLabel;
class QToolButton;

namespace zl::app {

class MomentField;

// The length of the piece: a bar for each layer that comes or goes or moves, and where one is.
class TimeLine : public QWidget {
    Q_OBJECT
  public:
    explicit TimeLine(Session& session, QWidget* parent = nullptr);
    void refresh();
    double xOf(double seconds) const;
    QSize sizeHint() const override;
    // The layers whose bars are shown; of many, those round the chosen one.
    std::vector<const Layer*> rows() const;
    QString leftOut() const;  // how many have none; nothing where all have one

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
    std::vector<const Layer*> timed() const;  // that come, go or move, the top one first
    void paintRow(QPainter& painter, const Layer& layer, double top) const;
    Session& session_;
};

class TimeStrip : public QWidget {
    Q_OBJECT
  public:
    TimeStrip(Session& session, Canvas& canvas, QWidget* parent = nullptr);

  private:
    void refresh();
    void takeTyped();
    Session& session_;
    TimeLine* line_;
    QToolButton *play_, *loop_;
    MomentField* clock_;
    QLabel *length_, *told_;
};

}  // namespace zl::app
