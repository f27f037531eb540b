// SPDX-License-Identifier: GPL-3.0-or-later
// Frames that are proposed, side by side at the size of a suggestion beside a video, with the
// piece's lettering over them and the piece as it is before them.
#pragma once

#include <QImage>
#include <QScrollArea>
#include <vector>

#include "work/film_desk.h"

class QHBoxLayout;
class QLabel;

namespace zl::app {

class ProposalRow : public QScrollArea {
    Q_OBJECT
  public:
    explicit ProposalRow(QWidget* parent = nullptr);
    void clear();
    // What of the piece lies over its picture, and the piece as it is; both may be empty.
    void setPiece(const QImage& cover, const QImage& asItIs);
    void show(std::vector<FilmFrame> frames, std::vector<Candidate> reasons);
    void say(const QString& words);  // while there is none
    std::vector<double> times() const;
    bool choose(int nth);  // false: there is no such proposal

  Q_SIGNALS:
    void chosen(long long number);

  protected:
    // The wheel goes along the row.
    void wheelEvent(QWheelEvent* event) override;

  private:
    void fill();
    QImage covered(const QImage& frame) const;

    QImage cover_, asItIs_;
    std::vector<FilmFrame> frames_;
    std::vector<Candidate> reasons_;
    QHBoxLayout* row_;
    QLabel* words_;
};

}  // namespace zl::app
