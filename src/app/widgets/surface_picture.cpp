// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/surface_picture.h"

#include <QMouseEvent>
#include <QPainter>

#include "look/theme.h"
#include "words/words.h"

namespace zl::app {

QImage imageOf(const Straight8& raster) {
    return QImage(raster.bytes(), raster.width(), raster.height(), raster.width() * 4,
                  QImage::Format_RGBA8888)
        .copy();
}

QImage SurfacePicture::prepared(const Surface& surface, int most) {
    const QImage whole(surface.picture.bytes(), surface.picture.width(), surface.picture.height(),
                       surface.picture.width() * 4, QImage::Format_RGBA8888);
    const QImage opaque = whole.convertToFormat(QImage::Format_RGB32);
    return most > 0 && most < opaque.width() ? opaque.scaledToWidth(most, Qt::SmoothTransformation)
                                             : opaque;
}

SurfacePicture::SurfacePicture(const Surface& surface, int most, const SurfaceNote* note,
                               std::vector<LinkRegion> links, PixelSize frame, QWidget* parent)
    : QWidget(parent), links_(std::move(links)), frame_(frame) {
    setObjectName("surface-" + QString::fromStdString(surface.id));
    if (note) {
        verdict_ = note->verdict;
        note_ = QString::fromStdString(english(note->covered)) + " · " +
                QString::fromStdString(english(note->letters));
    }
    show(surface, prepared(surface, most));
    setAccessibleName(QString::fromStdString(surface.title));
    point(nullptr);
    if (!links_.empty()) setFocusPolicy(Qt::StrongFocus);
    setToolTip(note_);
    setMouseTracking(!links_.empty());
}

void SurfacePicture::show(const Surface& surface, const QImage& picture) {
    image_ = picture;
    piece_ = surface.pieceRect;
    scale_ = static_cast<double>(picture.width()) / surface.picture.width();
    const QString size = scale_ == 1 ? tr("true pixels") : tr("at %1 %").arg(qRound(scale_ * 100));
    title_ = tr("%1 · %2").arg(QString::fromStdString(surface.title), size);
    update();
}

QSize SurfacePicture::sizeHint() const {
    const bool lines = !note_.isEmpty() || !links_.empty();
    return (QSizeF(image_.size()) / devicePixelRatioF()).toSize() + QSize(2, lines ? 44 : 26);
}

QRectF SurfacePicture::placeOf(const LinkRegion& link) const {
    const double shown = scale_ / devicePixelRatioF(),
                 scale = shown * piece_.width() / frame_.width;
    const QPointF corner = QPointF(piece_.left, piece_.top) * shown + QPointF(1, 1);
    return {corner.x() + link.place.left * scale, corner.y() + link.place.top * scale,
            link.place.width() * scale, link.place.height() * scale};
}

const LinkRegion* SurfacePicture::linkAt(QPointF at) const {
    // The first that holds the point is the one that answers (HTML Living Standard, image maps).
    const auto found = std::find_if(links_.begin(), links_.end(), [&](const LinkRegion& link) {
        return placeOf(link).contains(at);
    });
    return found == links_.end() ? nullptr : &*found;
}

void SurfacePicture::point(const LinkRegion* link) {
    const auto words = [](const LinkRegion& one) {
        return tr("%1 leads to %2")
            .arg(QString::fromStdString(one.says), QString::fromStdString(one.address));
    };
    QStringList all;
    for (const LinkRegion& one : links_)
        if (!link || link == &one) all << words(one);
    setAccessibleDescription(links_.empty() ? note_ : all.join("; "));
    if (link == under_) return;
    under_ = link;
    target_ = link ? QString::fromStdString(link->address) : QString();
    link ? setCursor(Qt::PointingHandCursor) : unsetCursor();
    update();
}

void SurfacePicture::mouseMoveEvent(QMouseEvent* event) {
    point(linkAt(event->position()));
}

void SurfacePicture::leaveEvent(QEvent*) {
    point(nullptr);
}

void SurfacePicture::focusInEvent(QFocusEvent* event) {
    if (links_.empty() || event->reason() == Qt::MouseFocusReason) return;
    point(event->reason() == Qt::BacktabFocusReason ? &links_.back() : &links_.front());
}

void SurfacePicture::focusOutEvent(QFocusEvent*) {
    point(nullptr);
}

bool SurfacePicture::focusNextPrevChild(bool next) {
    if (hasFocus() && under_ && under_ != (next ? &links_.back() : &links_.front())) {
        point(under_ + (next ? 1 : -1));
        return true;
    }
    return QWidget::focusNextPrevChild(next);
}

void SurfacePicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    image_.setDevicePixelRatio(devicePixelRatioF());
    painter.drawImage(QPointF(1, 1), image_);
    const QSizeF size = QSizeF(image_.size()) / devicePixelRatioF();
    painter.setPen(Theme::now()["seam-strong"]);
    painter.drawRect(QRectF(0.5, 0.5, size.width() + 1, size.height() + 1));
    if (under_) {
        painter.setPen(QPen(Qt::white, 3));
        painter.drawRect(placeOf(*under_));
        painter.setPen(QPen(Theme::now()["accent"], 1.5));
        painter.drawRect(placeOf(*under_));
    }
    painter.setPen(Theme::now()["ink"]);
    painter.setFont(interfaceFont(12));
    const auto elided = [&](const QString& words, double room) {
        return painter.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(room));
    };
    painter.drawText(QRectF(0, size.height() + 4, width(), 20), Qt::AlignLeft | Qt::AlignVCenter,
                     elided(title_, width()));
    const QRectF line(16, size.height() + 22, width() - 16, 20);
    painter.setPen(Theme::now()["ink-soft"]);
    if (!links_.empty()) {
        const QString words = under_ ? tr("leads to %1").arg(target_)
                                     : tr("point at a region, or press Tab, to see where it leads");
        return painter.drawText(line.translated(-16, 0), Qt::AlignLeft | Qt::AlignVCenter,
                                elided(words, width()));
    }
    if (note_.isEmpty()) return;
    drawVerdict(painter, QRectF(0, size.height() + 27, 10, 10), verdict_, false);
    painter.setPen(Theme::now()["ink-soft"]);
    painter.drawText(line, Qt::AlignLeft | Qt::AlignVCenter, elided(note_, line.width()));
}

}  // namespace zl::app
