// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen photograph, large, with its mark, which is dragged to its place.
#pragma once

#include <QWidget>

#include "work/stamp_desk.h"

namespace zl::app {

class StampPreview : public QWidget {
    Q_OBJECT
  public:
    explicit StampPreview(StampDesk& desk, QWidget* parent = nullptr);
    void setTruePixels(bool on);
    bool truePixels() const { return truePixels_; }
    QRectF markOnScreen() const;  // empty: no mark is there
    QSize sizeHint() const override { return {600, 400}; }

  Q_SIGNALS:
    // Where the mark's middle was dragged to, as shares of the photograph.
    void dragged(RealPoint centre);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    void ask();
    QRectF pictureOnScreen() const;
    void dragTo(QPointF middle);

    StampDesk& desk_;
    StampShown seen_;
    bool truePixels_ = false, dragging_ = false;
    QPointF grip_;  // from the mark's middle to the hand
};

}  // namespace zl::app
