// SPDX-License-Identifier: GPL-3.0-or-later
#include "canvas.h"

#include <QFileInfo>
#include <QMimeData>
#include <QPaintEvent>
#include <QPainter>
#include <QUrl>
#include <cmath>

#include "kit/edits.h"
#include "theme.h"

namespace zl::app {
namespace {

constexpr double handle = 8, reach = 9, margin = 26, smallest = 4;

Colour tokenColour(const char* token) {
    const QColor c = Theme::now()[token];
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()), static_cast<std::uint8_t>(c.blue()), 255};
}

}  // namespace

Canvas::Canvas(Session& session, QWidget* parent) : QWidget(parent), session_(session), desk_(session.inks()) {
    setObjectName("canvas");
    setAccessibleName(tr("The piece in its frame"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAcceptDrops(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
    backdrop_.checks = true;
    connect(&session_, &Session::kitChanged, this, &Canvas::ask);
    connect(&session_, &Session::chosen, this, [this] {
        pointed_.reset();
        ask();
        update();
    });
    connect(&session_, &Session::opened, this, [this] {
        desk_.forget();
        zoom_ = 0;
        pan_ = {0.5, 0.5};
        ask();
    });
    connect(&desk_, &ScreenDesk::painted, this, &Canvas::take);
    connect(&desk_, &ScreenDesk::refused, this, [this](const QString& sentence) {
        refusal_ = sentence;
        update();
    });
}

Mapping Canvas::mapping() const {
    const Piece* piece = session_.piece();
    const double ratio = devicePixelRatioF(), w = width() * ratio, h = height() * ratio;
    if (!piece) return {};
    const double fw = piece->frame.width, fh = piece->frame.height;
    Mapping m;
    if (zoom_ <= 0) {
        const double room = margin * 2 * ratio;
        m.scale = std::clamp(std::min((w - room) / fw, (h - room) / fh), 0.01, 4.0);
        m.originX = std::floor((w - fw * m.scale) / 2);
        m.originY = std::floor((h - fh * m.scale) / 2);
        return m;
    }
    m.scale = zoom_ * ratio;
    m.originX = std::floor(w / 2 - pan_.x * fw * m.scale);
    m.originY = std::floor(h / 2 - pan_.y * fh * m.scale);
    return m;
}

QPointF Canvas::toWidget(RealPoint p) const {
    const Mapping m = mapping();
    return QPointF(p.x * m.scale + m.originX, p.y * m.scale + m.originY) / devicePixelRatioF();
}

RealPoint Canvas::toFrame(QPointF p) const {
    const double ratio = devicePixelRatioF();
    return mapping().onFrame({p.x() * ratio, p.y() * ratio});
}

void Canvas::ask() {
    const Piece* piece = session_.piece();
    if (!piece) {
        image_ = {};
        update();
        return;
    }
    const double ratio = devicePixelRatioF();
    const PixelSize viewport{static_cast<int>(width() * ratio), static_cast<int>(height() * ratio)};
    desk_.ask({session_.kit(), piece->id, mapping(), viewport, backdrop_, tokenColour("surround")});
    update();  // the selection's lines move at once
}

void Canvas::take(const ScreenPatch& patch) {
    refusal_.clear();
    if (patch.whole) {
        image_ = patch.image;
        imageMapping_ = patch.mapping;
        update();
    } else if (!image_.isNull()) {
        QPainter painter(&image_);
        painter.setCompositionMode(QPainter::CompositionMode_Source);
        painter.drawImage(patch.at, patch.image);
        const double ratio = devicePixelRatioF();
        update(QRectF(patch.at.x() / ratio, patch.at.y() / ratio, patch.image.width() / ratio, patch.image.height() / ratio)
                   .toAlignedRect()
                   .adjusted(-8, -8, 8, 8));
    }
    Q_EMIT stepPainted();
}

void Canvas::setBackdrop(const Backdrop& backdrop) {
    backdrop_ = backdrop;
    ask();
}

void Canvas::setZoom(double zoom) {
    zoom_ = zoom <= 0 ? 0 : std::clamp(zoom, 0.05, 16.0);
    if (zoom_ <= 0) pan_ = {0.5, 0.5};
    ask();
    Q_EMIT zoomChanged();
}

void Canvas::pointAt(std::optional<RealRect> place) {
    pointed_ = place;
    update();
}

void Canvas::repaintAll() {
    desk_.forget();
    ask();
}

QRectF Canvas::selectionRect() const {
    const Layer* layer = session_.layer();
    if (!layer) return {};
    const RealRect box = boxOf(*layer);
    return QRectF(toWidget({box.x, box.y}), toWidget({box.right(), box.bottom()}));
}

void Canvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    const Piece* piece = session_.piece();
    if (!piece || image_.isNull()) {
        painter.fillRect(rect(), theme["surround"]);
        if (!piece) drawEmpty(painter);
        return;
    }
    image_.setDevicePixelRatio(devicePixelRatioF());
    painter.drawImage(0, 0, image_);
    const QRectF frame(toWidget({0, 0}), toWidget({static_cast<double>(piece->frame.width), static_cast<double>(piece->frame.height)}));
    painter.setPen(QPen(theme["ink"], 1));
    painter.setOpacity(0.35);
    painter.drawRect(frame.adjusted(-0.5, -0.5, 0.5, 0.5).toAlignedRect());
    painter.setOpacity(1);
    if (!refusal_.isEmpty() || piece->layers.empty()) {
        const QString words =
            refusal_.isEmpty() ? tr("This frame is empty.\nDrop a picture here, paste one, or use Layer ▸ Add picture.") : refusal_;
        painter.setFont(interfaceFont(15, 500));
        const QRect box =
            painter.boundingRect(rect().adjusted(60, 0, -60, 0), Qt::AlignCenter | Qt::TextWordWrap, words).adjusted(-20, -14, 20, 14);
        painter.fillRect(box, theme["sheet-raised"]);
        painter.setPen(theme["ink"]);
        painter.drawText(box, Qt::AlignCenter | Qt::TextWordWrap, words);
    }
    if (pointed_) {
        const QRectF place(toWidget({pointed_->x, pointed_->y}), toWidget({pointed_->right(), pointed_->bottom()}));
        painter.setPen(QPen(theme["ledge"], 5));
        painter.drawRect(place);
        painter.setPen(QPen(theme["ledge-watch"], 2, Qt::DashLine));
        painter.drawRect(place);
    }
    drawSelection(painter);
}

void Canvas::drawSelection(QPainter& painter) const {
    if (!session_.layer()) return;
    const Theme& theme = Theme::now();
    const QRectF box = selectionRect();
    painter.setRenderHint(QPainter::Antialiasing, false);
    // Two lines, so that it is seen on any picture.
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(QColor(255, 255, 255, 200), 3));
    painter.drawRect(box);
    painter.setPen(QPen(theme["accent"], hasFocus() ? 2 : 1));
    painter.drawRect(box);
    for (const QPointF corner : {box.topLeft(), box.topRight(), box.bottomLeft(), box.bottomRight()}) {
        const QRectF grip(corner.x() - handle / 2, corner.y() - handle / 2, handle, handle);
        painter.fillRect(grip, Qt::white);
        painter.setPen(QPen(theme["accent"], 1.5));
        painter.drawRect(grip);
    }
}

void Canvas::drawEmpty(QPainter& painter) const {
    painter.setPen(Theme::now()["ink"]);
    painter.setFont(interfaceFont(17, 600));
    const QRect middle = rect().adjusted(40, height() / 2 - 40, -40, 0);
    painter.drawText(middle, Qt::AlignHCenter | Qt::AlignTop, session_.busy() ? tr("Opening the kit …") : tr("What are you making?"));
    if (session_.busy()) return;
    painter.setFont(interfaceFont(13));
    painter.drawText(
        middle.adjusted(0, 30, 0, 0), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap,
        tr("Start a piece with “+ Piece” on the left: choose where it goes, and its frame is set up.\nOr open a kit with Ctrl+O."));
}

void Canvas::resizeEvent(QResizeEvent*) {
    ask();
}

Canvas::Grip Canvas::gripAt(QPointF p) const {
    if (!session_.layer()) return Grip::none;
    const QRectF box = selectionRect();
    const std::pair<QPointF, Grip> corners[] = {{box.bottomRight(), Grip::bottomRight},
                                                {box.topLeft(), Grip::topLeft},
                                                {box.topRight(), Grip::topRight},
                                                {box.bottomLeft(), Grip::bottomLeft}};
    for (const auto& [corner, grip] : corners)
        if (std::abs(corner.x() - p.x()) <= reach && std::abs(corner.y() - p.y()) <= reach) return grip;
    return Grip::none;
}

void Canvas::mousePressEvent(QMouseEvent* event) {
    const Piece* piece = session_.piece();
    pointed_.reset();
    if (!piece) return;
    drag_ = {};
    drag_.from = event->position();
    if (event->button() == Qt::MiddleButton) {
        drag_.grip = Grip::pan;
        drag_.panFrom = pan_;
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    drag_.grip = gripAt(event->position());
    if (drag_.grip == Grip::none) {
        session_.chooseLayer(layerAt(*piece, *session_.inks(), toFrame(event->position())));
        drag_.grip = session_.layer() ? Grip::body : Grip::none;
    }
    if (const Layer* layer = session_.layer()) {
        drag_.layer = *layer;
        drag_.box = boxOf(*layer);
        drag_.mergeKey = QString("drag %1").arg(++dragSerial_);
    }
    update();
}

void Canvas::mouseMoveEvent(QMouseEvent* event) {
    if (drag_.grip != Grip::none) return dragTo(event->position(), event->modifiers());
    const Grip grip = gripAt(event->position());
    setCursor(grip == Grip::topLeft || grip == Grip::bottomRight   ? Qt::SizeFDiagCursor
              : grip == Grip::topRight || grip == Grip::bottomLeft ? Qt::SizeBDiagCursor
                                                                   : Qt::ArrowCursor);
}

void Canvas::dragTo(QPointF widget, Qt::KeyboardModifiers modifiers) {
    const Piece* piece = session_.piece();
    if (!piece) return;
    const RealPoint from = toFrame(drag_.from), to = toFrame(widget);
    if (drag_.grip == Grip::pan) {
        if (zoom_ <= 0) return;
        const QPointF by = widget - drag_.from;
        const double scale = shownScale();
        pan_ = {std::clamp(drag_.panFrom.x - by.x() / scale / piece->frame.width, 0.0, 1.0),
                std::clamp(drag_.panFrom.y - by.y() / scale / piece->frame.height, 0.0, 1.0)};
        return ask();
    }
    if (!drag_.moved && (widget - drag_.from).manhattanLength() < 3) return;
    drag_.moved = true;
    Layer next;
    QString what;
    if (drag_.grip == Grip::body) {
        next = moved(drag_.layer, std::round(to.x - from.x), std::round(to.y - from.y));
        what = tr("Move");
    } else {
        const bool left = drag_.grip == Grip::topLeft || drag_.grip == Grip::bottomLeft;
        const bool top = drag_.grip == Grip::topLeft || drag_.grip == Grip::topRight;
        const RealPoint fixed{left ? drag_.box.right() : drag_.box.x, top ? drag_.box.bottom() : drag_.box.y};
        double fx = std::abs(to.x - fixed.x) / drag_.box.width, fy = std::abs(to.y - fixed.y) / drag_.box.height;
        fx = std::max(fx, smallest / drag_.box.width);
        fy = std::max(fy, smallest / drag_.box.height);
        if (!modifiers.testFlag(Qt::ControlModifier) || drag_.layer.lettering()) fx = fy = std::max(fx, fy);
        next = scaled(drag_.layer, fx, fy, fixed);
        what = tr("Scale");
    }
    session_.apply(withChangedLayer(session_.kit(), piece->id, next), what, drag_.mergeKey);
}

void Canvas::mouseReleaseEvent(QMouseEvent*) {
    drag_ = {};
    update();
}

void Canvas::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && session_.layer() && session_.layer()->lettering()) Q_EMIT letteringAsked();
}

