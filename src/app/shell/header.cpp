// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/header.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "look/theme.h"
#include "widgets/view_tab.h"

namespace zl::app {

Header::Header(Session& session) : session_(session) {
    setObjectName("header");
    setAttribute(Qt::WA_StyledBackground);
    setFixedHeight(headerHeight);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 0, 16, 0);
    row->setSpacing(8);
    crumb_ = new QLabel;
    crumb_->setObjectName("crumb");
    crumb_->setMinimumWidth(120);
    row->addWidget(crumb_, 1);
    tabs_ = new QButtonGroup(this);
    const std::pair<QString, QString> views[] = {{tr("Make"), "Alt+1"},
                                                 {tr("Gauge"), "Alt+2"},
                                                 {tr("Rehearse"), "Alt+3"},
                                                 {tr("Release"), "Alt+4"}};
    for (int i = 0; i < 4; ++i) {
        auto* tab = new ViewTab(views[i].first, views[i].second);
        tab->setObjectName("view-" + QString::number(i));
        tabs_->addButton(tab, i);
        row->addWidget(tab);
    }
    connect(tabs_, &QButtonGroup::idClicked, this, &Header::viewAsked);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    saved_ = new QLabel;
    saved_->setObjectName("savedWords");
    saved_->setProperty("soft", true);
    buttons->addStretch();
    buttons->addWidget(saved_);
    const auto button = [&](const QString& words, const char* objectName) {
        auto* made = new QPushButton(words);
        made->setObjectName(objectName);
        buttons->addWidget(made);
        return made;
    };
    auto* undo = button(tr("Undo"), "undo");
    auto* redo = button(tr("Redo"), "redo");
    auto* save = button(tr("Save"), "save");
    row->addLayout(buttons, 1);
    connect(undo, &QPushButton::clicked, &session_.document().history(), &QUndoStack::undo);
    connect(redo, &QPushButton::clicked, &session_.document().history(), &QUndoStack::redo);
    connect(save, &QPushButton::clicked, this, &Header::saveAsked);
    const auto follow = [this, undo, redo] {
        undo->setEnabled(session_.document().history().canUndo());
        redo->setEnabled(session_.document().history().canRedo());
        undo->setToolTip(session_.document().history().canUndo()
                             ? tr("Undo: %1 (Ctrl+Z)").arg(session_.document().history().undoText())
                             : tr("Nothing to undo"));
        redo->setToolTip(session_.document().history().canRedo()
                             ? tr("Redo: %1 (Ctrl+Shift+Z)").arg(session_.document().history().redoText())
                             : tr("Nothing to redo"));
    };
    connect(&session_.document().history(), &QUndoStack::indexChanged, this, follow);
    connect(&session_.document().history(), &QUndoStack::canUndoChanged, this, follow);
    connect(&session_.document().history(), &QUndoStack::canRedoChanged, this, follow);
    follow();
}

void Header::showView(int view) {
    tabs_->button(view)->setChecked(true);
}

void Header::refresh() {
    const Piece* piece = session_.piece();
    const QString kit = QString::fromStdString(session_.kit().title);
    crumb_->setText(piece ? QString("<span style='color:%1'>%2 &nbsp;▸&nbsp; </span>%3")
                                .arg(Theme::now()["ink-soft"].name(), kit.toHtmlEscaped(),
                                     heavy(QString::fromStdString(piece->title)))
                          : heavy(kit));
    saved_->setText(session_.document().changed() ? tr("not saved")
                    : session_.files().path()  ? tr("saved")
                                       : QString());
}

}  // namespace zl::app
