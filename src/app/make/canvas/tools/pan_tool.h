// SPDX-License-Identifier: GPL-3.0-or-later
// The middle button drags what is seen of the frame.
#pragma once

#include "make/canvas/tools/tool.h"

namespace zl::app {

class PanTool : public Tool {
  public:
    using Tool::Tool;
    bool press(const Hand& hand) override {
        if (hand.button != Qt::MiddleButton) return false;
        from_ = hand.at;
        before_ = viewport().pan();
        return true;
    }
    void move(const Hand& hand) override {
        if (!viewport().moves()) return;
        const QPointF by = hand.at - from_;
        viewport().setPan(before_);
        viewport().moveBy({by.x(), by.y()});
    }

  private:
    QPointF from_;
    RealPoint before_;
};

}  // namespace zl::app
