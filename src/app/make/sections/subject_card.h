// SPDX-License-Identifier: GPL-3.0-or-later
// The card of a subject cut: its guesses side by side, its box and strokes, what is unsure, what
// stays, what becomes of the ground.
#pragma once

#include <QWidget>
#include <functional>

#include "kit/cut_values.h"
#include "layout/subject_layers.h"
#include "widgets/form.h"
#include "work/session.h"

class QComboBox;
class QLabel;
class QPushButton;
class QToolButton;

namespace zl::app {

class SubjectCard : public QWidget {
    Q_OBJECT
  public:
    // Changes the `index`-th cut of the chosen picture as one edit; edits with one merge key that
    // follow each other are one.
    using Change = std::function<void(const QString& what, const std::function<void(Cut&)>&)>;
    SubjectCard(Session& session, std::size_t index, Change change);
    void fill(const SubjectCut& cut);

  Q_SIGNALS:
    void brushAsked(bool restores, double radius);  // px of the original
    void boxAsked();

  private:
    void buildGuesses(Form& form);
    void buildStrokes(Form& form);
    void buildUnsure(Form& form);
    void buildOutcome(Form& form);
    void buildGround(Form& form);
    void useGround(GroundUse use);
    void change(const QString& what, const std::function<void(SubjectCut&)>& change);
    void tell();
    const SubjectState* state() const;

    Session& session_;
    const std::size_t index_;
    const Change change_;
    SubjectCut shown_;
    std::vector<QToolButton*> guesses_;
    QWidget *guessRow_, *strokeRow_;
    QLabel *trust_, *unsure_, *says_;
    QPushButton *again_, *next_, *key_;
    QComboBox *edge_, *part_, *shadow_, *look_, *strokes_;
    NumberField* brush_;
    double width_ = 24;  // of the brush, px of the original
    bool filling_ = false, sized_ = false;
};

}  // namespace zl::app
