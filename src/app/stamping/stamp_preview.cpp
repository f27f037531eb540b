// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/stamp_preview.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "look/theme.h"

namespace zl::app {

StampPreview::StampPreview(StampDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("stampPreview");
    setAccessibleName(tr("The chosen photograph with its mark"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(200, 160);
    connect(&desk, &StampDesk::shown, this, [this](const StampShown& seen) {
        seen_ = seen;
        update();
    });
    connect(&desk, &StampDesk::photosChanged, this, [this] {
        if (desk_.photos().empty()) seen_ = {};
        update();
    });
}

void StampPreview::setTruePixels(bool on) {
    truePixels_ = on;
    ask();
}

void StampPreview::ask() {
    const int rim = truePixels_ ? 0 : 16;
    const QSize room = (size() - QSize(2 * rim, 2 * rim)) * devicePixelRatioF();
    desk_.showWithin(room, truePixels_);
}

void StampPreview::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    ask();
}

QRectF StampPreview::pictureOnScreen() const {
    const QSizeF size = QSizeF(seen_.picture.size()) / devicePixelRatioF();
    return {std::floor((width() - size.width()) / 2), std::floor((height() - size.height()) / 2),
            size.width(), size.height()};
}

QRectF StampPreview::markOnScreen() const {
    if (seen_.mark.empty() || seen_.picture.isNull()) return {};
    const QPointF corner = pictureOnScreen().topLeft();
    const double s = seen_.scale / devicePixelRatioF();
    return {corner.x() + (seen_.mark.left - seen_.part.left) * s,
            corner.y() + (seen_.mark.top - seen_.part.top) * s, seen_.mark.width() * s,
            seen_.mark.height() * s};
}

void StampPreview::paintEvent(QPaintEvent*) {
    const Theme& theme = Theme::now();
    QPainter painter(this);
    painter.fillRect(rect(), theme["surround"]);
    if (!seen_.picture.isNull()) painter.drawImage(pictureOnScreen(), seen_.picture);
    if (hasFocus() && !markOnScreen().isEmpty()) {
        painter.setPen(QPen(theme["accent"], 2));
        painter.drawRect(markOnScreen().adjusted(-3, -3, 3, 3));
    }
    if (seen_.refusal.isEmpty()) return;
    painter.setFont(interfaceFont(13));
    const QRect room = rect().adjusted(24, 0, -24, -20);
    QRect words = painter.fontMetrics().boundingRect(room, Qt::TextWordWrap, seen_.refusal);
    words.moveBottom(room.bottom());
    words.moveLeft((width() - words.width()) / 2);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme["sheet-raised"]);
    painter.drawRoundedRect(words.adjusted(-12, -8, 12, 8), 4, 4);
    painter.setPen(theme["ink"]);
    painter.drawText(words, Qt::TextWordWrap, seen_.refusal);
}

void StampPreview::mousePressEvent(QMouseEvent* event) {
    const QRectF mark = markOnScreen();
    if (event->button() != Qt::LeftButton ||
        !mark.adjusted(-6, -6, 6, 6).contains(event->position()))
        return;
    dragging_ = true;
    grip_ = event->position() - mark.center();
    setCursor(Qt::ClosedHandCursor);
}

void StampPreview::mouseMoveEvent(QMouseEvent* event) {
    if (dragging_) return dragTo(event->position() - grip_);
    const bool over = markOnScreen().adjusted(-6, -6, 6, 6).contains(event->position());
    setCursor(over ? Qt::OpenHandCursor : Qt::ArrowCursor);
}

void StampPreview::mouseReleaseEvent(QMouseEvent*) {
    dragging_ = false;
    setCursor(Qt::ArrowCursor);
}

void StampPreview::dragTo(QPointF middle) {
    const QRectF picture = pictureOnScreen();
    const double s = seen_.scale / devicePixelRatioF();
    if (picture.isEmpty() || s <= 0 || desk_.now() < 0) return;
    const PixelSize all = desk_.photos()[static_cast<std::size_t>(desk_.now())].size;
    if (all.empty()) return;
    Q_EMIT dragged(
        {std::clamp(((middle.x() - picture.x()) / s + seen_.part.left) / all.width, 0.0, 1.0),
         std::clamp(((middle.y() - picture.y()) / s + seen_.part.top) / all.height, 0.0, 1.0)});
}

// The mark 1 px of the photograph further, with Shift 10 px; to the next photograph.
void StampPreview::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_PageDown || event->key() == Qt::Key_PageUp)
        return desk_.choose(desk_.now() + (event->key() == Qt::Key_PageDown ? 1 : -1));
    const int step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    const QPointF by = event->key() == Qt::Key_Left    ? QPointF(-step, 0)
                       : event->key() == Qt::Key_Right ? QPointF(step, 0)
                       : event->key() == Qt::Key_Up    ? QPointF(0, -step)
                       : event->key() == Qt::Key_Down  ? QPointF(0, step)
                                                       : QPointF();
    if (by.isNull() || markOnScreen().isEmpty()) return QWidget::keyPressEvent(event);
    dragTo(markOnScreen().center() + by * seen_.scale / devicePixelRatioF());
}

}  // namespace zl::app
