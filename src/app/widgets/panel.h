// SPDX-License-Identifier: GPL-3.0-or-later
// The right side of Release and Rehearse: titles, rows, buttons, in one rhythm.
#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "look/theme.h"

namespace zl::app {

class Panel {
  public:
    explicit Panel(QWidget* bench) : column_(new QVBoxLayout(bench)) {
        bench->setObjectName("bench");
        bench->setAttribute(Qt::WA_StyledBackground);
        bench->setFixedWidth(benchWidth);
        column_->setContentsMargins(17, 0, 16, 12);
        column_->setSpacing(8);
    }
    void title(const QString& words) {
        auto* label = new QLabel(words);
        label->setFont(interfaceFont(12, 600));
        label->setFixedHeight(32);
        column_->addWidget(label);
    }
    QWidget* whole(const QString& caption, QWidget* field) {
        auto* widget = new QWidget;
        auto* row = new QHBoxLayout(widget);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(8);
        if (!caption.isEmpty()) row->addWidget(captionOf(caption));
        row->addWidget(field, 1);
        column_->addWidget(widget);
        return widget;
    }
    template <class Widget>
    Widget* row(const QString& caption, Widget* field, const char* objectName) {
        field->setObjectName(objectName);
        field->setAccessibleName(caption);
        whole(caption, field);
        return field;
    }
    void pair(const QString& caption, QWidget* one, QWidget* two) {
        auto* both = new QWidget;
        auto* row = new QHBoxLayout(both);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(4);
        row->addWidget(one, 1);
        row->addWidget(two);
        whole(caption, both);
    }
    QLabel* note() {
        auto* label = text("");
        label->setIndent(76);
        label->setFont(interfaceFont(11));
        return label;
    }
    QLabel* text(const char* objectName) {
        auto* label = new QLabel;
        label->setObjectName(objectName);
        label->setProperty("soft", true);
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        column_->addWidget(label);
        return label;
    }
    QLabel* refusal() {
        auto* label = text("refusal");
        label->setProperty("soft", false);
        label->hide();
        return label;
    }
    QPushButton* button(const QString& words, const char* objectName, bool primary) {
        auto* button = new QPushButton(words);
        button->setObjectName(objectName);
        button->setProperty("primary", primary);
        column_->addWidget(button);
        return button;
    }
    void seam() {
        auto* line = new QFrame;
        line->setObjectName("seam");
        column_->addSpacing(4);
        column_->addWidget(line);
    }
    void add(QWidget* widget) { column_->addWidget(widget); }
    void end() { column_->addStretch(); }

  private:
    static QLabel* captionOf(const QString& words) {
        auto* label = new QLabel(words);
        label->setProperty("soft", true);
        label->setFixedWidth(68);
        return label;
    }
    QVBoxLayout* column_;
};

// The bar over a view's content, with its row.
inline std::pair<QWidget*, QHBoxLayout*> viewBar(int left, int right) {
    auto* bar = new QWidget;
    bar->setObjectName("canvasBar");
    bar->setAttribute(Qt::WA_StyledBackground);
    bar->setFixedHeight(36);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(left, 0, right, 0);
    return {bar, row};
}

// The line over a view's content.
inline QLabel* viewHeadline(QVBoxLayout* column) {
    const auto [bar, row] = viewBar(20, 20);
    auto* label = new QLabel;
    label->setTextFormat(Qt::RichText);
    row->addWidget(label);
    row->addStretch();
    column->addWidget(bar);
    return label;
}

}  // namespace zl::app
