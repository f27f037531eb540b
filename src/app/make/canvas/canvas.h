// SPDX-License-Identifier: GPL-3.0-or-later
// The piece in its frame. Nothing is switched on first: a click picks, a drag moves, corners scale
// with the shape held (Ctrl frees it), arrows nudge 1 px (Shift 10); what each does is a tool of
// its own (tools/). It shows values and sends edits; pixels come from the ScreenDesk.
#pragma once

#include <QWidget>

#include "make/canvas/choice_lines.h"
#include "make/canvas/overlay.h"
#include "make/canvas/screen.h"
#include "make/canvas/subject_overlay.h"
#include "make/canvas/tools/toolbox.h"

namespace zl::app {

class Canvas : public QWidget {
    Q_OBJECT
  public:
    explicit Canvas(Session& session, QWidget* parent = nullptr);

    void setBackdrop(const Backdrop& backdrop);
    const Backdrop& backdrop() const { return screen_.backdrop; }
    // 0: as large as fits; else screen px per frame px.
    void setZoom(double zoom);
    double zoom() const { return viewport_.zoom(); }
    double shownScale() const { return viewport_.scale(); }
    QPointF toWidget(RealPoint frame) const { return viewport_.toWidget(frame); }
    RealPoint toFrame(QPointF widget) const { return viewport_.toFrame(widget); }
    void repaintAll();

    // Draws the eye to a place of the frame until the next click.
    void pointAt(std::optional<RealRect> place);
    void setZonesShown(bool shown);
    bool zonesShown() const { return overlay_.zonesShown; }
    void setThirdsShown(bool shown);  // thirds and centre lines
    bool thirdsShown() const { return overlay_.thirdsShown; }
    // One zone alone, by its id; empty: all. With `dimmed` all that it does not show, or keep, is
    // darkened.
    void setZoneAlone(const std::string& id);
    const std::string& zoneAlone() const { return overlay_.zoneAlone; }
    void setOutsideDimmed(bool dimmed);
    // A small picture of the whole piece comes with every step while somebody looks at it.
    void setOverviewWanted(bool wanted);
    // The chosen picture without its tone, for a look.
    void setWithoutTone(bool on);

    // The next rectangle drawn on the piece, in px of its frame; Escape gives none, and calls
    // `givenUp`.
    void drawRegion(std::function<void(PixelRect)> drawn, std::function<void()> givenUp = {});
    // The next click on the piece gives the colour that is seen there; Escape gives none.
    void pickColour(std::function<void(Colour)> picked);
    bool picking() { return tools_.colour().active(); }
    PictureTool& tool() { return tools_.picture(); }
    void beginTool();  // it was told what to do
    void endTool();
    void setInsideCut(bool on) { tools_.place.insideCut = on; }
    // Where the handle that turns the chosen layer is, on the widget.
    QPointF turnHandle() const;
    void startCrop();
    void endCrop();
    bool cropping() const { return tools_.crop().active(); }
    QSize sizeHint() const override { return {820, 600}; }

  Q_SIGNALS:
    void needed();       // something begins that is done on the canvas
    void cropChanged();  // cropping began or ended
    // What the hand can do now; empty when nothing special.
    void adviceChanged(const QString& advice);
    void zoomChanged();
    void stepPainted();  // a patch that an edit asked for is on the screen
    void overviewPainted(const QImage& overview);
    void letteringAsked();  // a double click on lettering wants its text

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    PixelSize shownFrame() const;  // of the piece, or of the original while cropping
    void settle();
    void ask();

    Session& session_;
    Viewport viewport_;
    Overlay overlay_;
    SubjectOverlay subject_;
    Toolbox tools_;
    Screen screen_;
    ChoiceLines lines_;
    std::string piece_;                       // that was chosen last
    bool drawing_ = false, cropped_ = false;  // as it was told last
};

}  // namespace zl::app
