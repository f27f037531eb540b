// SPDX-License-Identifier: GPL-3.0-or-later
// The tools of the canvas, in the order in which they are asked. CONTRIBUTING.md tells how one is
// added.
#pragma once

#include <memory>
#include <vector>

#include "make/canvas/tools/colour_tool.h"
#include "make/canvas/tools/crop_tool.h"
#include "make/canvas/tools/picture_tool.h"
#include "make/canvas/tools/region_tool.h"

namespace zl::app {

class Toolbox {
  public:
    Toolbox(Session& session, Viewport& viewport,
            std::function<std::optional<Colour>(QPointF)> seen);

    ToolPlace place;
    ColourTool& colour() { return *colour_; }
    RegionTool& regions() { return *regions_; }
    PictureTool& picture() { return *picture_; }
    CropTool& crop() const { return *crop_; }

    // The tool that was begun on purpose and is the only one now; nothing when none was.
    Tool* begun() const;
    // Whether it is one that draws or picks on the piece, which crop is not: what is shown stays.
    bool drawing() const;
    void endDrawing();

    // What the hand and the keys do, each given to the tool that it is for.
    void press(const Hand& hand);
    void move(const Hand& hand);
    void release();
    bool held() const { return held_ != nullptr; }  // a tool took the press
    void letGo() { held_ = nullptr; }
    Qt::CursorShape cursor(const Hand& hand) const;
    bool nudge(double dx, double dy);
    bool key(const QKeyEvent& event);
    bool wheel(double steps);

    void paintBelow(QPainter& painter);  // under what is chosen
    void paintAbove(QPainter& painter);

  private:
    template <class T, class... More>
    T* add(More&&... more);
    template <class Ask>
    bool first(const Ask& ask) const;

    std::vector<std::unique_ptr<Tool>> tools_;
    ColourTool* colour_;
    RegionTool* regions_;
    PictureTool* picture_;
    CropTool* crop_;
    Tool* move_;
    Tool* held_ = nullptr;
};

}  // namespace zl::app
