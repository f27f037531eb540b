// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that the menus do, one row an action: menus, keys, tool tips and the list of keys come
// from it. CONTRIBUTING.md tells how one is added.
#pragma once

#include <QKeySequence>
#include <QObject>
#include <QString>
#include <functional>
#include <map>
#include <vector>

class QAction;
class QMenu;

namespace zl::app {

class MainWindow;

// What is chosen, or what there is to undo or redo; without it, it is off.
// What must be there; of layers, Make must be on show: nothing is done to what is not seen.
enum class Needs { nothing, piece, layers, layer, picture, undo, redo };

struct ActionRow {
    const char* id = nullptr;  // the action's object name; nothing: a line between two groups
    QString words{};
    QKeySequence key{};
    Needs needs = Needs::nothing;
    std::function<void(MainWindow&)> run{};
    std::function<bool(MainWindow&)> checked{};       // it has a check mark, and this says when
    std::function<void(MainWindow&, QMenu&)> fill{};  // it is a menu, filled when it is opened
};

struct MenuRow {
    QString title;
    std::vector<ActionRow> rows;
};

std::vector<MenuRow> menuRows(MainWindow& window);  // one a file: kit_actions.cpp and so on
std::vector<ActionRow> kitActions();
std::vector<ActionRow> pieceActions();
std::vector<ActionRow> layerActions();
std::vector<ActionRow> viewActions(MainWindow& window);
std::vector<ActionRow> helpActions();

// The rows as Qt's actions in the window's menu bar.
class Actions : public QObject {
    Q_OBJECT
  public:
    explicit Actions(MainWindow& window);
    void refresh();                       // which are on, and which are checked
    QString keyOf(const char* id) const;  // as it is written on this machine

  private:
    void add(QMenu* menu, const ActionRow& row);

    MainWindow& window_;
    struct Made {
        QAction* action;
        Needs needs;
        std::function<bool(MainWindow&)> checked;
    };
    std::map<std::string, Made> made_;
};

}  // namespace zl::app
