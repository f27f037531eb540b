// SPDX-License-Identifier: GPL-3.0-or-later
// What is done by hand on a picture on the canvas, in px of its original: a shape cut or a hidden
// region placed by its box or its points, a brush stroke over a key or a subject, a subject's box,
// a point picked. One thing at a time; Enter or Escape ends it.
#pragma once

#include <QPolygonF>
#include <functional>
#include <optional>

#include "make/canvas/tools/tool.h"

namespace zl::app {

class PictureTool : public Tool {
  public:
    using Tool::Tool;

    void placeCut(int cut);
    void placeVeil(int veil);
    void brush(int cut, bool restores, double radius);
    void boxSubject(int cut);  // the next box that is drawn is round the subject
    void pick(std::function<void(Colour, RealPoint)> picked);
    bool onlyWhenBegun() const override { return true; }
    void end() override { what_ = What::nothing; }
    bool active() override;  // false once its layer or its cut is gone
    bool onSubject() const;  // a brush or a box is for a subject
    bool begun() const { return what_ != What::nothing; }
    QString advice() const override;

    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release() override;
    bool doubleClick(const Hand& hand) override;
    // Space: begins and ends a stroke of the brush or a box, picks the colour. [ and ]: the brush's
    // width. Of a subject: K keeps, D drops, N goes to the next unsure place.
    bool key(const QKeyEvent& event) override;
    // In px of the original: a polygon's point that was touched last, else the whole shape; or the
    // brush, or where a colour is picked.
    bool nudge(double dx, double dy) override;
    bool wheel(double steps) override;  // the brush's width
    std::optional<Qt::CursorShape> hover(const Hand& hand) override;
    void paint(QPainter& painter) override;

  private:
    enum class What { nothing, cut, veil, brush, box, pick };
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

    void tap();
    void pressBox(const Hand& hand);
    void pickColour();
    void takeBox();
    void widen(double factor);
    void moveBox(RealPoint to, bool free, bool aboutCentre);
    void paintBrush(QPainter& painter);
    std::vector<QPointF> handles() const;

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
