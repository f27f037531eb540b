// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/viewport.h"

#include <algorithm>
#include <cmath>

namespace zl::app {
namespace {

constexpr double margin = 26;  // px of the widget round a frame that fits
constexpr double leastZoom = 0.05, mostZoom = 16.0;

}  // namespace

PixelSize Viewport::devicePixels() const {
    return {static_cast<int>(widget_.width() * ratio()),
            static_cast<int>(widget_.height() * ratio())};
}

Mapping Viewport::mapping() const {
    const PixelSize size = frame();
    if (size.empty()) return {};
    const double w = widget_.width() * ratio(), h = widget_.height() * ratio(), fw = size.width,
                 fh = size.height;
    Mapping m;
    if (zoom_ <= 0) {
        const double room = margin * 2 * ratio();
        m.scale = std::clamp(std::min((w - room) / fw, (h - room) / fh), 0.01, 4.0);
        m.originX = std::floor((w - fw * m.scale) / 2);
        m.originY = std::floor((h - fh * m.scale) / 2);
        return m;
    }
    m.scale = zoom_ * ratio();
    m.originX = std::floor(w / 2 - pan_.x * fw * m.scale);
    m.originY = std::floor(h / 2 - pan_.y * fh * m.scale);
    return m;
}

bool Viewport::holdsFrame() const {
    const PixelRect shown = roundOutwards(mapping().onScreen(RealRect::of(frame())));
    return shown.intersected(PixelRect::of(devicePixels())) == shown;
}

QPointF Viewport::toWidget(RealPoint p) const {
    const Mapping m = mapping();
    return QPointF(p.x * m.scale + m.originX, p.y * m.scale + m.originY) / ratio();
}

RealPoint Viewport::toFrame(QPointF p) const {
    return mapping().onFrame({p.x() * ratio(), p.y() * ratio()});
}

QRectF Viewport::onWidget(const RealRect& r) const {
    return QRectF(toWidget({r.x, r.y}), toWidget({r.right(), r.bottom()}));
}

QPolygonF Viewport::outlineOf(const RealRect& box, const Turn& turn) const {
    QPolygonF corners;
    for (const RealPoint corner :
         {RealPoint{box.x, box.y}, RealPoint{box.right(), box.y},
          RealPoint{box.right(), box.bottom()}, RealPoint{box.x, box.bottom()}})
        corners << toWidget(turned(corner, turn, box.centre()));
    return corners;
}

void Viewport::setZoom(double zoom) {
    zoom_ = zoom <= 0 ? 0 : std::clamp(zoom, leastZoom, mostZoom);
    if (zoom_ <= 0) pan_ = {0.5, 0.5};
}

void Viewport::zoomTo(double zoom, QPointF there) {
    const RealPoint under = toFrame(there);
    const double next = std::clamp(zoom, leastZoom, mostZoom);
    pan_ = {(under.x - (there.x() - widget_.width() / 2.0) / next) / frame().width,
            (under.y - (there.y() - widget_.height() / 2.0) / next) / frame().height};
    zoom_ = next;
}

void Viewport::setPan(RealPoint pan) {
    pan_ = {std::clamp(pan.x, 0.0, 1.0), std::clamp(pan.y, 0.0, 1.0)};
}

void Viewport::moveBy(RealPoint px) {
    setPan({pan_.x - px.x / scale() / frame().width, pan_.y - px.y / scale() / frame().height});
}

}  // namespace zl::app
