// SPDX-License-Identifier: GPL-3.0-or-later
// Starting a piece: choose the destination, and its frame is set up.
#pragma once

#include <QDialog>

#include "widgets/fields.h"
#include "work/session.h"

class QLabel;
class QListWidget;
class QPushButton;

namespace zl::app {

class NewPieceDialog : public QDialog {
    Q_OBJECT
  public:
    explicit NewPieceDialog(Session& session, QWidget* parent = nullptr);

  private:
    QLayout* buildList();
    QLayout* buildFields();
    QLayout* buildButtons();
    void showBrief();
    void start();
    const Brief* brief() const;
    Session& session_;
    QListWidget* list_;
    QLabel *facts_, *refusal_;
    QLineEdit* title_;
    NumberField *width_, *height_;
    QSize screenSize() const;
    QPushButton *start_, *screen_;
};

}  // namespace zl::app
