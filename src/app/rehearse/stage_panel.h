// SPDX-License-Identifier: GPL-3.0-or-later
// What is set for a rehearsal: when a mark shows, the player's clock, what an overlay hides, and
// what the host does wrong.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include "rehearsal/host.h"
#include "rehearsal/surfaces.h"
#include "widgets/fields.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace zl::app {

class Panel;

class StagePanel : public QObject {
    Q_OBJECT
  public:
    StagePanel(Panel& panel, QObject* parent);
    // Shows what the brief's surfaces can be told; the clock stops when nothing plays.
    void setBrief(const Brief* brief);
    // The length of the video that the piece goes with; what was typed counts until another is
    // known.
    void setVideo(const std::optional<PieceVideo>& video);
    // What was set, for drawing.
    void fill(Posted& posted) const;
    Trouble trouble() const;
    double clock() const { return at_; }
    void setClock(double seconds);
    void play(bool on);
    bool playing() const { return tick_->isActive(); }

  Q_SIGNALS:
    void changed();  // what moves is drawn anew

  private:
    void buildMarkRows(QVBoxLayout* column);
    void buildTransport(QVBoxLayout* column);
    void buildHost(Panel& panel);
    void listen();
    void setShowing();
    void advance();
    void refresh();
    std::optional<PieceVideo> video_;
    double length_ = usualLength, at_ = 12;
    Showing showing_;
    QWidget *whole_, *markRows_, *amountRow_;
    QComboBox *when_, *trouble_;
    QLineEdit *from_, *lengthField_;
    QLabel *clockWords_, *refusal_;
    QSlider* scrub_;
    QPushButton* play_;
    QCheckBox* hides_;
    NumberField* amount_;
    QTimer* tick_;
    QElapsedTimer since_;
};

}  // namespace zl::app
