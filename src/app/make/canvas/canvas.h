// SPDX-License-Identifier: GPL-3.0-or-later
// The piece in its frame. There is no tool: a click picks, a drag moves, corners scale with the
// shape held (Ctrl frees it), arrows nudge 1 px (Shift 10). It shows values and sends edits; pixels
// come from the ScreenDesk.
#pragma once

#include <QImage>
#include <QPolygonF>
#include <QWidget>
#include <functional>
#include <optional>

#include "edit/snapping.h"
#include "make/canvas/tools/picture_tool.h"
#include "make/canvas/tools/region_tool.h"
#include "work/screen_desk.h"
#include "work/session.h"

namespace zl::app {

class Canvas : public QWidget {
    Q_OBJECT
  public:
    explicit Canvas(Session& session, QWidget* parent = nullptr);

    void setBackdrop(const Backdrop& backdrop);
    const Backdrop& backdrop() const { return backdrop_; }
    // 0: as large as fits; else screen px per frame px.
    void setZoom(double zoom);
    double zoom() const { return zoom_; }
    double shownScale() const { return mapping().scale / devicePixelRatioF(); }
    // Draws the eye to a place of the frame until the next click.
    void pointAt(std::optional<RealRect> place);
    // Where a point of the frame is on the widget, and back.
    QPointF toWidget(RealPoint frame) const;
    RealPoint toFrame(QPointF widget) const;
    void repaintAll();
    void setZonesShown(bool shown);
    bool zonesShown() const { return zonesShown_; }
    void setThirdsShown(bool shown);  // thirds and centre lines
    // One zone alone, by its id; empty: all. With `dimmed` all that it does not show, or keep, is
    // darkened.
    void setZoneAlone(const std::string& id);
    const std::string& zoneAlone() const { return zoneAlone_; }
    void setOutsideDimmed(bool dimmed);
    // The next rectangle drawn on the piece, in px of its frame; Escape gives none.
    void drawRegion(std::function<void(PixelRect)> drawn);
    // Called once when drawing was given up.
    void whenRegionEnds(std::function<void()> ended) { regionEnded_ = std::move(ended); }
    // A small picture of the whole piece comes with every step while somebody looks at it.
    void setOverviewWanted(bool wanted);
    // The next click on the piece gives the colour that is seen there; Escape gives none.
    void pickColour(std::function<void(Colour)> picked);
    bool picking() const { return static_cast<bool>(picked_); }
    PictureTool& tool() { return tool_; }
    void beginTool();  // it was told what to do
    void endTool();
    // Dragging and scaling a picture leaves its shape cuts where they stand.
    void setInsideCut(bool on) { insideCut_ = on; }
    // The chosen picture without its tone, for a look.
    void setWithoutTone(bool on);
    // Where the handle that turns the chosen layer is, on the widget.
    QPointF turnHandle() const;
    // The whole original of a picture with the crop's box over it: drag the box or its corners,
    // Enter or Escape ends it.
    void startCrop();
    void endCrop();
    bool cropping() const { return crop_.has_value(); }
    QSize sizeHint() const override { return {820, 600}; }

  Q_SIGNALS:
    void cropChanged();  // cropping began or ended
    void adviceChanged(
        const QString& advice);  // what the hand can do now; empty when nothing special
    void zoomChanged();
    void stepPainted();  // a patch that an edit asked for is on the screen
    void overviewPainted(const QImage& overview);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  Q_SIGNALS:
    void letteringAsked();  // a double click on lettering wants its text

  private:
    enum class Grip { none, body, topLeft, topRight, bottomLeft, bottomRight, turn, guide, pan };
    struct Drag {
        Grip grip = Grip::none;
        QPointF from;
        Layer layer;                // as it was
        std::vector<Layer> layers;  // all that move along, as they were
        RealRect box;               // of the layer as it was, before its turn
        RealRect bounds;            // round all that move along, as they were
        std::vector<RealRect> others;
        int guide = -1;
        bool onlyThisOne = false;  // a click without a move chooses the layer alone
        QString mergeKey;
        RealPoint panFrom;
        bool moved = false;
        std::vector<SnapLine> lines;  // what the box is drawn to
        Snapped snapped;
    };
    struct Crop {
        int layer = 0;
        PixelSize original;
    };

    Mapping mapping() const;  // device px
    void ask();
    void take(const ScreenPatch& patch);
    Grip gripAt(QPointF widget) const;
    void dragTo(QPointF widget, Qt::KeyboardModifiers modifiers);
    void nudge(double dx, double dy);
    QRectF selectionRect() const;  // of what is shown, before its turn
    QPolygonF outlineOf(const RealRect& box, const Turn& turn) const;
    Turn chosenTurn() const;
    void drawEmpty(QPainter& painter) const;
    void drawSelection(QPainter& painter) const;
    bool prepareZones();
    void drawDistances(QPainter& painter) const;
    void drawCrop(QPainter& painter) const;
    void drawGuides(QPainter& painter) const;
    void updateLines();
    QRect linesOfChoice() const;
    void drawDimmed(QPainter& painter) const;
    void drawRegions(QPainter& painter) const;
    void pressOnLayer(const Piece& piece, QMouseEvent* event);
    void rememberLayers(const Piece& piece);
    std::optional<QPolygonF> guideHandle(const Guide& guide) const;
    void turnTo(const RealPoint& from, const RealPoint& to, bool inSteps);
    void moveTo(RealPoint by, bool free);
    void scaleTo(const RealPoint& to, bool shapeFree);
    void guideTo(const RealPoint& to);
    Layer insideCut(Layer next, const Layer& before) const;
    QRectF onWidget(const RealRect& frame) const;
    PixelSize shownFrame() const;  // of the piece, or of the original while cropping
    RealRect chosenBox() const;    // in px of what is shown
    void cropTo(const RealPoint& from, const RealPoint& to, bool shapeFree);
    void applyCrop(const RealRect& crop, const QString& mergeKey);

    Session& session_;
    ScreenDesk desk_;
    QImage image_;  // the viewport, device px
    Mapping imageMapping_;
    QString refusal_;
    Backdrop backdrop_;
    double zoom_ = 0;
    RealPoint pan_{0.5, 0.5};  // the frame's point in the middle, as shares of it
    Drag drag_;
    std::optional<RealRect> pointed_;
    std::optional<Crop> crop_;
    bool zonesShown_ = true, thirdsShown_ = false, withoutTone_ = false;
    std::function<void(Colour)> picked_;
    int dragSerial_ = 0;
    PictureTool tool_;
    RegionTool regions_;
    std::function<void()> regionEnded_;
    std::string zoneAlone_;
    Piece linesOf_;  // the piece without its layers that the lines were drawn for
    std::size_t linesOfLayers_ = 0;
    QRect lines_;
    // The zones, drawn once for where they stand: dashes are slow, and a drag paints them at every
    // step.
    struct ZonesDrawn {
        std::vector<Zone> zones;
        Mapping mapping;
        PixelSize frame;
        QSize size;
        bool operator==(const ZonesDrawn&) const = default;
    };
    ZonesDrawn zonesOf_;
    QImage zonesDrawn_;
    bool outsideDimmed_ = false, overviewWanted_ = false;
    bool insideCut_ = false;
};

}  // namespace zl::app