void Canvas::wheelEvent(QWheelEvent* event) {
    const Piece* piece = session_.piece();
    if (!piece) return;
    const double steps = event->angleDelta().y() / 120.0;
    if (event->modifiers().testFlag(Qt::ControlModifier)) {
        // The point under the pointer stays where it is.
        const RealPoint under = toFrame(event->position());
        const double next = std::clamp(shownScale() * std::pow(1.25, steps), 0.05, 16.0);
        pan_ = {(under.x - (event->position().x() - width() / 2.0) / next) / piece->frame.width,
                (under.y - (event->position().y() - height() / 2.0) / next) / piece->frame.height};
        return setZoom(next);
    }
    if (zoom_ <= 0) return event->ignore();
    const double by = 60 * steps / shownScale();
    if (event->modifiers().testFlag(Qt::ShiftModifier))
        pan_.x = std::clamp(pan_.x - by / piece->frame.width, 0.0, 1.0);
    else
        pan_.y = std::clamp(pan_.y - by / piece->frame.height, 0.0, 1.0);
    ask();
}

void Canvas::nudge(double dx, double dy) {
    const Layer* layer = session_.layer();
    if (!layer) return;
    session_.apply(withChangedLayer(session_.kit(), session_.piece()->id, moved(*layer, dx, dy)), tr("Nudge"),
                   QString("nudge %1").arg(layer->id));
}

