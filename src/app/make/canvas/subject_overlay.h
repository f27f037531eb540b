// SPDX-License-Identifier: GPL-3.0-or-later
// What lies over the chosen picture while its subject is worked on: its matte, or the original with
// the ground dimmed; the strokes, hatched one way for what stays and the other way for what goes;
// the places that are unsure.
#pragma once

#include <QTransform>

#include "make/canvas/viewport.h"
#include "work/session.h"

class QPainter;

namespace zl::app {

class SubjectOverlay {
  public:
    SubjectOverlay(Session& session, const Viewport& viewport)
        : session_(session), viewport_(viewport) {}

    // `correcting`: a brush or a box is in the hand.
    void paint(QPainter& painter, bool correcting) const;
    // px of the chosen picture's original, as a box of the frame.
    RealRect inFrame(const RealRect& original) const;

  private:
    QPointF widget(const Layer& layer, RealPoint original) const;
    QPolygonF widget(const Layer& layer, const RealRect& original) const;
    void paintLook(QPainter& painter, const Layer& layer, const SubjectState& state,
                   bool correcting) const;
    void paintStrokes(QPainter& painter, const Layer& layer, const SubjectCut& cut) const;

    Session& session_;
    const Viewport& viewport_;
};

}  // namespace zl::app
