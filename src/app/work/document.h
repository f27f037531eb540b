// SPDX-License-Identifier: GPL-3.0-or-later
// The kit that is open, and its history. Nothing else changes it.
#pragma once

#include <QObject>
#include <QString>
#include <QUndoStack>
#include <functional>

#include "kit/kit.h"
#include "work/jobs.h"

namespace zl::app {

// An edit that takes a while: made aside, and it counts only for the kit it was made for.
struct AsideEdit {
    QString what;  // in the history
    std::function<Result<Kit>(const Kit&, const std::stop_token&)> make{};
    std::stop_token stop{};
    QString meanwhile{};                // what is told when the kit was edited meanwhile
    std::function<void()> ended{};      // however it ended, first of all
    std::function<void()> answered{};   // for the kit as it still is, before it takes effect
    std::function<void()> applied{};    // it took effect
    std::function<void()> unchanged{};  // there was nothing to change
    std::function<void(const Error&)> refused{};  // the error is told when nothing is here
};

class Document : public QObject {
    Q_OBJECT
  public:
    explicit Document(QObject* parent = nullptr);

    const Kit& kit() const { return kit_; }
    QUndoStack& history() { return history_; }
    bool changed() const { return !history_.isClean(); }  // since it was opened or saved

    // One undoable edit. An error is told and changes nothing; an equal kit pushes nothing. Edits
    // of the same, non-empty `mergeKey` that follow each other are one step, until it is ended.
    bool apply(const Result<Kit>& next, const QString& what, const QString& mergeKey = {});
    void endStep() { ++step_; }
    // A cancelled one says nothing.
    void applyAside(Jobs& jobs, AsideEdit edit);

    // Another kit, without a history.
    void reset(const Kit& kit);

  Q_SIGNALS:
    void kitChanged();                    // any edit, undo, redo, reset
    void stepped(const zl::Kit& before);  // an undo or a redo led here from that kit
    void fontsChanged();
    void told(const QString& sentence, bool bad);

  private:
    friend class KitCommand;
    void show(const Kit& kit);
    void end(const AsideEdit& edit, const Kit& before, const Result<Kit>& made);

    Kit kit_;
    QUndoStack history_;
    int step_ = 0;  // counts those that were ended
};

}  // namespace zl::app
