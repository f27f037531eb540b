// SPDX-License-Identifier: GPL-3.0-or-later
// The wheel scrolls. Over a field, a list or a slider that is not being worked in, it goes on to
// what scrolls round it, and never changes a value in passing.
#pragma once

#include <QObject>

namespace zl::app {

class WheelGuard : public QObject {
    Q_OBJECT
  public:
    // Watches all widgets of `parent`, the application; a second one is idle.
    explicit WheelGuard(QObject* parent);
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace zl::app
