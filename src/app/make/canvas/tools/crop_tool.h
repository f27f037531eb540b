// SPDX-License-Identifier: GPL-3.0-or-later
// The whole original of the chosen picture with the crop's box over it: drag the box or its
// corners, Enter or Escape ends it. While it is active, what is shown is the original.
#pragma once

#include "make/canvas/tools/choice_box.h"
#include "make/canvas/tools/tool.h"

namespace zl::app {

class CropTool : public DragTool {
  public:
    using DragTool::DragTool;
    // Of the chosen layer, which is a picture.
    void begin(int layer, PixelSize original);
    bool active() override;  // false once its layer is gone or another is chosen
    bool onlyWhenBegun() const override { return true; }
    void end() override { layer_ = 0; }
    PixelSize original() const { return original_; }
    // What is shown meanwhile: the original alone, pixel by pixel, in a frame of its own size.
    Piece shown() const;

    bool press(const Hand& hand) override;
    bool nudge(double dx, double dy) override;
    std::optional<Qt::CursorShape> hover(const Hand& hand) override;
    void paint(QPainter& painter) override;

  protected:
    void drag(const Hand& hand) override;

  private:
    RealRect box() const { return session().picture()->crop; }
    void setBox(const RealRect& crop, const QString& mergeKey);
    RealRect movedTo(RealPoint by) const;
    RealRect drawnTo(RealPoint to, bool shapeFree) const;

    int layer_ = 0;
    PixelSize original_;
    RealRect before_;
    std::optional<Corner> corner_;  // nothing: the whole box is dragged
};

}  // namespace zl::app
