// SPDX-License-Identifier: GPL-3.0-or-later
#include "gauge/gauge_pane.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "look/theme.h"

namespace zl::app {
namespace {

constexpr double farthestZoom = 32, nearestZoom = 0.02;

Colour surroundColour() {
    const QColor c = Theme::now()["surround"];
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
            static_cast<std::uint8_t>(c.blue()), 255};
}

}  // namespace

GaugePane::GaugePane(const QString& title, const char* objectName, QWidget* parent)
    : QWidget(parent), title_(title) {
    setObjectName(objectName);
    setAccessibleName(title);
    setMouseTracking(true);
    setCursor(Qt::CrossCursor);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(80, 80);
}

void GaugePane::setTitle(const QString& title) {
    title_ = title;
    setAccessibleName(title);
    update();
}

void GaugePane::show(std::shared_ptr<const Straight8> raster, const Backdrop& backdrop) {
    raster_ = std::move(raster);
    backdrop_ = backdrop;
    ask();
}

void GaugePane::setMapping(const GaugeMapping& mapping) {
    asked_ = mapping;
    ask();
}

void GaugePane::setSlice(const std::optional<std::pair<RealPoint, RealPoint>>& slice) {
    slice_ = slice;
    update();
}

void GaugePane::setPointed(const std::optional<PixelRect>& place) {
    pointed_ = place;
    update();
}

Mapping GaugePane::mapping() const {
    Mapping m;
    if (!raster_) return m;
    const double ratio = devicePixelRatioF(), w = width() * ratio, h = height() * ratio;
    RealPoint centre = asked_.centre;
    if (asked_.zoom <= 0) {
        constexpr double rim = 10;
        m.scale = std::min((w - 2 * rim) / raster_->width(), (h - 2 * rim) / raster_->height());
        m.scale = std::clamp(m.scale, 0.01, 8.0);
        centre = {raster_->width() / 2.0, raster_->height() / 2.0};
    } else {
        m.scale = asked_.zoom * ratio;
    }
    m.originX = std::floor(w / 2 - centre.x * m.scale);
    m.originY = std::floor(h / 2 - centre.y * m.scale);
    return m;
}

double GaugePane::shownZoom() const {
    return mapping().scale / devicePixelRatioF();
}

QPointF GaugePane::toWidget(RealPoint p) const {
    const Mapping m = mapping();
    return QPointF(p.x * m.scale + m.originX, p.y * m.scale + m.originY) / devicePixelRatioF();
}

RealPoint GaugePane::toFrame(QPointF p) const {
    const double ratio = devicePixelRatioF();
    return mapping().onFrame({p.x() * ratio, p.y() * ratio});
}

// The pixels are laid on the backdrop and scaled aside; the newest mapping wins.
void GaugePane::ask() {
    update();
    if (!raster_) {
        image_ = {};
        return;
    }
    const double ratio = devicePixelRatioF();
    const QSize size(static_cast<int>(width() * ratio), static_cast<int>(height() * ratio));
    if (size.isEmpty()) return;
    job_.post([this, raster = raster_, backdrop = backdrop_, m = mapping(), size, ratio,
               surround = surroundColour()](const std::stop_token& stop) {
        QImage image(size, QImage::Format_RGB32);
        showOnScreen(*raster, m, backdrop, surround, {0, 0, size.width(), size.height()},
                     reinterpret_cast<std::uint32_t*>(image.bits()),
                     static_cast<int>(image.bytesPerLine() / 4));
        if (stop.stop_requested()) return;
        image.setDevicePixelRatio(ratio);
        QMetaObject::invokeMethod(
            this,
            [this, image] {
                image_ = image;
                update();
                Q_EMIT painted();
            },
            Qt::QueuedConnection);
    });
}

void GaugePane::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["surround"]);
    if (!image_.isNull()) painter.drawImage(QPointF(0, 0), image_);
    painter.setRenderHint(QPainter::Antialiasing);
    if (pointed_) {
        const QRectF place(
            toWidget({static_cast<double>(pointed_->left), static_cast<double>(pointed_->top)}),
            toWidget(
                {static_cast<double>(pointed_->right), static_cast<double>(pointed_->bottom)}));
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme["ledge"], 4));
        painter.drawRect(place.adjusted(-2, -2, 2, 2));
        painter.setPen(QPen(theme["ledge-watch"], 1.5, Qt::DashLine));
        painter.drawRect(place.adjusted(-2, -2, 2, 2));
    }
    if (slice_) {
        painter.setPen(QPen(theme["sheet-raised"], 3));
        painter.drawLine(toWidget(slice_->first), toWidget(slice_->second));
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawLine(toWidget(slice_->first), toWidget(slice_->second));
    }
    painter.setFont(interfaceFont(11));
    const QFontMetrics metrics(painter.font());
    const QRectF tag(6, height() - 24, metrics.horizontalAdvance(title_) + 12, 18);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme["ledge"]);
    painter.drawRoundedRect(tag, 3, 3);
    painter.setPen(theme["on-ledge"]);
    painter.drawText(tag, Qt::AlignCenter, title_);
}

void GaugePane::resizeEvent(QResizeEvent*) {
    ask();
}

