// SPDX-License-Identifier: GPL-3.0-or-later
// The findings of a reading, above the ledge: one sentence, the places, the mends.
#pragma once

#include <QFrame>

#include "readings/reading.h"
#include "work/session.h"

class QVBoxLayout;

namespace zl::app {

class Findings : public QFrame {
    Q_OBJECT
  public:
    explicit Findings(Session& session, QWidget* parent);
    void show(const std::vector<Reading>& readings);  // one, or all of them
    void focusFirst();                                // the first thing that can be pressed

  Q_SIGNALS:
    void placeAsked(const zl::Finding& finding);
    void mendAsked(const QString& mendId);
    void closed();

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    struct Row {
        QLabel* says;
        std::vector<QPushButton*> places;
    };
    std::vector<std::pair<QString, QString>> mendsOf(const Reading& reading) const;  // id, words
    QString madeOf(const std::vector<Reading>& readings) const;
    void build();
    void add(std::size_t at);
    void say();
    void fit();
    Session& session_;
    std::vector<Reading> readings_;
    std::vector<Row> rows_;
    QString made_;
    QVBoxLayout* layout_;
    QWidget* content_;
};

}  // namespace zl::app
