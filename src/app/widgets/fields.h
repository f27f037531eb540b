// SPDX-License-Identifier: GPL-3.0-or-later
// Fields of the bench: a number that takes arithmetic, a colour. They send what was typed when it
// is done (Enter, leaving, arrow keys), and never change it silently: what cannot be done stays in
// the field, marked, with the reason.
#pragma once

#include <QLineEdit>
#include <functional>
#include <optional>

#include "base/colour_value.h"

class QToolButton;

namespace zl::app {

// What is being typed in a line of `window` and was not sent yet is sent now; the cursor stays.
void sendTyped(const QWidget& window);
// The same, and what cannot be is given up: the line is about to show something else.
void leaveTyped(const QWidget& window);

class NumberField : public QLineEdit {
    Q_OBJECT
  public:
    NumberField(const QString& name, const QString& unit, QWidget* parent = nullptr);
    void setRange(double low, double high, int decimals);
    // What stands in the field instead of a 0 that means something else, such as "best"; typing it
    // is the same as 0.
    void setWordsForZero(const QString& words);
    // From the kit; sends nothing. Leaves a field alone that is being typed in.
    void show(double value);
    double value() const { return shown_; }  // as it was shown last
    // What was typed cannot be, for a reason that only its receiver knows: it stays in the field,
    // marked.
    void refuse(double typed, const QString& sentence);
    const QString& refusal() const {
        return refusal_;
    }  // why what is typed cannot be; empty when it can

  Q_SIGNALS:
    void committed(double value);
    void refused(const QString& sentence);  // empty when it is good again

  protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

  private:
    void commit();
    void mark(const QString& sentence);
    QString textOf(double value) const;
    QString unit_, wordsForZero_, refusal_;
    double low_ = -1e6, high_ = 1e6, shown_ = 0;
    int decimals_ = 2;
};

// A path that was typed, made whole: "~" and what has no root begin at the home folder.
QString wholePath(const QString& typed);

// A path, whose end is what matters: while it is not being typed in, what does not fit is left out
// at its beginning.
class PathField : public QLineEdit {
    Q_OBJECT
  public:
    using QLineEdit::QLineEdit;

  protected:
    void paintEvent(QPaintEvent* event) override;
};

class ColourField : public QWidget {
    Q_OBJECT
  public:
    ColourField(const QString& name, QWidget* parent = nullptr);
    void show(Colour colour);
    // None is a choice, too, which these words say; an emptied text makes it.
    void allowNone(const QString& words) { text_->setPlaceholderText(words); }
    void showNone();
    QLineEdit* text() const { return text_; }

  Q_SIGNALS:
    void committed(zl::Colour colour);
    void cleared();  // none was chosen
    void refused(const QString& sentence);

  private:
    void commit();
    void offer();
    void choose();
    void fill(std::optional<Colour> colour);
    QLineEdit* text_;
    QToolButton* swatch_;
    std::optional<Colour> shown_;
};

}  // namespace zl::app
