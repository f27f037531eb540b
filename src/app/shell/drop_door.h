// SPDX-License-Identifier: GPL-3.0-or-later
// Files dropped on the window, wherever a view does not take them itself: a kit is opened, all else
// comes into the piece.
#pragma once

#include <QObject>
#include <vector>

#include "base/file.h"

namespace zl::app {

class MainWindow;

class DropDoor : public QObject {
    Q_OBJECT
  public:
    explicit DropDoor(MainWindow& window);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void take(const std::vector<Path>& files);
    MainWindow& window_;
};

}  // namespace zl::app
