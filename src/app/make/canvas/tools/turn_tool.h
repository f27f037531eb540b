// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen layer, turned by the round handle above it; with Shift in steps.
#pragma once

#include "make/canvas/tools/tool.h"

namespace zl::app {

class TurnTool : public DragTool {
  public:
    using DragTool::DragTool;
    bool press(const Hand& hand) override;
    std::optional<Qt::CursorShape> hover(const Hand& hand) override;

  protected:
    void drag(const Hand& hand) override;

  private:
    bool isOver(QPointF at) const;
    Layer before_;
};

}  // namespace zl::app
