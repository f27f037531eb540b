// SPDX-License-Identifier: GPL-3.0-or-later
// The line over everything: what is open, the four views, undo, redo and save.
#pragma once

#include <QWidget>

#include "work/session.h"

class QButtonGroup;
class QLabel;

namespace zl::app {

class Header : public QWidget {
    Q_OBJECT
  public:
    explicit Header(Session& session);
    void showView(int view);
    void refresh();  // what is open, and whether it is saved

  Q_SIGNALS:
    void viewAsked(int view);
    void saveAsked();

  private:
    Session& session_;
    QLabel *crumb_, *saved_;
    QButtonGroup* tabs_;
};

}  // namespace zl::app
