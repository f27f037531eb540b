// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/canvas.h"

#include <QFileInfo>
#include <QMimeData>
#include <QPaintEvent>
#include <QPainter>
#include <QPainterPath>
#include <QUrl>
#include <cmath>
#include <numbers>

#include "edit/arrange.h"
#include "edit/edits.h"
#include "kit/layer_kinds.h"
#include "look/theme.h"
#include "readings/zones.h"

namespace zl::app {
namespace {

constexpr double handle = 8, reach = 9, margin = 26, smallest = 4;

Colour tokenColour(const char* token) {
    const QColor c = Theme::now()[token];
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
            static_cast<std::uint8_t>(c.blue()), 255};
}

// Whether the whole frame is in the viewport.
bool holdsFrame(const Mapping& mapping, PixelSize frame, PixelSize viewport) {
    const PixelRect shown = roundOutwards(mapping.onScreen(RealRect::of(frame)));
    return shown.left >= 0 && shown.top >= 0 && shown.right <= viewport.width &&
           shown.bottom <= viewport.height;
}

}  // namespace

Canvas::Canvas(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      desk_(session.inks()),
      tool_(session, {[this](RealPoint p) { return toWidget(p); },
                      [this](QPointF p) { return toFrame(p); }}) {
    setObjectName("canvas");
    setAccessibleName(tr("The piece in its frame"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAcceptDrops(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
    backdrop_.checks = true;
    const auto keepCrop = [this] {  // cropping ends when its layer goes or another is chosen
        if (crop_ && (!session_.layer() || session_.layer()->id != crop_->layer)) endCrop();
        if (tool_.begun() && !tool_.active()) endTool();  // and so does work by hand
    };
    connect(&session_, &Session::kitChanged, this, [this, keepCrop] {
        keepCrop();
        ask();
    });
    connect(&session_, &Session::chosen, this, [this, keepCrop] {
        keepCrop();
        pointed_.reset();
        ask();
        if (isVisible() && zonesShown_ && session_.piece())
            prepareZones();  // the paint that follows has enough to do
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
    const double fw = shownFrame().width, fh = shownFrame().height;
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
    if (const Layer* layer = crop_ ? piece->layer(crop_->layer) : nullptr) {
        // The original alone, pixel by pixel, in a frame of its own size.
        Kit alone = session_.kit();
        Piece original;
        original.id = "original";
        original.title = original.id;
        original.frame = crop_->original;
        original.layers = {*layer};
        original.layers.front().opacity = 1;
        if (PictureLayer* whole = original.layers.front().picture())
            whole->crop = whole->place = RealRect::of(crop_->original);
        alone.pieces = {original};
        desk_.ask({alone, original.id, mapping(), viewport, backdrop_, tokenColour("surround")});
    } else {
        Kit kit = session_.kit();
        if (withoutTone_ && session_.picture()) {
            Layer plain = *session_.layer();
            plain.picture()->tone = {};
            if (auto changed = withChangedLayer(kit, piece->id, plain)) kit = std::move(*changed);
        }
        constexpr int wide = 640;  // px of the overview
        const PixelSize overview{
            wide, std::max(1, static_cast<int>(std::lround(wide * 1.0 * piece->frame.height /
                                                           piece->frame.width)))};
        desk_.ask(
            {std::move(kit), piece->id, mapping(), viewport, backdrop_, tokenColour("surround"),
             overviewWanted_ && !holdsFrame(mapping(), piece->frame, viewport) ? overview
                                                                               : PixelSize{}});
    }
    updateLines();  // the selection's move at once
}

void Canvas::take(const ScreenPatch& patch) {
    refusal_.clear();
    if (!patch.overview.isNull()) Q_EMIT overviewPainted(patch.overview);
    if (patch.whole) {
        image_ = patch.image;
        imageMapping_ = patch.mapping;
        update();
    } else if (!image_.isNull() && !patch.image.isNull()) {
        QPainter painter(&image_);
        painter.setCompositionMode(QPainter::CompositionMode_Source);
        painter.drawImage(patch.at, patch.image);
        const double ratio = devicePixelRatioF();
        update(QRectF(patch.at.x() / ratio, patch.at.y() / ratio, patch.image.width() / ratio,
                      patch.image.height() / ratio)
                   .toAlignedRect()
                   .adjusted(-8, -8, 8, 8));
    }
    // Where the whole frame is on the screen, that is the small picture.
    if (overviewWanted_ && !crop_ && patch.overview.isNull() && session_.piece()) {
        const PixelSize frame = session_.piece()->frame;
        const PixelRect shown = roundOutwards(imageMapping_.onScreen(RealRect::of(frame)));
        if (holdsFrame(imageMapping_, frame, {image_.width(), image_.height()}))
            Q_EMIT overviewPainted(
                image_.copy(shown.left, shown.top, shown.width(), shown.height()));
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

QRectF Canvas::onWidget(const RealRect& r) const {
    return QRectF(toWidget({r.x, r.y}), toWidget({r.right(), r.bottom()}));
}

PixelSize Canvas::shownFrame() const {
    return crop_ ? crop_->original : session_.piece() ? session_.piece()->frame : PixelSize{};
}

RealRect Canvas::chosenBox() const {
    return crop_ ? session_.picture()->crop : boxOf(*session_.layer());
}

QRectF Canvas::selectionRect() const {
    return session_.layer() ? onWidget(chosenBox()) : QRectF();
}

void Canvas::setZonesShown(bool shown) {
    zonesShown_ = shown;
    update();
}

void Canvas::setZoneAlone(const std::string& id) {
    zoneAlone_ = id;
    update();
}

void Canvas::setOutsideDimmed(bool dimmed) {
    outsideDimmed_ = dimmed;
    update();
}

void Canvas::setOverviewWanted(bool wanted) {
    if (overviewWanted_ == wanted) return;
    overviewWanted_ = wanted;
    ask();
}

void Canvas::drawRegion(std::function<void(PixelRect)> drawn) {
    if (crop_) endCrop();
    endTool();
    regions_.begin(std::move(drawn));
    setCursor(Qt::CrossCursor);
    setFocus();
    Q_EMIT adviceChanged(tr("Draw a rectangle on the piece. Escape ends it."));
}

void Canvas::startCrop() {
    const Layer* layer = session_.layer();
    if (!session_.picture()) return;
    const Asset* asset = assetOf(*layer, session_.kit());
    const auto facts =
        asset ? session_.inks()->facts(*asset) : Result<PictureFacts>(fail(Code::unreadable, ""));
    if (!facts) return session_.tell(QString::fromStdString(facts.error().sentence()), true);
    crop_ = Crop{layer->id, facts->size};
    setZoom(0);
    setFocus();
    Q_EMIT cropChanged();
}

void Canvas::endCrop() {
    if (!crop_) return;
    crop_.reset();
    setZoom(0);
    Q_EMIT cropChanged();
}

// Faint, with their names: keep clear is hatched, keep inside and visible are lines.
// While a layer is moved: how far it stands from the frame's edges, and the lines that it was drawn
// to.
void Canvas::applyCrop(const RealRect& crop, const QString& mergeKey) {
    session_.apply(
        withChangedLayer(session_.kit(), session_.piece()->id, cropped(*session_.layer(), crop)),
        tr("Crop"), mergeKey);
}

// A drag stays inside the original: the hand meets the edge.
void Canvas::cropTo(const RealPoint& from, const RealPoint& to, bool shapeFree) {
    const RealRect all = RealRect::of(crop_->original), before = drag_.box;
    RealRect box = before;
    if (drag_.grip == Grip::body) {
        box.x = std::clamp(std::round(before.x + to.x - from.x), 0.0, all.width - before.width);
        box.y = std::clamp(std::round(before.y + to.y - from.y), 0.0, all.height - before.height);
    } else {
        const bool left = drag_.grip == Grip::topLeft || drag_.grip == Grip::bottomLeft,
                   top = drag_.grip == Grip::topLeft || drag_.grip == Grip::topRight;
        const RealPoint fixed{left ? before.right() : before.x, top ? before.bottom() : before.y};
        const double roomX = left ? fixed.x : all.width - fixed.x,
                     roomY = top ? fixed.y : all.height - fixed.y;
        box.width = std::clamp(std::round(std::abs(to.x - fixed.x)), smallest, roomX);
        box.height = std::clamp(std::round(std::abs(to.y - fixed.y)), smallest, roomY);
        if (!shapeFree) {
            const double shape = before.width / before.height;
            const double wide =
                std::min({std::max(box.width, box.height * shape), roomX, roomY * shape});
            box.width = wide;
            box.height = wide / shape;
        }
        box.x = left ? fixed.x - box.width : fixed.x;
        box.y = top ? fixed.y - box.height : fixed.y;
    }
    applyCrop(box, drag_.mergeKey);
}

Turn Canvas::chosenTurn() const {
    return crop_ || !session_.layer() ? Turn{} : session_.layer()->turn;
}

QPolygonF Canvas::outlineOf(const RealRect& box, const Turn& turn) const {
    QPolygonF corners;
    for (const RealPoint corner :
         {RealPoint{box.x, box.y}, RealPoint{box.right(), box.y},
          RealPoint{box.right(), box.bottom()}, RealPoint{box.x, box.bottom()}})
        corners << toWidget(turned(corner, turn, box.centre()));
    return corners;
}

QPointF Canvas::turnHandle() const {
    const RealRect box = chosenBox();
    const Turn turn = chosenTurn();
    constexpr double away = 24;
    // Above the box as it stands: mirrored top to bottom, the handle stays above.
    const RealPoint at{box.centre().x, turn.flipY ? box.bottom() + away / shownScale()
                                                  : box.y - away / shownScale()};
    return toWidget(turned(at, turn, box.centre()));
}

void Canvas::setThirdsShown(bool shown) {
    thirdsShown_ = shown;
    update();
}

void Canvas::setWithoutTone(bool on) {
    withoutTone_ = on;
    ask();
}

void Canvas::pickColour(std::function<void(Colour)> picked) {
    picked_ = std::move(picked);
    setCursor(Qt::CrossCursor);
    setFocus();
}

void Canvas::resizeEvent(QResizeEvent*) {
    ask();
}

Canvas::Grip Canvas::gripAt(QPointF p) const {
    if (!session_.layer()) return Grip::none;
    const QPolygonF corners = outlineOf(chosenBox(), chosenTurn());
    const std::pair<QPointF, Grip> grips[] = {{corners[2], Grip::bottomRight},
                                              {corners[0], Grip::topLeft},
                                              {corners[1], Grip::topRight},
                                              {corners[3], Grip::bottomLeft}};
    for (const auto& [corner, grip] : grips)
        if (std::abs(corner.x() - p.x()) <= reach && std::abs(corner.y() - p.y()) <= reach)
            return grip;
    if (const QPointF away = turnHandle() - p; !crop_ && std::hypot(away.x(), away.y()) <= reach)
        return Grip::turn;
    return Grip::none;
}

void Canvas::mousePressEvent(QMouseEvent* event) {
    const Piece* piece = session_.piece();
    pointed_.reset();
    if (!piece) return;
    if (picked_ && event->button() == Qt::LeftButton) {
        const QPoint at = (event->position() * devicePixelRatioF()).toPoint();
        const auto picked = std::exchange(picked_, nullptr);
        unsetCursor();
        if (image_.rect().contains(at)) {
            const QColor c = image_.pixelColor(at);
            picked({static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                    static_cast<std::uint8_t>(c.blue()), 255});
        }
        return;
    }
    if (regions_.active() && event->button() == Qt::LeftButton)
        return regions_.press(toFrame(event->position()));
    if (tool_.active() && event->button() != Qt::MiddleButton) {
        tool_.press(event->position(), event->button() == Qt::RightButton);
        if (!tool_.active()) endTool();
        return update();
    }
    drag_ = {};
    drag_.from = event->position();
    drag_.mergeKey = QString("drag %1").arg(++dragSerial_);
    if (event->button() == Qt::MiddleButton) {
        drag_.grip = Grip::pan;
        drag_.panFrom = pan_;
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    for (std::size_t i = 0; i < piece->guides.size() && !crop_; ++i)
        if (guideHandle(piece->guides[i])
                ->boundingRect()
                .adjusted(-3, -3, 3, 3)
                .contains(event->position())) {
            drag_.grip = Grip::guide;
            drag_.guide = static_cast<int>(i);
            return;
        }
    drag_.grip = gripAt(event->position());
    if (crop_) {
        if (drag_.grip == Grip::none && selectionRect().contains(event->position()))
            drag_.grip = Grip::body;
    } else if (drag_.grip == Grip::none) {
        pressOnLayer(*piece, event);
    }
    rememberLayers(*piece);
    update();
}

// Shift takes a layer into the choice or out of it. A press on one of several chosen layers may be
// the start of moving them all.
void Canvas::pressOnLayer(const Piece& piece, QMouseEvent* event) {
    const int under = layerAt(piece, *session_.inks(), toFrame(event->position()));
    if (event->modifiers().testFlag(Qt::ShiftModifier)) {
        if (under != 0) session_.choice().toggleLayer(under);
    } else if (under != 0 && session_.chosenIds().size() > 1 &&
               session_.chosenIds().contains(under)) {
        drag_.onlyThisOne = true;
        session_.choice().chooseLayers(session_.chosenIds(), under);
    } else {
        session_.choice().chooseLayer(under);
    }
    drag_.grip = session_.layer() ? Grip::body : Grip::none;
}

void Canvas::rememberLayers(const Piece& piece) {
    const Layer* layer = session_.layer();
    if (!layer) return;
    drag_.layer = *layer;
    drag_.box = drag_.bounds = chosenBox();
    if (crop_) return;
    const std::set<int> moving = withGroupMates(piece, session_.chosenIds());
    std::vector<RealRect> zones, bounds;
    for (const Layer& one : piece.layers) {
        if (moving.contains(one.id)) {
            drag_.layers.push_back(one);
            bounds.push_back(boundsOf(one));
        } else if (!one.hidden) {
            drag_.others.push_back(boundsOf(one));
        }
    }
    drag_.bounds = around(bounds).value_or(drag_.box);
    if (const Brief* brief = session_.brief())
        for (const Zone& zone : brief->zones) zones.push_back(inFrame(zone, piece.frame));
    drag_.lines = snapLines(piece.frame, zones, drag_.others, piece.guides);
}

void Canvas::mouseMoveEvent(QMouseEvent* event) {
    if (regions_.dragging()) {
        regions_.move(toFrame(event->position()));
        return update();
    }
    if (tool_.active() && drag_.grip == Grip::none) {
        tool_.move(event->position(), event->modifiers().testFlag(Qt::ControlModifier),
                   event->modifiers().testFlag(Qt::AltModifier));
        return update();
    }
    if (drag_.grip != Grip::none) return dragTo(event->position(), event->modifiers());
    if (picked_) return;
    const Grip grip = gripAt(event->position());
    setCursor(grip == Grip::turn                                   ? Qt::PointingHandCursor
              : grip == Grip::topLeft || grip == Grip::bottomRight ? Qt::SizeFDiagCursor
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
        pan_ = {std::clamp(drag_.panFrom.x - by.x() / scale / shownFrame().width, 0.0, 1.0),
                std::clamp(drag_.panFrom.y - by.y() / scale / shownFrame().height, 0.0, 1.0)};
        return ask();
    }
    if (!drag_.moved && (widget - drag_.from).manhattanLength() < 3) return;
    drag_.moved = true;
    const bool free = modifiers.testFlag(Qt::ControlModifier);
    if (crop_) return cropTo(from, to, free);
    if (drag_.grip == Grip::guide) return guideTo(to);
    if (drag_.grip == Grip::turn) return turnTo(from, to, modifiers.testFlag(Qt::ShiftModifier));
    if (drag_.grip == Grip::body)
        return moveTo({std::round(to.x - from.x), std::round(to.y - from.y)}, free);
    scaleTo(to, free);
}

void Canvas::beginTool() {
    if (crop_) endCrop();
    if (!tool_.active()) return;
    setCursor(Qt::CrossCursor);
    setFocus();
    Q_EMIT adviceChanged(tool_.advice());
    update();
}

void Canvas::endTool() {
    const bool gaveUp = regions_.active();
    regions_.end();
    const auto ended = std::exchange(regionEnded_, nullptr);
    if (gaveUp && ended) ended();
    tool_.end();
    unsetCursor();
    Q_EMIT adviceChanged({});
    update();
}

void Canvas::mouseReleaseEvent(QMouseEvent*) {
    if (regions_.dragging()) {
        regions_.release(shownFrame());
        if (!regions_.active()) endTool();
        return update();
    }
    tool_.release();
    if (drag_.onlyThisOne && !drag_.moved && session_.layer())
        session_.choice().chooseLayer(session_.layer()->id);
    drag_ = {};
    update();
}

void Canvas::mouseDoubleClickEvent(QMouseEvent* event) {
    if (tool_.active()) {
        tool_.doubleClick(event->position());
        return update();
    }
    if (event->button() != Qt::LeftButton || !session_.layer() || crop_) return;
    if (kindOf(*session_.layer()).isText)
        Q_EMIT letteringAsked();
    else
        startCrop();
}

void Canvas::wheelEvent(QWheelEvent* event) {
    const Piece* piece = session_.piece();
    if (!piece) return;
    const double steps = event->angleDelta().y() / 120.0;
    if (event->modifiers().testFlag(Qt::ControlModifier)) {
        // The point under the pointer stays where it is.
        const RealPoint under = toFrame(event->position());
        const double next = std::clamp(shownScale() * std::pow(1.25, steps), 0.05, 16.0);
        pan_ = {(under.x - (event->position().x() - width() / 2.0) / next) / shownFrame().width,
                (under.y - (event->position().y() - height() / 2.0) / next) / shownFrame().height};
        return setZoom(next);
    }
    if (zoom_ <= 0) return event->ignore();
    const double by = 60 * steps / shownScale();
    if (event->modifiers().testFlag(Qt::ShiftModifier))
        pan_.x = std::clamp(pan_.x - by / shownFrame().width, 0.0, 1.0);
    else
        pan_.y = std::clamp(pan_.y - by / shownFrame().height, 0.0, 1.0);
    ask();
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
        session_.intake().bringIn(files);
    event->acceptProposedAction();
}

}  // namespace zl::app