void Canvas::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1;
    const Piece* piece = session_.piece();
    switch (event->key()) {
        case Qt::Key_Left:
            return nudge(-step, 0);
        case Qt::Key_Right:
            return nudge(step, 0);
        case Qt::Key_Up:
            return nudge(0, -step);
        case Qt::Key_Down:
            return nudge(0, step);
        case Qt::Key_Escape:
            pointed_.reset();
            session_.chooseLayer(0);
            return update();
        case Qt::Key_PageUp:
        case Qt::Key_PageDown: {  // the layer above, or below, without the mouse
            if (!piece || piece->layers.empty()) return;
            const int n = static_cast<int>(piece->layers.size()), by = event->key() == Qt::Key_PageUp ? 1 : n - 1;
            int at = event->key() == Qt::Key_PageUp ? n - 1 : 0;
            for (int i = 0; i < n; ++i)
                if (session_.layer() && piece->layers[static_cast<std::size_t>(i)].id == session_.layer()->id) at = i;
            return session_.chooseLayer(piece->layers[static_cast<std::size_t>((at + by) % n)].id);
        }
        default:
            QWidget::keyPressEvent(event);
    }
}

void Canvas::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void Canvas::dropEvent(QDropEvent* event) {
    std::vector<Path> files;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) files.emplace_back(url.toLocalFile().toStdString());
    if (files.size() == 1 && endingOf(files.front()) == ".zlkit")
        session_.tell(tr("A kit is opened with Kit ▸ Open; nothing was changed."), true);
    else
        session_.bringIn(files);
    event->acceptProposedAction();
}

}  // namespace zl::app
