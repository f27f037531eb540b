// SPDX-License-Identifier: GPL-3.0-or-later
// A click picks the layer under the hand, a drag moves what is chosen with its group mates, drawn
// to lines nearby; Ctrl lets it go where the hand goes. How far it stands from the frame's edges is
// shown meanwhile.
#pragma once

#include "edit/snapping.h"
#include "make/canvas/tools/tool.h"

namespace zl::app {

class MoveTool : public DragTool {
  public:
    using DragTool::DragTool;
    bool press(const Hand& hand) override;
    void release() override;
    bool key(const QKeyEvent& event) override;  // the layer above or below; none
    bool nudge(double dx, double dy) override;
    void paint(QPainter& painter) override;

  protected:
    void drag(const Hand& hand) override;

  private:
    void pick(const Hand& hand);
    void remember();
    void drawLines(QPainter& painter, const RealRect& box) const;
    void drawDistances(QPainter& painter, const RealRect& box) const;

    std::vector<Layer> layers_;  // all that move along, as they were
    RealRect bounds_;            // round them
    std::vector<RealRect> others_;
    std::vector<SnapLine> lines_;  // what they are drawn to
    Snapped snapped_;
    bool onlyThisOne_ = false;  // a click without a move chooses the layer alone
};

}  // namespace zl::app
