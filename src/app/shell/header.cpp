// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/header.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "look/theme.h"
#include "widgets/view_tab.h"

namespace zl::app {

Header::Header(Session& session, const QStringList& titles, const QStringList& keys)
    : session_(session) {
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
    for (int i = 0; i < titles.size(); ++i) {
        auto* tab = new ViewTab(titles[i], keys[i]);
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
    undo_ = button(tr("Undo"), "undo");
    redo_ = button(tr("Redo"), "redo");
    auto* save = button(tr("Save"), "save");
    row->addLayout(buttons, 1);
    connect(undo_, &QPushButton::clicked, &session_.document().history(), &QUndoStack::undo);
    connect(redo_, &QPushButton::clicked, &session_.document().history(), &QUndoStack::redo);
    connect(save, &QPushButton::clicked, this, &Header::saveAsked);
    QUndoStack& history = session_.document().history();
    connect(&history, &QUndoStack::indexChanged, this, &Header::followHistory);
    connect(&history, &QUndoStack::canUndoChanged, this, &Header::followHistory);
    connect(&history, &QUndoStack::canRedoChanged, this, &Header::followHistory);
    followHistory();
}

void Header::nameKeys(const QString& undo, const QString& redo) {
    undoKey_ = undo;
    redoKey_ = redo;
    followHistory();
}

void Header::followHistory() {
    const QUndoStack& history = session_.document().history();
    undo_->setEnabled(history.canUndo());
    redo_->setEnabled(history.canRedo());
    undo_->setToolTip(history.canUndo() ? tr("Undo: %1 (%2)").arg(history.undoText(), undoKey_)
                                        : tr("Nothing to undo"));
    redo_->setToolTip(history.canRedo() ? tr("Redo: %1 (%2)").arg(history.redoText(), redoKey_)
                                        : tr("Nothing to redo"));
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
                    : session_.files().path()     ? tr("saved")
                                                  : QString());
}

}  // namespace zl::app
