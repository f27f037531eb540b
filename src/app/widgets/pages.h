// SPDX-License-Identifier: GPL-3.0-or-later
// Views on top of one another, of which one is seen. The others do not take part in the layout:
// what a hidden text would need for its height is not asked for each time that another text
// changes.
#pragma once

#include <QStackedWidget>

namespace zl::app {

class Pages : public QStackedWidget {
  public:
    using QStackedWidget::QStackedWidget;
    bool hasHeightForWidth() const override { return false; }
};

}  // namespace zl::app
