// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/toolbox.h"

#include <QKeyEvent>

#include "make/canvas/tools/guide_tool.h"
#include "make/canvas/tools/move_tool.h"
#include "make/canvas/tools/pan_tool.h"
#include "make/canvas/tools/scale_tool.h"
#include "make/canvas/tools/turn_tool.h"

namespace zl::app {

template <class T, class... More>
T* Toolbox::add(More&&... more) {
    auto tool = std::make_unique<T>(place, std::forward<More>(more)...);
    T* raw = tool.get();
    tools_.push_back(std::move(tool));
    return raw;
}

Toolbox::Toolbox(Session& session, Viewport& viewport,
                 std::function<std::optional<Colour>(QPointF)> seen)
    : place{session, viewport} {
    add<PanTool>();
    colour_ = add<ColourTool>(std::move(seen));
    regions_ = add<RegionTool>();
    picture_ = add<PictureTool>();
    crop_ = add<CropTool>();
    add<GuideTool>();
    add<ScaleTool>();
    add<TurnTool>();
    move_ = add<MoveTool>();
}

// Asks the tools that may act now, until one says that it did.
template <class Ask>
bool Toolbox::first(const Ask& ask) const {
    Tool* const only = begun();
    if (only) return ask(*only);
    return std::any_of(tools_.begin(), tools_.end(),
                       [&](const auto& tool) { return !tool->onlyWhenBegun() && ask(*tool); });
}

Tool* Toolbox::begun() const {
    for (const auto& tool : tools_)
        if (tool->active()) return tool.get();
    return nullptr;
}

bool Toolbox::drawing() const {
    return colour_->active() || regions_->active() || picture_->active();
}

void Toolbox::endDrawing() {
    colour_->end();
    regions_->end();
    picture_->end();
}

void Toolbox::press(const Hand& hand) {
    held_ = nullptr;
    if (tools_.front()->press(hand))  // what is seen can be moved whatever else goes on
        held_ = tools_.front().get();
    else
        first([&](Tool& tool) {
            if (!tool.press(hand)) return false;
            held_ = &tool;
            return true;
        });
}

void Toolbox::move(const Hand& hand) {
    if (held_) held_->move(hand);
}

void Toolbox::release() {
    if (Tool* held = std::exchange(held_, nullptr)) held->release();
}

Qt::CursorShape Toolbox::cursor(const Hand& hand) const {
    Qt::CursorShape shape = Qt::ArrowCursor;
    first([&](Tool& tool) {
        const auto its = tool.hover(hand);
        if (its) shape = *its;
        return its.has_value();
    });
    return shape;
}

bool Toolbox::nudge(double dx, double dy) {
    return first([&](Tool& tool) { return tool.nudge(dx, dy); });
}

bool Toolbox::key(const QKeyEvent& event) {
    Tool* const only = begun();
    const int key = event.key();
    if (only && (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Escape)) {
        only->end();
        return true;
    }
    return first([&](Tool& tool) { return tool.key(event); });
}

bool Toolbox::wheel(double steps) {
    Tool* const only = begun();
    return only && only->wheel(steps);
}

void Toolbox::paintBelow(QPainter& painter) {
    for (const auto& tool : tools_)
        if (tool.get() != move_ && tool.get() != picture_ && tool.get() != crop_)
            tool->paint(painter);
}

void Toolbox::paintAbove(QPainter& painter) {
    move_->paint(painter);
}

}  // namespace zl::app
