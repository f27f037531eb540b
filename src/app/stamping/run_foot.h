// SPDX-License-Identifier: GPL-3.0-or-later
// The run: where the marked photographs go, what they are called and what is kept of them; its
// progress; what came of it.
#pragma once

#include <QWidget>
#include <functional>

#include "work/stamp_desk.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QStackedWidget;

namespace zl::app {

class NumberField;

class RunFoot : public QWidget {
    Q_OBJECT
  public:
    explicit RunFoot(StampDesk& desk, QWidget* parent = nullptr);
    void run(bool resume);
    RunAsked asked() const;
    std::function<void(RunAsked&)> complete;  // what is said elsewhere of a run
    void refresh();

  Q_SIGNALS:
    void folderAsked();
    void refused(const QString& sentence);
    void reportAsked(const QString& file);  // wants to see it

  public Q_SLOTS:
    void setFolder(const QString& folder);

  private:
    QWidget* buildChoices();
    QWidget* buildProgress();
    void tell();

    StampDesk& desk_;
    QLineEdit *folder_, *name_;
    QComboBox *format_, *size_, *tags_;
    QPushButton *run_, *pause_, *cancel_, *resume_, *report_, *undo_;
    QProgressBar* bar_;
    QLabel *words_, *left_;
    bool unfinished_ = false;
};

}  // namespace zl::app
