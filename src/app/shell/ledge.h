// SPDX-License-Identifier: GPL-3.0-or-later
// The strip at the foot of the window: each reading a small rule. Worst first, then the brief's
// order; what does not fit stands behind one cell that says how many.
#pragma once

#include <QAbstractButton>
#include <QWidget>
#include <vector>

#include "readings/reading.h"

namespace zl::app {

class LedgeCell : public QAbstractButton {
    Q_OBJECT
  public:
    explicit LedgeCell(QWidget* parent);
    void show(const Reading& reading, bool fresh);
    void showMore(int count, Verdict worst);
    const std::string& readingId() const { return id_; }

  protected:
    void paintEvent(QPaintEvent*) override;
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

  private:
    void drawRule(QPainter& painter, const QRectF& line) const;
    struct Face {
        QString title, value, beside;
        Verdict verdict = Verdict::notMeasured;
        std::optional<Rule> rule;
        bool fresh = true;
        bool operator==(const Face&) const = default;
    };
    void wear(Face face);  // painted again only when it is another
    std::string id_;
    Face face_;
};

class Ledge : public QWidget {
    Q_OBJECT
  public:
    explicit Ledge(QWidget* parent = nullptr);
    // `fresh` false: the piece was edited since; the numbers are on their way.
    void show(const std::vector<Reading>& readings, bool fresh, const QString& emptyWords);
    LedgeCell* cell(const std::string& readingId) const;  // nothing when it is not on show
    std::string opened() const { return opened_; }
    void setOpened(const std::string& readingId);

  Q_SIGNALS:
    void asked(const QString&
                   readingId);  // a cell was clicked; "" for the one behind which the rest stands

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override { lay(); }

  private:
    void lay();
    std::vector<Reading> readings_;
    std::vector<LedgeCell*> cells_;
    QString emptyWords_;
    std::string opened_;
    bool fresh_ = true;
    int cellsShown_ = -1;
};

}  // namespace zl::app
