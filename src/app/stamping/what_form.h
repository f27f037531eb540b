// SPDX-License-Identifier: GPL-3.0-or-later
// What a stamp shows: a text, a picture file or a piece of the kit, each with its twin.
#pragma once

#include <QObject>
#include <functional>
#include <vector>

#include "work/stamp_desk.h"

class QCheckBox;
class QComboBox;
class QLineEdit;
class QPlainTextEdit;
class QWidget;

namespace zl::app {

class ColourField;
class NumberField;
class Panel;

class WhatForm : public QObject {
    Q_OBJECT
  public:
    WhatForm(Session& session, StampDesk& desk, Panel& panel, QObject* parent = nullptr);
    void fill();
    void setPicture(const QString& file, bool twin);

  Q_SIGNALS:
    void pictureAsked(bool twin);  // wants a picture file from the person

  private:
    void buildText(Panel& panel);
    void buildOutline(Panel& panel);
    void buildTwin(Panel& panel);
    QLineEdit* buildFile(Panel& panel, const QString& caption, const char* id, bool twin,
                         QWidget*& row);
    void buildPieces(Panel& panel);
    void changeText(const std::function<void(StampText&)>& how);
    void chooseKind(int kind);
    void fillPieces();

    Session& session_;
    StampDesk& desk_;
    bool filling_ = true;  // until it shows the stamp
    QComboBox *kind_, *piece_, *twinPiece_;
    QPlainTextEdit* text_;
    QCheckBox* twin_;
    QLineEdit *picture_, *twinPicture_;
    ColourField *colour_, *outlineColour_;
    NumberField* outline_;
    QWidget *pictureRow_, *twinPictureRow_, *pieceRow_, *twinPieceRow_;
    std::vector<QWidget*> textRows_;
};

}  // namespace zl::app
