// SPDX-License-Identifier: GPL-3.0-or-later
// One sentence over the ledge. Good news leaves by itself; a refusal stays until it is closed.
#pragma once

#include <QWidget>
#include <optional>

class QLabel;

namespace zl::app {

class Notice : public QWidget {
    Q_OBJECT
  public:
    explicit Notice(QWidget* whole);
    void tell(const QString& sentence, bool bad);
    bool isBad() const { return bad_; }
    // Over `foot`, px of the parent, in the middle; beside the panel that is open, or above it.
    void placeOver(int foot, std::optional<QRect> panel);

  Q_SIGNALS:
    void closed();  // by hand
    void filled();  // wants its place anew

  private:
    QLabel* text_;
    bool bad_ = false;
};

}  // namespace zl::app
