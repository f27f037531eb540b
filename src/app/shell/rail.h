// SPDX-License-Identifier: GPL-3.0-or-later
// The kit's pieces on the left: live cards with their verdict, and the button that starts another.
#pragma once

#include <QAbstractButton>
#include <QPixmap>
#include <QTimer>
#include <QWidget>

#include "work/readings_desk.h"
#include "work/session.h"

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace zl::app {

class PieceCard : public QAbstractButton {
    Q_OBJECT
  public:
    PieceCard(const Piece& piece, QWidget* parent);
    void show(const Piece& piece, const PieceState* state, bool chosen);
    const std::string& pieceId() const { return id_; }
    QSize sizeHint() const override { return {166, 135}; }

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    std::string id_;
    struct Face {
        QString title, facts, refusal;  // refusal: why there is no picture
        QImage picture;
        Verdict verdict = Verdict::notMeasured;
        bool operator==(const Face& other) const {
            return title == other.title && facts == other.facts && refusal == other.refusal &&
                   picture.cacheKey() == other.picture.cacheKey() && verdict == other.verdict;
        }
    };
    // All that its picture depends on.
    struct Drawn {
        bool chosen = false, focused = false;
        QSize size;
        QString theme;
        Face face;
        bool operator==(const Drawn&) const = default;
    };
    void draw(QPainter& painter) const;
    Face face_;
    Drawn look_;
    std::optional<QPixmap> drawn_;
};

class Rail : public QWidget {
    Q_OBJECT
  public:
    Rail(Session& session, ReadingsDesk& desk, QWidget* parent = nullptr);

  Q_SIGNALS:
    void newPieceAsked();

  private:
    void rebuild();
    void refresh();
    Session& session_;
    ReadingsDesk& desk_;
    QLabel* count_;
    QVBoxLayout* column_;
    QScrollArea* scroll_;
    std::vector<PieceCard*> cards_;
    QTimer bringIn_;
    std::string broughtIn_;  // the piece whose card was brought into view
};

}  // namespace zl::app
