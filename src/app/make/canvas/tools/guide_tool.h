// SPDX-License-Identifier: GPL-3.0-or-later
// Guides, dragged by their flags outside the frame. Out of the frame, a guide is thrown away.
#pragma once

#include "make/canvas/tools/tool.h"

namespace zl::app {

class GuideTool : public DragTool {
  public:
    using DragTool::DragTool;
    bool press(const Hand& hand) override;
    void paint(QPainter& painter) override;

  protected:
    void drag(const Hand& hand) override;

  private:
    QPolygonF flagOf(const Guide& guide) const;
    std::size_t guide_ = 0;
    std::vector<Guide> before_;  // all of them, at the press
};

}  // namespace zl::app
