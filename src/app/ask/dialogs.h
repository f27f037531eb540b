// SPDX-License-Identifier: GPL-3.0-or-later
// Questions to the person, behind a seam, so that tests answer them. Each answers later, through
// `done`; nothing blocks.
#pragma once

#include <QString>
#include <QStringList>
#include <QWidget>
#include <functional>

namespace zl::app {

enum class Unsaved { save, discard, cancel };

struct Dialogs {
    std::function<void(QWidget*, const QString& title, const QString& filter,
                       std::function<void(QString)> done)>
        openFile;
    std::function<void(QWidget*, const QString& title, const QString& suggested,
                       const QString& filter, std::function<void(QString)> done)>
        saveFile;
    std::function<void(QWidget*, const QString& title, const QString& start,
                       std::function<void(QString)> done)>
        chooseFolder;
    std::function<void(QWidget*, const QString& kit, std::function<void(Unsaved)> done)> unsaved;
    std::function<void(QWidget*, const QString& title, const QString& filter,
                       std::function<void(QStringList)> done)>
        openFiles;
    // A short text, such as a name.
    std::function<void(QWidget*, const QString& title, const QString& caption, const QString& now,
                       std::function<void(QString)> done)>
        askText;
    // Whether to do what `action` names; `done` is called when it is.
    std::function<void(QWidget*, const QString& words, const QString& action,
                       std::function<void()> done)>
        confirm;
};

// What a dialog for pictures, and one for videos, lets choose.
QString pictureFilter();
QString videoFilter();

// The real ones. A dialog that is closed without an answer does not call `done`.
Dialogs realDialogs();

}  // namespace zl::app
