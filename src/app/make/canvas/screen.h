// SPDX-License-Identifier: GPL-3.0-or-later
// What the canvas shows of the piece: asked of the desk, kept as it comes, patch by patch.
#pragma once

#include <QImage>
#include <QObject>

#include "make/canvas/tools/crop_tool.h"
#include "make/canvas/viewport.h"
#include "work/screen_desk.h"

namespace zl::app {

class Screen : public QObject {
    Q_OBJECT
  public:
    Screen(Session& session, const Viewport& viewport);

    Backdrop backdrop;
    bool withoutTone = false;     // the chosen picture, for a look
    bool overviewWanted = false;  // a small picture of the whole piece comes with every step

    // For what is seen now; `crop` is active while the original is shown in the piece's place.
    void ask(CropTool& crop);
    void forget() { desk_.forget(); }
    const QImage& image() { return image_; }  // the viewport; null before it was drawn first
    void wear(double ratio) { image_.setDevicePixelRatio(ratio); }
    const QString& refusal() const { return refusal_; }  // why there is nothing to see
    std::optional<Colour> colourAt(QPointF widget) const;

  Q_SIGNALS:
    void changed(const QRect& part);  // of the widget; empty: all
    void overviewPainted(const QImage& overview);

  private:
    void take(const ScreenPatch& patch);
    void tellOverview(const ScreenPatch& patch);

    Session& session_;
    const Viewport& viewport_;
    ScreenDesk desk_;
    QImage image_;
    Mapping mapping_;
    QString refusal_;
    bool original_ = false;  // is what was asked for
};

}  // namespace zl::app
