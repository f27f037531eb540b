// SPDX-License-Identifier: GPL-3.0-or-later
// The length of a video as small pictures, with its cuts, its proposals, the part that is chosen,
// and a line where one is; dragged along by the hand.
#pragma once

#include <QWidget>

#include "work/film_desk.h"

namespace zl::app {

class FilmStrip : public QWidget {
    Q_OBJECT
  public:
    explicit FilmStrip(FilmDesk& desk, QWidget* parent = nullptr);
    void showTime(double seconds);
    void mark(std::vector<double> times);  // of the proposals
    void showPart(const Span& part);
    QSize sizeHint() const override { return {600, 68}; }

  Q_SIGNALS:
    void asked(double seconds);    // while it is dragged, a near picture will do
    void settled(double seconds);  // the hand is off it

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override { mouseMoveEvent(event); }
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    double xOf(double seconds) const;
    double secondsAt(const QMouseEvent& event) const;
    void paintPictures(QPainter& painter) const;
    void paintMarks(QPainter& painter) const;
    FilmDesk& desk_;
    double time_ = 0;
    Span part_;
    std::vector<double> marks_;
};

}  // namespace zl::app
