// SPDX-License-Identifier: GPL-3.0-or-later
// Opening, saving and leaving a kit, with the questions that keep anything from being lost.
#pragma once

#include <QObject>
#include <functional>

#include "ask/dialogs.h"
#include "work/session.h"

class QWidget;

namespace zl::app {

class KitDoor : public QObject {
    Q_OBJECT
  public:
    KitDoor(Session& session, Dialogs& dialogs, QWidget* window);
    void open();
    void save(std::function<void(bool)> done = {});
    void saveAs(std::function<void(bool)> done = {});
    // Calls `then` once nothing unsaved would be lost.
    void whenSafe(std::function<void()> then);
    // Asks about edits of windows that are gone, one journal after the other.
    void offerRecovery();
    void askToRecover(const Path& journal, const QString& title, const QString& when);

  private:
    Session& session_;
    Dialogs& dialogs_;
    QWidget* window_;
};

}  // namespace zl::app
