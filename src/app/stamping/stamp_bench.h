// SPDX-License-Identifier: GPL-3.0-or-later
// The stamp: which one, what it shows, where, how large and how strong; and what the chosen
// photograph has of its own.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "stamping/stamp_keeping.h"
#include "work/stamp_desk.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QToolButton;

namespace zl::app {

class NumberField;
class Panel;
class WhatForm;

class StampBench : public QWidget {
    Q_OBJECT
  public:
    StampBench(Session& session, StampDesk& desk, QWidget* parent = nullptr);
    StampKeeping& keeping() { return *keeping_; }
    // The placing that is set: that of the chosen photograph where it has its own, else the
    // stamp's for its shape.
    void changePlacing(const std::function<void(StampPlacing&)>& how);

    // What of a run is said here: quality, limit, clean copies.
    void complete(RunAsked& asked) const;
    // The mark's middle at that share of the photograph, whatever corners might be better.
    void placeAt(RealPoint centre);
    WhatForm& what() { return *what_; }

  Q_SIGNALS:
    void runChanged();  // what of a run is said here

  private:
    void buildCells(Panel& panel);
    void buildPlace(Panel& panel);
    void buildSize(Panel& panel);
    void buildStrength(Panel& panel);
    void buildPhoto(Panel& panel);
    void buildWhose(Panel& panel);
    void buildCopies(Panel& panel);
    NumberField* number(Panel& panel, const QString& caption, const QString& unit,
                        const char* objectName, const std::function<void(double)>& changed);
    void fill();
    void fillPlace();
    void fillPhoto();
    const StampPlacing& placing() const;
    bool placesUpright() const;

    Session& session_;
    StampDesk& desk_;
    StampKeeping* keeping_;
    WhatForm* what_;
    bool filling_ = false;
    QComboBox *which_, *unit_, *size_, *photo_, *tone_;
    QCheckBox *tiled_, *upright_, *clean_;
    QLineEdit *author_, *rights_, *address_;
    NumberField *insetX_, *insetY_, *width_, *least_, *most_, *capitals_, *opacity_, *turn_, *gap_,
        *quality_, *limit_;
    std::vector<QToolButton*> places_;
    double qualityOfRun_ = 0, limitOfRun_ = 0;  // kB
    QLabel *placeNote_, *turnNote_;
};

}  // namespace zl::app
