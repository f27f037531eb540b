// SPDX-License-Identifier: GPL-3.0-or-later
// The lines round what is chosen: drawn, and which part of the widget they touch.
#pragma once

#include <optional>

#include "make/canvas/viewport.h"
#include "work/session.h"

class QPainter;

namespace zl::app {

class ChoiceLines {
  public:
    ChoiceLines(Session& session, const Viewport& viewport)
        : session_(session), viewport_(viewport) {}
    void paint(QPainter& painter) const;
    // To be painted anew after an edit: where they were and where they are. Nothing: all of the
    // widget, since more than a layer changed.
    std::optional<QRect> changedPart();

  private:
    QRect now() const;

    Session& session_;
    const Viewport& viewport_;
    Piece drawnFor_;  // without its layers
    std::size_t layers_ = 0;
    QRect last_;
};

}  // namespace zl::app
