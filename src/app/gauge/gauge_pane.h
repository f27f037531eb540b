// SPDX-License-Identifier: GPL-3.0-or-later
// The parts of Gauge: a pane that shows one raster under the shared mapping, the lens, the plot of
// a slice.
#pragma once

#include <QImage>
#include <QWidget>
#include <array>
#include <memory>
#include <optional>
#include <vector>

#include "picture/shrink.h"
#include "raster/raster.h"
#include "readings/edge_facts.h"
#include "work/jobs.h"

namespace zl::app {

// The point of the frame in the middle of every pane, and screen px per frame px; 0: as large as
// fits.
struct GaugeMapping {
    RealPoint centre;
    double zoom = 0;
};

// What the panes show, made aside: each opaque or over a backdrop of its own.
struct GaugeFrame {
    std::shared_ptr<const Straight8> piece;
    std::shared_ptr<const Straight8> overPhoto, map, alpha;  // opaque
    std::vector<EdgeMark> marks;
    bool before = false;  // as it was before the last mend
};

class GaugePane : public QWidget {
    Q_OBJECT
  public:
    GaugePane(const QString& title, const char* objectName, QWidget* parent = nullptr);
    void setTitle(const QString& title);
    void show(std::shared_ptr<const Straight8> raster, const Backdrop& backdrop);
    void setMapping(const GaugeMapping& mapping);
    void setSlice(const std::optional<std::pair<RealPoint, RealPoint>>& slice);
    void setPointed(const std::optional<PixelRect>& place);
    Mapping mapping() const;  // device px
    double shownZoom() const;
    const QImage& image() const { return image_; }
    QPointF toWidget(RealPoint frame) const;

  Q_SIGNALS:
    void moved(const zl::app::GaugeMapping& mapping);
    void hovered(zl::RealPoint frame);
    void sliced(zl::RealPoint from, zl::RealPoint to);
    void painted();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    void ask();
    RealPoint toFrame(QPointF widget) const;
    QString title_;
    std::shared_ptr<const Straight8> raster_;
    Backdrop backdrop_;
    GaugeMapping asked_;
    QImage image_;
    std::optional<std::pair<RealPoint, RealPoint>> slice_;
    std::optional<PixelRect> pointed_;
    std::optional<RealPoint> sliceFrom_;
    std::optional<QPointF> panFrom_;
    RealPoint panCentre_;
    LatestJob job_{true, Stands::withTheHand};
};

// Eleven by eleven pixels about the pointer, straight, on checks.
class GaugeLens : public QWidget {
  public:
    explicit GaugeLens(QWidget* parent = nullptr);
    void look(std::shared_ptr<const Straight8> raster, Spot at);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::shared_ptr<const Straight8> raster_;
    Spot at_;
};

// Alpha along a line, and how far the colour is from clean ink (CIEDE2000).
class GaugeSlice : public QWidget {
  public:
    explicit GaugeSlice(QWidget* parent = nullptr);
    void plot(std::vector<float> alpha, std::vector<float> difference);
    const std::vector<float>& alpha() const { return alpha_; }
    const std::vector<float>& difference() const { return difference_; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::vector<float> alpha_, difference_;
};

}  // namespace zl::app
