// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen layer, scaled by a corner with its shape held; Ctrl frees the shape.
#pragma once

#include "make/canvas/tools/choice_box.h"
#include "make/canvas/tools/tool.h"

namespace zl::app {

class ScaleTool : public DragTool {
  public:
    using DragTool::DragTool;
    bool press(const Hand& hand) override;
    std::optional<Qt::CursorShape> hover(const Hand& hand) override;

  protected:
    void drag(const Hand& hand) override;

  private:
    std::optional<Corner> cornerUnder(QPointF at) const;
    Layer before_;
    Corner corner_ = Corner::bottomRight;
};

}  // namespace zl::app
