// SPDX-License-Identifier: GPL-3.0-or-later
// What moves along a video: steps by frame, second and cut, playing, a moment that is typed, and
// the part that counts.
#pragma once

#include <QWidget>

#include "work/film_desk.h"

class QLabel;
class QPushButton;
class QToolButton;

namespace zl::app {

class MomentField;

class ClockRow : public QWidget {
    Q_OBJECT
  public:
    explicit ClockRow(QWidget* parent = nullptr);
    void setFacts(const VideoFacts& facts) { facts_ = facts; }
    void showMoment(double seconds, long long number);
    // How near the picture is to that moment, or how it plays.
    void say(const QString& words);
    void showPlaying(bool playing);

  Q_SIGNALS:
    void framesOn(int frames);
    void secondsOn(int seconds);
    void cutOn(bool on);
    void playPressed();
    void momentTyped(double seconds);
    void frameTyped(long long number);
    void refused(const QString& sentence);
    void left();  // typing is over

  private:
    void takeTyped();
    VideoFacts facts_;
    QToolButton* play_;
    MomentField* clock_;
    QLabel *count_, *which_;
};

// Which part of the video is played and proposed from.
class PartRow : public QWidget {
    Q_OBJECT
  public:
    explicit PartRow(QWidget* parent = nullptr);
    void showPart(const Span& part, double length);
    // How far the video is looked through, 0..1; 1: it is done.
    void showLooking(double part);

  Q_SIGNALS:
    void inAsked();
    void outAsked();
    void allAsked();
    void stopAsked();

  private:
    QLabel *looking_, *part_;
    QPushButton *stop_, *all_;
};

}  // namespace zl::app
