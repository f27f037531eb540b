// SPDX-License-Identifier: GPL-3.0-or-later
// A piece and its variants side by side, as small as the audience meets them.
#pragma once

#include <QDialog>

#include "work/readings_desk.h"
#include "work/session.h"

class QGridLayout;

namespace zl::app {

class VariantsDialog : public QDialog {
    Q_OBJECT
  public:
    VariantsDialog(Session& session, const ReadingsDesk& desk, QWidget* parent);

  private:
    void refresh();
    Session& session_;
    const ReadingsDesk& desk_;
    QGridLayout* cards_;
};

}  // namespace zl::app
