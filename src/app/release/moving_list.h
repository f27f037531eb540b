// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of video that a moving piece may become, what each keeps, and its poster; one is
// chosen.
#pragma once

#include <QWidget>
#include <vector>

#include "release/moving_kinds.h"
#include "work/readings_desk.h"

class QLabel;
class QRadioButton;
class QVBoxLayout;

namespace zl::app {

class MovingList : public QWidget {
    Q_OBJECT
  public:
    explicit MovingList(QWidget* parent = nullptr);
    // `moment`: of the poster, s.
    void show(const Piece& piece, const Brief* brief, const PieceState* state,
              std::optional<double> moment);
    VideoKind chosen() const { return chosen_; }

  Q_SIGNALS:
    void kindAsked(const QString& id);

  private:
    void build(const std::vector<VideoKind>& kinds);
    struct Row {
        VideoKind kind;
        QRadioButton* button;
        QLabel* about;
    };
    QVBoxLayout* column_;
    QWidget* list_ = nullptr;
    QLabel *poster_, *posterWords_;
    std::vector<Row> rows_;
    VideoKind chosen_ = VideoKind::mp4;
};

}  // namespace zl::app
