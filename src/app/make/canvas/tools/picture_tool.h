// SPDX-License-Identifier: GPL-3.0-or-later
// What is done by hand on a picture on the canvas, in px of its original: a shape cut or a hidden
// region placed by its box or its points, a brush stroke over a key, a point picked. One thing at a
// time; Enter or Escape ends it.
#pragma once

#include <QPolygonF>
#include <functional>
#include <optional>

#include "work/session.h"

class QPainter;

namespace zl::app {

class PictureTool {
  public:
    // From and to the canvas: px of the frame and of the widget.
    struct View {
        std::function<QPointF(RealPoint)> toWidget;
        std::function<RealPoint(QPointF)> toFrame;
    };
    PictureTool(Session& session, View view) : session_(session), view_(std::move(view)) {}

    void placeCut(int cut);
    void placeVeil(int veil);
    void brush(int cut, bool restores, double radius);
    void pick(std::function<void(Colour, RealPoint)> picked);
    void end() { what_ = What::nothing; }
    bool active();  // false once its layer or its cut is gone
    bool begun() const { return what_ != What::nothing; }
    QString advice() const;

    void press(QPointF at, bool rightButton);
    void move(QPointF at, bool free, bool aboutCentre);
    void release();
    void doubleClick(QPointF at);
    // In px of the original: a polygon's point that was touched last, else the whole shape; or the
    // brush, or where a colour is picked.
    void nudge(double dx, double dy);
    void tap();  // by key: begins and ends a stroke of the brush, picks the colour
    void paint(QPainter& painter);

  private:
    enum class What { nothing, cut, veil, brush, pick };
    const PictureLayer* picture() const;
    RealPoint original(QPointF widget) const;
    QPointF widget(RealPoint original) const;
    RealRect box() const;
    const std::vector<RealPoint>* points() const;  // of a polygon
    QPolygonF outline() const;
    void setBox(const RealRect& box);
    void setPoints(std::vector<RealPoint> points, const QString& mergeKey);
    void edit(const QString& what, const QString& mergeKey,
              const std::function<void(PictureLayer&)>& change);
    int handleAt(QPointF widget) const;
    RealPoint aim() const;  // where the pointer is; in the middle of the picture before it came

    Session& session_;
    View view_;
    What what_ = What::nothing;
    int layer_ = 0, index_ = 0;
    bool restores_ = true;
    double radius_ = 12;
    std::function<void(Colour, RealPoint)> picked_;
    // A drag: which handle (0..3 a corner, 4 the body; a polygon's point), from where, what it was.
    int grip_ = -1, touched_ = -1, serial_ = 0;
    RealPoint from_;
    RealRect boxBefore_;
    std::vector<RealPoint> pointsBefore_;
    std::optional<Stroke> stroke_;
    QPointF pointer_{-1e4, -1e4};
    bool byKey_ = false;  // the arrows brought it there
};

}  // namespace zl::app
