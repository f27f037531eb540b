// SPDX-License-Identifier: GPL-3.0-or-later
// One surface at true pixels: a device px of the surface is a device px of the screen; or smaller,
// to fit, and then it says so. Under it what it does to the piece; link regions answer the pointer
// and the Tab key.
#pragma once

#include <QImage>
#include <QWidget>

#include "kit/kit.h"
#include "readings/surface_notes.h"
#include "rehearsal/surfaces.h"

namespace zl::app {

QImage imageOf(const Straight8& raster);

class SurfacePicture : public QWidget {
    Q_OBJECT
  public:
    // The surface's picture, no wider than `most` device px (0: at true pixels). Any thread.
    static QImage prepared(const Surface& surface, int most);
    // `links` are in px of a piece of that frame.
    SurfacePicture(const Surface& surface, int most, const SurfaceNote* note,
                   std::vector<LinkRegion> links, PixelSize frame, QWidget* parent = nullptr);
    // The same surface at another moment, in a prepared picture.
    void show(const Surface& surface, const QImage& picture);
    // The region under a point of the widget; nothing when there is none.
    const LinkRegion* linkAt(QPointF at) const;
    QRectF placeOf(const LinkRegion& link) const;
    QString target() const { return target_; }
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    // Tab goes from region to region, as on a page.
    bool focusNextPrevChild(bool next) override;

  private:
    void point(const LinkRegion* link);
    QImage image_;
    PixelRect piece_;
    double scale_ = 1;  // of what is drawn to true pixels
    std::vector<LinkRegion> links_;
    PixelSize frame_;
    const LinkRegion* under_ = nullptr;
    QString title_, note_, target_;
    Verdict verdict_ = Verdict::pass;
};

}  // namespace zl::app
