// SPDX-License-Identifier: GPL-3.0-or-later
// The stamps that are kept: chosen, kept under their name or another, renamed, doubled, deleted;
// in the kit or on the person's own shelf; out and in as files.
#pragma once

#include <QWidget>

#include "work/stamp_desk.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace zl::app {

class StampKeeping : public QWidget {
    Q_OBJECT
  public:
    StampKeeping(Session& session, StampDesk& desk, QWidget* parent = nullptr);
    void setShelf(Path folder) { shelf_ = std::move(folder); }
    void keep();
    void keepAs(const QString& name);
    void rename(const QString& name);
    void remove();
    void next(int by);  // another of those that are kept
    void importFrom(const QString& file);
    void exportTo(const QString& file);
    bool isChanged() const;  // from the one that is kept under its name
    void leave();            // the changes are given up

  Q_SIGNALS:
    void nameAsked(const QString& title, const QString& now,
                   const std::function<void(QString)>& done);
    void deleteAsked(const QString& words, const std::function<void()>& done);
    void exportAsked(const QString& suggested);
    void importAsked();

  private:
    void build();
    void buildMenu();
    void refresh();
    void readShelf();
    QString freeName(const QString& name) const;

    Session& session_;
    StampDesk& desk_;
    Path shelf_;
    std::vector<Stamp> onShelf_;
    QComboBox* which_;
    QPushButton *keep_, *more_;
    QLabel* note_;
};

}  // namespace zl::app
