// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/canvas.h"

#include <QPaintEvent>
#include <QPainter>
#include <cmath>

#include "kit/layer_kinds.h"
#include "look/theme.h"
#include "make/canvas/tools/choice_box.h"

namespace zl::app {
namespace {

Hand handOf(const QMouseEvent& event) {
    return {event.position(), event.button(), event.modifiers()};
}

}  // namespace

Canvas::Canvas(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      viewport_(*this, [this] { return shownFrame(); }),
      overlay_(session, viewport_),
      subject_(session, viewport_),
      tools_(session, viewport_, [this](QPointF at) { return screen_.colourAt(at); }),
      screen_(session, viewport_),
      lines_(session, viewport_) {
    setObjectName("canvas");
    setAccessibleName(tr("The piece in its frame"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
    connect(&session_, &Session::kitChanged, this, [this] {
        settle();
        ask();
    });
    connect(&session_, &Session::chosen, this, [this] {
        // What a hand drags is of the piece that it was taken in.
        if (std::exchange(piece_, session_.choice().pieceId()) != session_.choice().pieceId())
            tools_.release();
        settle();
        overlay_.pointed.reset();
        ask();
        if (isVisible()) overlay_.prepare();
        update();
    });
    connect(&session_.clock(), &PieceClock::moved, this, [this] { screen_.ask(tools_.crop()); });
    connect(&session_.subject(), &SubjectDesk::changed, this, [this] { update(); });
    connect(&session_.subject(), &SubjectDesk::visited, this,
            [this](const RealRect& place) { pointAt(subject_.inFrame(place)); });
    connect(&session_, &Session::opened, this, [this] {
        screen_.forget();
        viewport_.setZoom(0);
        ask();
    });
    connect(&screen_, &Screen::overviewPainted, this, &Canvas::overviewPainted);
    connect(&screen_, &Screen::changed, this, [this](const QRect& part) {
        part.isEmpty() ? update() : update(part);
        Q_EMIT stepPainted();
    });
}

PixelSize Canvas::shownFrame() const {
    const Piece* piece = session_.piece();
    return tools_.crop().active() ? tools_.crop().original() : piece ? piece->frame : PixelSize{};
}

void Canvas::ask() {
    screen_.ask(tools_.crop());
    // What is chosen moves at once.
    const auto part = lines_.changedPart();
    const bool alone = part && !overlay_.pointed && !tools_.held() && !tools_.begun();
    alone ? update(*part) : update();
}

void Canvas::setBackdrop(const Backdrop& backdrop) {
    screen_.backdrop = backdrop;
    ask();
}

void Canvas::setZoom(double zoom) {
    viewport_.setZoom(zoom);
    ask();
    Q_EMIT zoomChanged();
}

void Canvas::repaintAll() {
    screen_.forget();
    ask();
}

void Canvas::pointAt(std::optional<RealRect> place) {
    if (place) Q_EMIT needed();
    overlay_.pointed = place;
    update();
}

void Canvas::setZonesShown(bool shown) {
    overlay_.zonesShown = shown;
    update();
}

void Canvas::setThirdsShown(bool shown) {
    overlay_.thirdsShown = shown;
    update();
}

void Canvas::setZoneAlone(const std::string& id) {
    overlay_.zoneAlone = id;
    update();
}

void Canvas::setOutsideDimmed(bool dimmed) {
    overlay_.outsideDimmed = dimmed;
    update();
}

void Canvas::setOverviewWanted(bool wanted) {
    if (std::exchange(screen_.overviewWanted, wanted) == wanted) return;
    ask();
}

void Canvas::setWithoutTone(bool on) {
    screen_.withoutTone = on;
    ask();
}

void Canvas::drawRegion(std::function<void(PixelRect)> drawn, std::function<void()> givenUp) {
    endCrop();
    endTool();
    tools_.regions().begin(std::move(drawn));
    tools_.regions().whenGivenUp(std::move(givenUp));
    beginTool();
}

void Canvas::pickColour(std::function<void(Colour)> picked) {
    tools_.colour().begin(std::move(picked));
    beginTool();
}

void Canvas::startCrop() {
    const Layer* layer = session_.layer();
    if (!session_.picture()) return;
    const Asset* asset = assetOf(*layer, session_.kit());
    const auto facts =
        asset ? session_.inks()->facts(*asset) : Result<PictureFacts>(fail(Code::unreadable, ""));
    if (!facts) return session_.tell(QString::fromStdString(facts.error().sentence()), true);
    tools_.crop().begin(layer->id, facts->size);
    Q_EMIT needed();
    setFocus();
    settle();
}

void Canvas::endCrop() {
    tools_.crop().end();
    settle();
}

QPointF Canvas::turnHandle() const {
    const auto choice = choiceBox(session_);
    return choice ? zl::app::turnHandle(*choice, viewport_) : QPointF();
}

void Canvas::beginTool() {
    if (!tools_.drawing()) return;
    endCrop();
    drawing_ = true;
    setCursor(Qt::CrossCursor);
    Q_EMIT needed();
    setFocus();
    if (const QString advice = tools_.begun()->advice(); !advice.isEmpty())
        Q_EMIT adviceChanged(advice);
    update();
}

void Canvas::endTool() {
    tools_.endDrawing();
    settle();
}

// A tool may have ended: by itself, by a key, or since what it worked on is gone.
void Canvas::settle() {
    if (const bool crops = cropping(); std::exchange(cropped_, crops) != crops) {
        setZoom(0);
        Q_EMIT cropChanged();
    }
    if (!drawing_ || tools_.drawing()) return;
    drawing_ = false;
    tools_.letGo();
    unsetCursor();
    Q_EMIT adviceChanged({});
    update();
}

void Canvas::resizeEvent(QResizeEvent*) {
    ask();
}

void Canvas::mousePressEvent(QMouseEvent* event) {
    overlay_.pointed.reset();
    if (!session_.piece()) return;
    tools_.press(handOf(*event));
    settle();
    update();
}

void Canvas::mouseMoveEvent(QMouseEvent* event) {
    if (!session_.piece()) return;
    if (!tools_.held()) {
        setCursor(tools_.cursor(handOf(*event)));
    } else {
        const RealPoint before = viewport_.pan();
        tools_.move(handOf(*event));
        if (!(viewport_.pan() == before)) ask();
    }
    if (tools_.begun()) update();
}

void Canvas::mouseReleaseEvent(QMouseEvent*) {
    tools_.release();
    settle();
    update();
}

void Canvas::mouseDoubleClickEvent(QMouseEvent* event) {
    if (Tool* only = tools_.begun()) {
        only->doubleClick(handOf(*event));
        return update();
    }
    if (event->button() != Qt::LeftButton || !session_.layer()) return;
    if (kindOf(*session_.layer()).isText)
        Q_EMIT letteringAsked();
    else
        startCrop();
}

void Canvas::wheelEvent(QWheelEvent* event) {
    if (!session_.piece()) return;
    const double steps = event->angleDelta().y() / 120.0;
    if (event->modifiers().testFlag(Qt::ControlModifier)) {
        viewport_.zoomTo(shownScale() * std::pow(1.25, steps), event->position());
        ask();
        Q_EMIT zoomChanged();
        return;
    }
    if (event->modifiers() == Qt::NoModifier && tools_.wheel(steps)) return update();
    if (!viewport_.moves()) return event->ignore();
    constexpr double step = 60;  // px of the widget
    const bool across = event->modifiers().testFlag(Qt::ShiftModifier);
    viewport_.moveBy({across ? step * steps : 0, across ? 0 : step * steps});
    ask();
}

void Canvas::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1;
    const int key = event->key();
    const double dx = key == Qt::Key_Left    ? -step
                      : key == Qt::Key_Right ? step
                                             : 0,
                 dy = key == Qt::Key_Up     ? -step
                      : key == Qt::Key_Down ? step
                                            : 0;
    if (key == Qt::Key_Escape) overlay_.pointed.reset();
    const bool taken =
        session_.piece() && (dx != 0 || dy != 0 ? tools_.nudge(dx, dy) : tools_.key(*event));
    if (!taken) return QWidget::keyPressEvent(event);
    settle();
    update();
}

void Canvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Piece* piece = session_.piece();
    if (!piece || screen_.image().isNull()) {
        painter.fillRect(rect(), Theme::now()["surround"]);
        if (!piece)
            overlay_.paintStart(painter, rect());
        else if (!screen_.refusal().isEmpty())
            overlay_.paintWords(painter, rect(), screen_.refusal());
        return;
    }
    screen_.wear(devicePixelRatioF());
    painter.drawImage(0, 0, screen_.image());
    overlay_.paintFrame(painter);
    if (piece->layers.empty()) overlay_.paintWords(painter, rect(), {});
    if (cropping()) return tools_.crop().paint(painter);
    subject_.paint(painter, tools_.picture().onSubject());
    overlay_.paint(painter);
    tools_.paintBelow(painter);
    overlay_.paintPointed(painter);
    if (tools_.picture().active()) return tools_.picture().paint(painter);
    lines_.paint(painter);
    tools_.paintAbove(painter);
}

}  // namespace zl::app
