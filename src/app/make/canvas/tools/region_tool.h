// SPDX-License-Identifier: GPL-3.0-or-later
// A rectangle drawn on the piece by hand, in whole px of its frame; for link regions, slices and
// zones.
#pragma once

#include <QPointF>
#include <algorithm>
#include <cmath>
#include <functional>
#include <utility>

#include "base/geometry.h"

namespace zl::app {

class RegionTool {
  public:
    void begin(std::function<void(PixelRect)> drawn) {
        drawn_ = std::move(drawn);
        dragging_ = false;
    }
    bool active() const { return static_cast<bool>(drawn_); }
    bool dragging() const { return dragging_; }
    void end() { drawn_ = nullptr; }
    void press(RealPoint at) {
        from_ = to_ = at;
        dragging_ = true;
    }
    void move(RealPoint at) { to_ = at; }
    // Clipped to the frame; a rectangle without area is none.
    void release(PixelSize frame) {
        dragging_ = false;
        const PixelRect drawn = rect().intersected(PixelRect::of(frame));
        if (drawn.width() < 2 || drawn.height() < 2) return;
        const auto tell = std::exchange(drawn_, nullptr);
        tell(drawn);
    }
    PixelRect rect() const {
        const auto at = [](double v) { return static_cast<int>(std::lround(v)); };
        return {at(std::min(from_.x, to_.x)), at(std::min(from_.y, to_.y)),
                at(std::max(from_.x, to_.x)), at(std::max(from_.y, to_.y))};
    }

  private:
    std::function<void(PixelRect)> drawn_;
    RealPoint from_, to_;
    bool dragging_ = false;
};

}  // namespace zl::app
