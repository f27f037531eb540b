// SPDX-License-Identifier: GPL-3.0-or-later
// Where a still is picked from a video: a large picture, the clock, the strip of the whole length,
// and frames that are proposed. It takes the canvas's place until a frame is taken.
#pragma once

#include <QWidget>

#include "film/film_strip.h"
#include "work/film_desk.h"
#include "work/session.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QHBoxLayout;

namespace zl::app {

class FilmView : public QWidget {
    Q_OBJECT
  public:
    explicit FilmView(Session& session, QWidget* parent = nullptr);
    // Opens the video, where it was left off when `at` says so.
    void open(const Path& file, std::optional<double> at = {});
    FilmDesk& desk() { return desk_; }
    const std::optional<FilmFrame>& now() const { return now_; }

  Q_SIGNALS:
    void taken();   // a still is in the piece
    void closed();  // without one

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    QWidget* buildBar();
    QWidget* buildClock();
    void step(long long frames);
    void goTo(double seconds);
    void goTyped();
    void show(const FilmFrame& frame, bool exact);
    void tellFacts();
    void fillProposals(const std::vector<FilmFrame>& frames, const std::vector<Candidate>& reasons);
    void take();
    void prepareCover();
    QImage covered(const QImage& frame) const;

    Session& session_;
    FilmDesk desk_;
    std::optional<FilmFrame> now_;  // exact
    std::optional<double> first_;   // where to begin
    QImage cover_;  // what of the piece lies over its picture, as wide as a proposal
    std::vector<FilmFrame> proposed_;
    std::vector<Candidate> reasons_;
    QLabel *facts_, *picture_, *which_, *count_, *searching_;
    QLineEdit* clock_;
    QPushButton* take_;
    FilmStrip* strip_;
    QHBoxLayout* proposals_;
};

}  // namespace zl::app
