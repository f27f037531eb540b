// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/actions.h"

#include <QMenuBar>

#include "shell/main_window.h"
#include "widgets/fields.h"

namespace zl::app {

std::vector<MenuRow> menuRows(MainWindow& window) {
    return {{Actions::tr("&Kit"), kitActions()},
            {Actions::tr("&Piece"), pieceActions()},
            {Actions::tr("&Layer"), layerActions()},
            {Actions::tr("&View"), viewActions(window)},
            {Actions::tr("&Help"), helpActions()}};
}

Actions::Actions(MainWindow& window) : QObject(&window), window_(window) {
    for (const MenuRow& menu : menuRows(window)) {
        QMenu* made = window.menuBar()->addMenu(menu.title);
        for (const ActionRow& row : menu.rows) add(made, row);
    }
}

void Actions::add(QMenu* menu, const ActionRow& row) {
    if (!row.id) {
        menu->addSeparator();
        return;
    }
    if (row.fill) {
        QMenu* inner = menu->addMenu(row.words);
        inner->setObjectName(row.id);
        connect(inner, &QMenu::aboutToShow, this, [this, inner, fill = row.fill] {
            inner->clear();
            fill(window_, *inner);
        });
        return;
    }
    QAction* action = menu->addAction(row.words);
    action->setObjectName(row.id);
    action->setShortcut(row.key);
    action->setCheckable(static_cast<bool>(row.checked));
    connect(action, &QAction::triggered, this, [this, run = row.run] {
        sendTyped(window_);
        run(window_);
        refresh();
    });
    // A step is counted after the kit it leads to was shown.
    const QUndoStack& history = window_.session().document().history();
    if (row.needs == Needs::undo)
        connect(&history, &QUndoStack::canUndoChanged, action, &QAction::setEnabled);
    if (row.needs == Needs::redo)
        connect(&history, &QUndoStack::canRedoChanged, action, &QAction::setEnabled);
    made_[row.id] = {action, row.needs, row.checked};
}

void Actions::refresh() {
    Session& session = window_.session();
    const bool makes = window_.views().now() == MainWindow::make;
    const auto has = [&](Needs needs) {
        switch (needs) {
            case Needs::nothing:
                return true;
            case Needs::piece:
                return session.piece() != nullptr;
            case Needs::layers:
                return makes && session.piece() && !session.piece()->layers.empty();
            case Needs::layer:
                return makes && session.layer();
            case Needs::picture:
                return makes && session.picture();
            case Needs::undo:
                return session.document().history().canUndo();
            case Needs::redo:
                return session.document().history().canRedo();
        }
        return false;
    };
    for (const auto& [id, made] : made_) {
        made.action->setEnabled(has(made.needs));
        if (made.checked) made.action->setChecked(made.checked(window_));
    }
}

QString Actions::keyOf(const char* id) const {
    const auto found = made_.find(id);
    return found == made_.end()
               ? QString()
               : found->second.action->shortcut().toString(QKeySequence::NativeText);
}

}  // namespace zl::app
