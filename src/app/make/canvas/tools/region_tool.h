// SPDX-License-Identifier: GPL-3.0-or-later
// A rectangle drawn on the piece by hand, in whole px of its frame; for link regions, slices and
// zones.
#pragma once

#include <functional>

#include "make/canvas/tools/tool.h"

namespace zl::app {

class RegionTool : public Tool {
  public:
    using Tool::Tool;
    void begin(std::function<void(PixelRect)> drawn);
    // Called once when drawing is given up.
    void whenGivenUp(std::function<void()> givenUp) { givenUp_ = std::move(givenUp); }

    bool active() override { return static_cast<bool>(drawn_); }
    bool onlyWhenBegun() const override { return true; }
    void end() override;
    QString advice() const override;
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override { to_ = viewport().toFrame(hand.at); }
    void release() override;
    std::optional<Qt::CursorShape> hover(const Hand&) override { return Qt::CrossCursor; }
    void paint(QPainter& painter) override;

  private:
    PixelRect rect() const;

    std::function<void(PixelRect)> drawn_;
    std::function<void()> givenUp_;
    RealPoint from_, to_;
    bool dragging_ = false;
};

}  // namespace zl::app
