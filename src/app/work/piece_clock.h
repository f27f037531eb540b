// SPDX-License-Identifier: GPL-3.0-or-later
// The moment of the chosen piece that is looked at, and its playing: with its sound at its own
// rate; frames that are late are passed over, and how many is told. A still piece has no clock.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

#include "video/sound.h"
#include "work/choice.h"
#include "work/jobs.h"
#include "work/kit_files.h"

namespace zl::app {

class PieceClock : public QObject {
    Q_OBJECT
  public:
    PieceClock(Document& document, Choice& choice, KitFiles& files, Jobs& jobs,
               QObject* parent = nullptr);

    bool runs() const;  // the chosen piece moves
    // s; nothing for a still piece.
    std::optional<double> moment() const;
    double length() const;
    bool playing() const { return timer_.isActive(); }
    bool loops() const { return loops_; }
    int dropped() const { return dropped_; }  // frames since it began to play
    bool mute() const { return playing() && !sound_; }

    void goTo(double seconds);
    void stepBy(int frames);
    void play();
    void pause();
    void setLoops(bool on) { loops_ = on; }
    // What was asked for last is on the screen.
    void painted();

  Q_SIGNALS:
    void moved();    // to another moment, while it plays, too
    void settled();  // it stands at a moment that may be read
    void changed();  // it plays or stands, or another piece is chosen

  private:
    void follow();
    void tick();
    double heard() const;

    Document& document_;
    Choice& choice_;
    KitFiles& files_;
    Jobs& jobs_;
    QTimer timer_;
    QElapsedTimer since_;
    std::unique_ptr<SoundSource> sound_;
    std::string pieceId_;
    double moment_ = 0, from_ = 0;
    long long asked_ = -1;  // the frame that was asked for last while it plays
    int dropped_ = 0, serial_ = 0;
    bool loops_ = false, seen_ = true;
};

}  // namespace zl::app
