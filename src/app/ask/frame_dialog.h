// SPDX-License-Identifier: GPL-3.0-or-later
// Another size for a piece: all of it scaled, laid out anew for another frame, a frame put round
// it, or trimmed to its ink.
#pragma once

#include <QDialog>

#include "widgets/fields.h"
#include "work/session.h"

class QButtonGroup;
class QComboBox;
class QVBoxLayout;
class QLabel;
class QRadioButton;

namespace zl::app {

class FrameDialog : public QDialog {
    Q_OBJECT
  public:
    FrameDialog(Session& session, QWidget* parent);

  private:
    void buildWays(QVBoxLayout* column);
    void fillBriefs();
    void buildAnchors();
    void listen();
    void sideTyped(NumberField* side, double px);
    double factor() const;  // of scaling all of it
    void keepShape();
    void refresh();
    void accept() override;
    Result<Kit> outcome() const;
    Session& session_;
    QRadioButton *scale_, *relay_, *around_, *trim_;
    NumberField *width_, *height_, *margin_;
    NumberField* leads_ = nullptr;  // the side that was typed last
    QComboBox* brief_;
    QButtonGroup* anchors_;
    QWidget* anchorBox_;
    QLabel *about_, *refusal_;
};

}  // namespace zl::app
