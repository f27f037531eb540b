// SPDX-License-Identifier: GPL-3.0-or-later
// The stack of layers, top first: reorder by dragging or with buttons, rename in place (F2, double
// click), hide by the eye.
#pragma once

#include <QListWidget>

#include "work/session.h"

namespace zl::app {

class LayerList : public QListWidget {
    Q_OBJECT
  public:
    explicit LayerList(Session& session, QWidget* parent = nullptr);
    void raise(int by);  // the chosen layers past a neighbour, up (1) or down (-1)
    void removeChosen();
    void doubleChosen();
    void hideChosen();
    QRect eyeRect(const QModelIndex& index) const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {100, 60}; }

  protected:
    void mousePressEvent(QMouseEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void rebuild();
    bool isShown(const Piece* piece) const;
    void chooseRow();
    void rename(int id, const QString& name);
    void toggleHidden(int layerId);
    void setHidden(const std::set<int>& layerIds, bool hide);
    int layerOf(const QListWidgetItem* item) const;
    Session& session_;
    bool filling_ = false;
};

}  // namespace zl::app
