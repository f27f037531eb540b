// SPDX-License-Identifier: GPL-3.0-or-later
// The wall: every surface of every piece of the kit, small, under its piece's worst verdict. Pieces
// as they are now; drawn aside, again only where a piece changed. A click opens the piece.
#pragma once

#include <QImage>
#include <QScrollArea>
#include <QTimer>
#include <map>

#include "work/jobs.h"
#include "work/readings_desk.h"
#include "work/session.h"

class QLabel;

namespace zl::app {

class WallSection;

class WallView : public QScrollArea {
    Q_OBJECT
  public:
    WallView(Session& session, ReadingsDesk& desk, QWidget* parent = nullptr);
    void refresh();
    void forget();          // every tile is drawn anew
    int tiles() const;      // that are drawn
    int tilesDue() const;   // of the pieces whose frames are known
    bool complete() const;  // every piece is measured and drawn

  Q_SIGNALS:
    void pieceAsked(const QString& id);
    void changed();

  protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    struct Row {
        std::shared_ptr<const Straight8> frame;  // that it was drawn of
        std::vector<Slice> slices;               // and its parts
        std::vector<QImage> tiles;
        std::vector<QString> titles;
        std::size_t due = 0;
    };
    void draw();
    void take(const std::string& piece, std::size_t at, const QString& title, const QImage& image);
    void lay();
    void laySoon();
    Session& session_;
    ReadingsDesk& desk_;
    std::map<std::string, Row> shown_;
    std::string channel_;  // that they were drawn for
    std::map<std::string, WallSection*> sections_;
    QWidget* board_;
    QLabel* empty_;  // what an empty kit says
    QTimer layTurn_;
    LatestJob job_{true, Stands::farBack};
};

}  // namespace zl::app
