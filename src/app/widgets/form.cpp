// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/form.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QToolButton>
#include <QVBoxLayout>

#include "look/theme.h"

namespace zl::app {

QLabel* refusalLine() {
    auto* label = new QLabel;
    label->setObjectName("refusal");
    label->setWordWrap(true);
    label->hide();
    return label;
}

void hear(QWidget* field, QLabel* line) {
    const auto tell = [line](const QString& sentence) {
        line->setText(sentence);
        line->setVisible(!sentence.isEmpty());
    };
    if (auto* number = qobject_cast<NumberField*>(field))
        QObject::connect(number, &NumberField::refused, line, tell);
    if (auto* colour = qobject_cast<ColourField*>(field))
        QObject::connect(colour, &ColourField::refused, line, tell);
}

Form::Form(QWidget* parent) : grid_(new QGridLayout(parent)) {
    grid_->setContentsMargins(16, 0, 16, 12);
    grid_->setHorizontalSpacing(8);
    grid_->setVerticalSpacing(6);
    grid_->setColumnMinimumWidth(0, 60);
    grid_->setColumnStretch(1, 1);
    grid_->setColumnStretch(2, 1);
}

QLabel* Form::row(const QString& caption, QWidget* one, QWidget* two) {
    auto* label = softLabel(caption);
    label->setBuddy(one);
    grid_->addWidget(label, row_, 0);
    grid_->addWidget(one, row_, 1, 1, two ? 1 : 2);
    if (two) grid_->addWidget(two, row_, 2);
    ++row_;
    return label;
}

void Form::wide(QWidget* widget) {
    grid_->addWidget(widget, row_++, 0, 1, 3);
}

void dressAsSection(QWidget* whole, const QString& title, QWidget* content) {
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* seam = new QFrame;
    seam->setObjectName("seam");
    column->addWidget(seam);
    auto* head = new QLabel(title);
    head->setFont(interfaceFont(12, 600));
    head->setContentsMargins(16, 10, 16, 8);
    column->addWidget(head);
    column->addWidget(content);
}

QLabel* softLabel(const QString& words) {
    auto* label = new QLabel(words);
    label->setProperty("soft", true);
    return label;
}

QToolButton* iconButton(const char* icon, const char* objectName, const QString& name) {
    auto* button = named(new QToolButton, objectName);
    button->setIcon(lineIcon(icon));
    button->setIconSize({18, 18});
    button->setAccessibleName(name);
    button->setToolTip(name);
    return button;
}

QToolButton* wordButton(const QString& words, const char* objectName, const QString& tip) {
    auto* button = named(new QToolButton, objectName);
    button->setText(words);
    button->setProperty("words", true);
    button->setAccessibleName(tip.isEmpty() ? words : tip);
    button->setToolTip(tip);
    return button;
}

QToolButton* menuButton(const QString& words, const char* objectName, const QString& tip) {
    QToolButton* button = wordButton(words, objectName, tip);
    button->setPopupMode(QToolButton::InstantPopup);
    return button;
}

QWidget* sideBySide(const std::vector<QWidget*>& widgets) {
    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    for (QWidget* widget : widgets) row->addWidget(widget);
    row->addStretch();
    return whole;
}

}  // namespace zl::app
