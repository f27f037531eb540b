// SPDX-License-Identifier: GPL-3.0-or-later
// Where a still is picked from a video: a large picture, the clock, the strip of the whole length,
// and frames that are proposed. It takes the canvas's place until a frame is taken.
#pragma once

#include <QTimer>
#include <QWidget>

#include "film/clock_row.h"
#include "film/film_strip.h"
#include "film/large_picture.h"
#include "film/proposal_row.h"
#include "film/shuttle.h"
#include "work/film_desk.h"
#include "work/session.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace zl::app {

class FilmView : public QWidget {
    Q_OBJECT
  public:
    explicit FilmView(Session& session, QWidget* parent = nullptr);
    // Opens the video, where it was left off when `at` says so.
    void open(const Path& file, std::optional<double> at = {});
    void close();  // leaves the video
    FilmDesk& desk() { return desk_; }
    const std::optional<FilmFrame>& now() const { return now_; }
    const Shuttle& shuttle() const { return shuttle_; }
    const Span& part() const { return part_; }

  Q_SIGNALS:
    void taken();   // a still is in the piece
    void closed();  // without one

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void hideEvent(QHideEvent*) override { shuttle_.halt(); }

  private:
    QWidget* buildBar();
    void listenToDesk();
    void listenToShuttle();
    void listenToRows();
    bool moveByKey(const QKeyEvent& event);
    bool playByKey(int key);
    void step(long long frames);
    void goTo(double seconds);
    void push(int way);
    void playOrPause();
    void setPart(const Span& part);
    double here() const { return at_; }
    QSize room() const { return picture_->size() * devicePixelRatioF(); }
    void show(const FilmFrame& frame, const QString& which);
    void showExact(const FilmFrame& frame);
    void tellFacts();
    void take();
    void takeClip();           // the part that counts, as a layer
    void remember();           // the video, and the piece keeps its picture
    int layerOfStill() const;  // which one a frame would stand for
    void preparePiece();
    void followPiece();
    void showTakes();  // whether the frame that is shown can go into the piece
    PieceVideo remembered() const;

    Session& session_;
    FilmDesk desk_;
    Shuttle shuttle_{desk_};
    Kit seenIn_;  // that of the piece which the proposals show
    const Piece* seen_ = nullptr;
    int seenLayer_ = 0;  // the one that they stand for
    QTimer follow_;
    std::optional<FilmFrame> now_;  // exact
    std::optional<double> first_;   // where to begin
    double at_ = 0;                 // s, of what is shown
    Span part_;
    QLabel *name_, *facts_;
    LargePicture* picture_;
    QCheckBox* withoutBars_;
    QPushButton *take_, *clip_, *remember_;
    ClockRow* clock_;
    FilmStrip* strip_;
    PartRow* partRow_;
    ProposalRow* proposals_;
};

}  // namespace zl::app
