// SPDX-License-Identifier: GPL-3.0-or-later
// The length of a video as small pictures, with a line where one is; dragged along by the hand.
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
    QSize sizeHint() const override { return {600, 64}; }

  Q_SIGNALS:
    void asked(double seconds);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override { mouseMoveEvent(event); }
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    double xOf(double seconds) const;
    FilmDesk& desk_;
    double time_ = 0;
    std::vector<double> marks_;
};

}  // namespace zl::app
