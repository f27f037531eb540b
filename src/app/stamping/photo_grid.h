// SPDX-License-Identifier: GPL-3.0-or-later
// All photographs with their verdicts, small, in a grid that scrolls through thousands: only what
// is seen is drawn.
#pragma once

#include <QListView>

#include "work/stamp_desk.h"

namespace zl::app {

class PhotoGrid : public QListView {
    Q_OBJECT
  public:
    explicit PhotoGrid(StampDesk& desk, QWidget* parent = nullptr);

  protected:
    void currentChanged(const QModelIndex& now, const QModelIndex& before) override;

  private:
    class Model;
    class Drawing;
    StampDesk& desk_;
    bool following_ = false;
};

}  // namespace zl::app
