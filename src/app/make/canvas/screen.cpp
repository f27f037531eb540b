// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/screen.h"

#include <QPainter>
#include <cmath>

#include "edit/edits.h"
#include "look/theme.h"

namespace zl::app {
namespace {

Colour tokenColour(const char* token) {
    const QColor c = Theme::now()[token];
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
            static_cast<std::uint8_t>(c.blue()), 255};
}

}  // namespace

Screen::Screen(Session& session, const Viewport& viewport)
    : session_(session), viewport_(viewport), desk_(session.inks()) {
    backdrop.checks = true;
    connect(&desk_, &ScreenDesk::painted, this, &Screen::take);
    connect(&desk_, &ScreenDesk::refused, this, [this](const QString& sentence) {
        refusal_ = sentence;
        image_ = {};  // it may be of another piece
        Q_EMIT changed({});
    });
}

void Screen::ask(CropTool& crop) {
    const Piece* piece = session_.piece();
    if (!piece) {
        image_ = {};
        Q_EMIT changed({});
        return;
    }
    Kit kit = session_.kit();
    std::string shown = piece->id;
    PixelSize overview;
    original_ = crop.active();
    if (original_) {
        const Piece original = crop.shown();
        shown = original.id;
        kit.pieces = {original};
    } else {
        if (withoutTone && session_.picture()) {
            Layer plain = *session_.layer();
            plain.picture()->tone = {};
            if (auto changed = withChangedLayer(kit, piece->id, plain)) kit = std::move(*changed);
        }
        constexpr PixelSize most{640, 2560};  // of the overview
        if (overviewWanted && !viewport_.holdsFrame()) overview = shapeWithin(piece->frame, most);
    }
    desk_.ask({std::move(kit), shown, viewport_.mapping(), viewport_.devicePixels(), backdrop,
               tokenColour("surround"), original_ ? std::nullopt : session_.clock().moment(),
               session_.clock().playing(), overview});
}

void Screen::take(const ScreenPatch& patch) {
    refusal_.clear();
    QRect part;
    if (patch.whole) {
        image_ = patch.image;
        mapping_ = patch.mapping;
    } else if (!image_.isNull() && !patch.image.isNull()) {
        QPainter painter(&image_);
        painter.setCompositionMode(QPainter::CompositionMode_Source);
        painter.drawImage(patch.at, patch.image);
        const double ratio = viewport_.ratio();
        part = QRectF(patch.at.x() / ratio, patch.at.y() / ratio, patch.image.width() / ratio,
                      patch.image.height() / ratio)
                   .toAlignedRect()
                   .adjusted(-8, -8, 8, 8);
    } else {
        part = QRect(0, 0, 1, 1);
    }
    tellOverview(patch);
    Q_EMIT changed(part);
}

// Where the whole frame is on the screen, that is the small picture.
void Screen::tellOverview(const ScreenPatch& patch) {
    if (!patch.overview.isNull()) {
        Q_EMIT overviewPainted(patch.overview);
    } else if (overviewWanted && !original_ && session_.piece()) {
        const PixelRect shown =
            roundOutwards(mapping_.onScreen(RealRect::of(session_.piece()->frame)));
        if (shown.intersected(PixelRect{0, 0, image_.width(), image_.height()}) == shown)
            Q_EMIT overviewPainted(
                image_.copy(shown.left, shown.top, shown.width(), shown.height()));
    }
}

std::optional<Colour> Screen::colourAt(QPointF widget) const {
    const QPoint at = (widget * viewport_.ratio()).toPoint();
    if (!image_.rect().contains(at)) return {};
    const QColor c = image_.pixelColor(at);
    return Colour{static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                  static_cast<std::uint8_t>(c.blue()), 255};
}

}  // namespace zl::app
