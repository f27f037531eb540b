// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/region_tool.h"

#include <QPainter>
#include <algorithm>
#include <cmath>
#include <utility>

#include "look/theme.h"
#include "make/canvas/overlay.h"

namespace zl::app {

void RegionTool::begin(std::function<void(PixelRect)> drawn) {
    drawn_ = std::move(drawn);
    dragging_ = false;
}

void RegionTool::end() {
    const bool givenUp = active();
    drawn_ = nullptr;
    dragging_ = false;
    const auto tell = std::exchange(givenUp_, nullptr);
    if (givenUp && tell) tell();
}

QString RegionTool::advice() const {
    return tr("Draw a rectangle on the piece. Escape ends it.");
}

bool RegionTool::press(const Hand& hand) {
    if (!active() || hand.button != Qt::LeftButton) return false;
    from_ = to_ = viewport().toFrame(hand.at);
    dragging_ = true;
    return true;
}

// Clipped to the frame; a rectangle without area is none.
void RegionTool::release() {
    if (!std::exchange(dragging_, false)) return;
    const PixelRect drawn = rect().intersected(PixelRect::of(viewport().frame()));
    if (drawn.width() < 2 || drawn.height() < 2) return;
    const auto tell = std::exchange(drawn_, nullptr);
    givenUp_ = nullptr;
    tell(drawn);
}

PixelRect RegionTool::rect() const {
    const auto at = [](double v) { return static_cast<int>(std::lround(v)); };
    return {at(std::min(from_.x, to_.x)), at(std::min(from_.y, to_.y)),
            at(std::max(from_.x, to_.x)), at(std::max(from_.y, to_.y))};
}

void RegionTool::paint(QPainter& painter) {
    if (!dragging_) return;
    const PixelRect r = rect();
    painter.save();
    painter.setFont(interfaceFont(11, 600));
    painter.setBrush(Qt::NoBrush);
    drawNamed(painter, viewport().onWidget(RealRect::ofPixels(r)),
              QString("%1 × %2").arg(r.width()).arg(r.height()), true);
    painter.restore();
}

}  // namespace zl::app
