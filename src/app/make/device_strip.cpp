// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/device_strip.h"

#include <QPainter>

#include "look/theme.h"

namespace zl::app {
namespace {

constexpr double margin = 16, gap = 20, captionHeight = 20;

}  // namespace

DeviceStrip::DeviceStrip(Session& session, Canvas& canvas, QWidget* parent)
    : QWidget(parent), session_(session), canvas_(canvas) {
    setObjectName("deviceStrip");
    setFixedHeight(116);
    setAccessibleName(tr("What each device shows"));
    connect(&canvas_, &Canvas::overviewPainted, this, [this](const QImage& overview) {
        overview_ = overview;
        update();
    });
    connect(&session_, &Session::kitChanged, this, &DeviceStrip::refresh);
    connect(&session_, &Session::chosen, this, &DeviceStrip::refresh);
    refresh();
}

void DeviceStrip::refresh() {
    const Brief* brief = session_.brief();
    const auto devices =
        brief ? std::count_if(brief->zones.begin(), brief->zones.end(),
                              [](const Zone& z) { return z.role == ZoneRole::visible; })
              : 0;
    const bool wanted = devices > 1;
    setVisible(wanted);
    canvas_.setOverviewWanted(wanted);
    update();
}

// The tall ones as high as there is room for, the flat ones to one scale that fills what is left.
std::vector<DeviceStrip::Window> DeviceStrip::windows() const {
    std::vector<Window> all;
    const Brief* brief = session_.brief();
    const Piece* piece = session_.piece();
    if (!brief || !piece) return all;
    constexpr double flat = 3;  // times as wide as high
    const double high = height() - captionHeight - 18;
    double room = width() - 2 * margin + gap, flatWidth = 0, flatHeight = 0;
    const auto sizeOf = [&](const RealRect& part) {
        return QSizeF(part.width * piece->frame.width, part.height * piece->frame.height);
    };
    for (const Zone& zone : brief->zones) {
        if (zone.role != ZoneRole::visible) continue;
        all.push_back({zone.id, QString::fromStdString(zone.title), zone.part, {}});
        const QSizeF size = sizeOf(zone.part);
        room -= gap;
        if (size.width() < flat * size.height()) {
            room -= size.width() * high / size.height();
        } else {
            flatWidth += size.width();
            flatHeight = std::max(flatHeight, size.height());
        }
    }
    const double scale =
        flatWidth > 0 ? std::max(0.01, std::min(room / flatWidth, high / flatHeight)) : 1;
    double x = margin;
    for (Window& window : all) {
        const QSizeF size = sizeOf(window.part);
        const double mine = size.width() < flat * size.height() ? high / size.height() : scale;
        window.place = QRectF(x, height() - captionHeight - 8 - size.height() * mine,
                              size.width() * mine, size.height() * mine);
        x += window.place.width() + gap;
    }
    const double left = width() - margin - (x - gap);
    for (Window& window : all) window.place.translate(left / 2, 0);
    return all;
}

QRectF DeviceStrip::windowOf(const std::string& zone) const {
    for (const Window& window : windows())
        if (window.id == zone) return window.place;
    return {};
}

void DeviceStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["sheet"]);
    painter.fillRect(0, 0, width(), 1, theme["seam"]);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    for (const Window& window : windows()) {
        const QRectF part(window.part.x * overview_.width(), window.part.y * overview_.height(),
                          window.part.width * overview_.width(),
                          window.part.height * overview_.height());
        if (!overview_.isNull()) painter.drawImage(window.place, overview_, part);
        painter.setPen(theme["seam-strong"]);
        painter.drawRect(window.place.adjusted(-0.5, -0.5, 0.5, 0.5));
        painter.setPen(theme["ink-soft"]);
        painter.setFont(interfaceFont(11));
        const QRectF caption(window.place.center().x() - 60, height() - captionHeight - 5.0, 120,
                             captionHeight);
        painter.drawText(caption, Qt::AlignCenter, window.title);
    }
}

}  // namespace zl::app
