// SPDX-License-Identifier: GPL-3.0-or-later
// One piece, many places: choose the briefs that the piece is laid out for; each becomes a piece of
// its own.
#pragma once

#include <QDialog>
#include <stop_token>

#include "work/session.h"

class QLabel;
class QListWidget;
class QPushButton;

namespace zl::app {

class LayOutDialog : public QDialog {
    Q_OBJECT
  public:
    explicit LayOutDialog(Session& session, QWidget* parent = nullptr);
    ~LayOutDialog() override;

  private:
    void layOut();
    void refresh();
    Session& session_;
    QListWidget* list_;
    QLabel* note_;
    QPushButton* start_;
    std::stop_source stop_;
    bool busy_ = false;
};

// What was edited in the first piece since, carried over to the chosen piece, or from it to every
// piece laid out from it; aside.
void carryEditsOver(Session& session);

}  // namespace zl::app