void GaugePane::wheelEvent(QWheelEvent* event) {
    if (!raster_) return;
    const double steps = event->angleDelta().y() / 120.0, zoom = shownZoom();
    GaugeMapping next{toFrame(QPointF(width() / 2.0, height() / 2.0)), zoom};
    if (event->modifiers().testFlag(Qt::ControlModifier)) {
        // The point under the pointer stays where it is.
        const RealPoint under = toFrame(event->position());
        next.zoom = std::clamp(zoom * std::pow(1.25, steps), nearestZoom, farthestZoom);
        next.centre = {under.x - (event->position().x() - width() / 2.0) / next.zoom,
                       under.y - (event->position().y() - height() / 2.0) / next.zoom};
    } else if (event->modifiers().testFlag(Qt::ShiftModifier)) {
        next.centre.x -= 60 * steps / zoom;
    } else {
        next.centre.y -= 60 * steps / zoom;
    }
    Q_EMIT moved(next);
}

void GaugePane::mousePressEvent(QMouseEvent* event) {
    if (!raster_) return;
    if (event->button() == Qt::MiddleButton) {
        panFrom_ = event->position();
        panCentre_ = toFrame(QPointF(width() / 2.0, height() / 2.0));
    } else if (event->button() == Qt::LeftButton) {
        sliceFrom_ = toFrame(event->position());
    }
}

void GaugePane::mouseMoveEvent(QMouseEvent* event) {
    if (!raster_) return;
    if (panFrom_) {
        const QPointF by = event->position() - *panFrom_;
        const double zoom = shownZoom();
        Q_EMIT moved({{panCentre_.x - by.x() / zoom, panCentre_.y - by.y() / zoom}, zoom});
        return;
    }
    const RealPoint at = toFrame(event->position());
    if (sliceFrom_) Q_EMIT sliced(*sliceFrom_, at);
    Q_EMIT hovered(at);
}

void GaugePane::mouseReleaseEvent(QMouseEvent*) {
    panFrom_.reset();
    sliceFrom_.reset();
}

GaugeLens::GaugeLens(QWidget* parent) : QWidget(parent) {
    setObjectName("gaugeLens");
    setFixedSize(90, 90);
    setAccessibleName(tr("The pixels under the pointer"));
}

void GaugeLens::look(std::shared_ptr<const Straight8> raster, Spot at) {
    raster_ = std::move(raster);
    at_ = at;
    update();
}

void GaugeLens::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["surround"]);
    constexpr int n = 11, side = 8;
    for (int j = 0; raster_ && j < n; ++j)
        for (int i = 0; i < n; ++i) {
            const int x = at_.x + i - n / 2, y = at_.y + j - n / 2;
            if (x < 0 || y < 0 || x >= raster_->width() || y >= raster_->height()) continue;
            const std::uint32_t p = raster_->row(y)[x];
            const QRect box(1 + i * side, 1 + j * side, side, side);
            const int half = side / 2;
            for (int k = 0; k < 4; ++k)
                painter.fillRect(
                    box.x() + k % 2 * half, box.y() + k / 2 * half, half, half,
                    (k == 0 || k == 3) ? QColor(255, 255, 255) : QColor(204, 207, 209));
            painter.fillRect(box, QColor(redOf(p), greenOf(p), blueOf(p), alphaOf(p)));
        }
    painter.setPen(QPen(theme["accent"], 2));
    painter.drawRect(1 + n / 2 * side, 1 + n / 2 * side, side, side);
    painter.setPen(theme["seam-strong"]);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
}

GaugeSlice::GaugeSlice(QWidget* parent) : QWidget(parent) {
    setObjectName("gaugeSlice");
    setFixedHeight(66);
    setAccessibleName(tr("Alpha and colour difference along the line"));
}

void GaugeSlice::plot(std::vector<float> alpha, std::vector<float> difference) {
    alpha_ = std::move(alpha);
    difference_ = std::move(difference);
    update();
}

void GaugeSlice::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["sheet-raised"]);
    painter.setPen(theme["seam-strong"]);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    painter.setFont(interfaceFont(11));
    if (alpha_.size() < 2) {
        painter.setPen(theme["ink-soft"]);
        painter.drawText(rect().adjusted(8, 0, -8, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("Drag a line across an edge: its α and ΔE stand here."));
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    const double left = 8, top = 16, wide = width() - 16, high = height() - 24;
    const float most = std::max(10.0f, *std::max_element(difference_.begin(), difference_.end()));
    const auto draw = [&](const std::vector<float>& values, float scale, const QColor& colour,
                          Qt::PenStyle style) {
        QPainterPath path;
        for (std::size_t i = 0; i < values.size(); ++i) {
            const QPointF p(
                left + wide * static_cast<double>(i) / static_cast<double>(values.size() - 1),
                top + high * (1 - values[i] / scale));
            i == 0 ? path.moveTo(p) : path.lineTo(p);
        }
        painter.setPen(QPen(colour, 1.6, style));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
    };
    draw(difference_, most, theme["fail"], Qt::DashLine);
    draw(alpha_, 1, theme["ink"], Qt::SolidLine);
    painter.setPen(theme["ink"]);
    painter.drawText(QPointF(left, 12), tr("α, solid"));
    painter.setPen(theme["fail"]);
    painter.drawText(
        QRectF(left, 1, wide, 14), Qt::AlignRight | Qt::AlignVCenter,
        tr("ΔE, dashed, up to %1")
            .arg(static_cast<double>(*std::max_element(difference_.begin(), difference_.end())), 0,
                 'f', 1));
}

}  // namespace zl::app
