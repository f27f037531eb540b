// SPDX-License-Identifier: GPL-3.0-or-later
// The line over everything: what is open, the four views, undo, redo and save.
#pragma once

#include <QStringList>
#include <QWidget>

#include "work/session.h"

class QButtonGroup;
class QLabel;
class QPushButton;

namespace zl::app {

class Crumb;

class Header : public QWidget {
    Q_OBJECT
  public:
    // Titles and keys of the views, in their order.
    Header(Session& session, const QStringList& titles, const QStringList& keys);
    void nameKeys(const QString& undo, const QString& redo);
    void showView(int view);
    void refresh();  // what is open, and whether it is saved

  Q_SIGNALS:
    void viewAsked(int view);
    void saveAsked();

  private:
    void followHistory();

    Session& session_;
    Crumb* crumb_;
    QLabel* saved_;
    QButtonGroup* tabs_;
    QPushButton *undo_, *redo_;
    QString undoKey_, redoKey_;
};

}  // namespace zl::app
