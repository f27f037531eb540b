// SPDX-License-Identifier: GPL-3.0-or-later
// The next click on the piece gives the colour that is seen there.
#pragma once

#include <functional>
#include <utility>

#include "make/canvas/tools/tool.h"

namespace zl::app {

class ColourTool : public Tool {
  public:
    // `seen` says the colour on a point of the widget; nothing beside the picture.
    ColourTool(ToolPlace& place, std::function<std::optional<Colour>(QPointF)> seen)
        : Tool(place), seen_(std::move(seen)) {}

    void begin(std::function<void(Colour)> picked) { picked_ = std::move(picked); }
    bool active() override { return static_cast<bool>(picked_); }
    bool onlyWhenBegun() const override { return true; }
    void end() override { picked_ = nullptr; }
    bool press(const Hand& hand) override {
        const auto picked = std::exchange(picked_, nullptr);
        if (const auto colour = seen_(hand.at); colour && picked) picked(*colour);
        return false;
    }
    std::optional<Qt::CursorShape> hover(const Hand&) override { return Qt::CrossCursor; }

  private:
    std::function<std::optional<Colour>(QPointF)> seen_;
    std::function<void(Colour)> picked_;
};

}  // namespace zl::app
