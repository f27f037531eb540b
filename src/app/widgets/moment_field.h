// SPDX-License-Identifier: GPL-3.0-or-later
// A moment of a video or of a piece that moves: its words, and a field to read and type it in.
#pragma once

#include <QLineEdit>
#include <optional>

namespace zl::app {

QString momentWords(double seconds);  // "1:02.345"
// Seconds, minutes and hours with colons between them; nothing where it is no such thing.
std::optional<double> secondsTyped(const QString& words);

class MomentField : public QLineEdit {
  public:
    MomentField(const char* objectName, const QString& name, int width);
    // Unless somebody is typing.
    void showMoment(double seconds);
    // What was typed, which is over now.
    QString taken();
};

}  // namespace zl::app
