// SPDX-License-Identifier: GPL-3.0-or-later
// What the bench, the views and the dialogs build their forms of.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QWidget>
#include <vector>

#include "widgets/fields.h"

class QToolButton;

namespace zl::app {

// A line that says why something is refused; hidden while nothing is.
QLabel* refusalLine();
// Shows what a field refuses in a line.
void hear(QWidget* field, QLabel* line);

template <class Widget>
Widget* named(Widget* widget, const char* objectName) {
    widget->setObjectName(objectName);
    return widget;
}

// A box whose rows stand for the values of an enum, whatever their order.
template <class Choice>
void offer(QComboBox* box, const std::vector<std::pair<QString, Choice>>& rows) {
    for (const auto& [words, value] : rows) box->addItem(words, static_cast<int>(value));
}
template <class Choice>
Choice chosenIn(const QComboBox* box) {
    return static_cast<Choice>(box->currentData().toInt());
}
template <class Choice>
void choose(QComboBox* box, Choice value) {
    box->setCurrentIndex(box->findData(static_cast<int>(value)));
}

// A form of two columns: a caption, then one or two fields.
class Form {
  public:
    explicit Form(QWidget* parent);
    // Gives the caption's label.
    QLabel* row(const QString& caption, QWidget* one, QWidget* two = nullptr);
    void wide(QWidget* widget);

  private:
    QGridLayout* grid_;
    int row_ = 0;
};

// A title over a content, with a seam above; into the empty `whole`.
void dressAsSection(QWidget* whole, const QString& title, QWidget* content);
// A caption in the soft ink.
QLabel* softLabel(const QString& words);
// A button of the bench with an icon; its name is its tool tip, too.
QToolButton* iconButton(const char* icon, const char* objectName, const QString& name);
// A button that is a word; its tip, where it has one, is its name, too.
QToolButton* wordButton(const QString& words, const char* objectName, const QString& tip = {});
// The same for a menu, which opens at once.
QToolButton* menuButton(const QString& words, const char* objectName, const QString& tip = {});
// Widgets side by side, with a stretch behind them.
QWidget* sideBySide(const std::vector<QWidget*>& widgets);

}  // namespace zl::app
