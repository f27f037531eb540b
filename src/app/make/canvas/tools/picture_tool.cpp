// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas/tools/picture_tool.h"

#include <QKeyEvent>
#include <QPainter>
#include <cmath>

#include "cut/shape.h"
#include "edit/edits.h"
#include "look/theme.h"
#include "work/jobs.h"

namespace zl::app {
namespace {

constexpr double reach = 9;  // px of the screen
constexpr int body = 4;

}  // namespace

const PictureLayer* PictureTool::picture() const {
    const Layer* layer = session().piece() ? session().piece()->layer(layer_) : nullptr;
    return layer ? layer->picture() : nullptr;
}

void PictureTool::placeCut(int cut) {
    if (!session().layer()) return;
    what_ = What::cut;
    grip_ = touched_ = -1;
    stroke_.reset();
    ++serial_;
    layer_ = session().layer()->id;
    index_ = cut;
}

void PictureTool::placeVeil(int veil) {
    placeCut(veil);
    if (what_ == What::cut) what_ = What::veil;
}

void PictureTool::brush(int cut, bool restores, double radius) {
    placeCut(cut);
    if (what_ != What::cut) return;
    what_ = What::brush;
    restores_ = restores;
    radius_ = radius;
}

void PictureTool::boxSubject(int cut) {
    placeCut(cut);
    if (what_ == What::cut) what_ = What::box;
}

bool PictureTool::onSubject() const {
    const PictureLayer* p = picture();
    const auto at = static_cast<std::size_t>(index_);
    return p && (what_ == What::brush || what_ == What::box) && at < p->cuts.size() &&
           p->cuts[at].subject();
}

void PictureTool::pick(std::function<void(Colour, RealPoint)> picked) {
    placeCut(0);
    if (what_ != What::cut) return;
    what_ = What::pick;
    picked_ = std::move(picked);
}

bool PictureTool::active() {
    if (what_ == What::nothing) return false;
    const PictureLayer* p = picture();
    const auto at = static_cast<std::size_t>(index_);
    const bool there = p && session().layer() && session().layer()->id == layer_ &&
                       (what_ == What::pick || (what_ == What::veil && at < p->veils.size()) ||
                        (what_ == What::cut && at < p->cuts.size() && p->cuts[at].shape()) ||
                        (what_ == What::box && onSubject()) ||
                        (what_ == What::brush && at < p->cuts.size() && p->cuts[at].strokes()));
    if (!there) end();
    return there;
}

QString PictureTool::advice() const {
    switch (what_) {
        case What::cut:
            return points() ? tr("Drag the points; a double click on a side adds one, a right "
                                 "click takes one away. Enter ends it.")
                            : tr("Drag the box or its corners; Alt from the centre, Ctrl frees the "
                                 "shape. Enter ends it.");
        case What::veil:
            return tr("Drag the hidden region or its corners. Enter ends it.");
        case What::box:
            return tr(
                "Draw a box round the subject; by key with arrows and Space. Escape ends it.");
        case What::brush:
            if (onSubject())
                return restores_ ? tr("Paint over what belongs to the subject. D drops, N goes on "
                                      "to an unsure place, the wheel widens. Enter ends it.")
                                 : tr("Paint over what does not belong to it. K keeps, N goes on "
                                      "to an unsure place, the wheel widens. Enter ends it.");
            return restores_ ? tr("Paint over what should come back; by key with arrows and Space. "
                                  "Enter ends it.")
                             : tr("Paint over what should go; by key with arrows and Space. Enter "
                                  "ends it.");
        case What::pick:
            return tr("Click the background, or arrows and Space. Escape ends it.");
        case What::nothing:
            break;
    }
    return {};
}

RealPoint PictureTool::original(QPointF at) const {
    const Turn& turn = session().piece()->layer(layer_)->turn;
    const PictureLayer& shown = *picture();
    return inOriginal(shown, unturned(viewport().toFrame(at), turn, shown.place.centre()));
}

QPointF PictureTool::widget(RealPoint at) const {
    const Turn& turn = session().piece()->layer(layer_)->turn;
    const PictureLayer& shown = *picture();
    return viewport().toWidget(turned(inFrame(shown, at), turn, shown.place.centre()));
}

RealRect PictureTool::box() const {
    const auto at = static_cast<std::size_t>(index_);
    return what_ == What::veil ? picture()->veils[at].region : picture()->cuts[at].shape()->box;
}

const std::vector<RealPoint>* PictureTool::points() const {
    const ShapeCut* shape =
        what_ == What::cut ? picture()->cuts[static_cast<std::size_t>(index_)].shape() : nullptr;
    return shape && shape->shape == CutShape::polygon ? &shape->points : nullptr;
}

QPolygonF PictureTool::outline() const {
    QPolygonF out;
    if (what_ == What::cut) {
        for (const RealPoint& p :
             outlineOf(*picture()->cuts[static_cast<std::size_t>(index_)].shape(), 0.01))
            out << widget(p);
        return out;
    }
    const RealRect b = box();
    for (const RealPoint p : {RealPoint{b.x, b.y}, RealPoint{b.right(), b.y},
                              RealPoint{b.right(), b.bottom()}, RealPoint{b.x, b.bottom()}})
        out << widget(p);
    return out;
}

void PictureTool::edit(const QString& what, const QString& mergeKey,
                       const std::function<void(PictureLayer&)>& change) {
    Layer layer = *session().piece()->layer(layer_);
    change(*layer.picture());
    session().apply(withChangedLayer(session().kit(), session().piece()->id, layer), what,
                    mergeKey);
}

void PictureTool::setBox(const RealRect& box) {
    edit(what_ == What::veil ? tr("Hide a region") : tr("Place a cut"),
         QString("tool %1").arg(serial_), [&](PictureLayer& p) {
             const auto at = static_cast<std::size_t>(index_);
             (what_ == What::veil ? p.veils[at].region : p.cuts[at].shape()->box) = box;
         });
}

void PictureTool::setPoints(std::vector<RealPoint> points, const QString& mergeKey) {
    edit(tr("Draw a cut"), mergeKey, [&](PictureLayer& p) {
        p.cuts[static_cast<std::size_t>(index_)].shape()->points = std::move(points);
    });
}

int PictureTool::handleAt(QPointF at) const {
    const auto near = [&](RealPoint p) {
        const QPointF away = widget(p) - at;
        return std::hypot(away.x(), away.y()) <= reach;
    };
    if (const auto* all = points()) {
        for (std::size_t i = 0; i < all->size(); ++i)
            if (near((*all)[i])) return static_cast<int>(i);
        return -1;
    }
    const RealRect b = box();
    const RealPoint corners[] = {
        {b.x, b.y}, {b.right(), b.y}, {b.right(), b.bottom()}, {b.x, b.bottom()}};
    for (int i = 0; i < 4; ++i)
        if (near(corners[i])) return i;
    return b.contains(original(at)) ? body : -1;
}

bool PictureTool::press(const Hand& hand) {
    if (!active()) return false;
    ++serial_;
    from_ = original(hand.at);
    if (what_ == What::pick)
        pickColour();
    else if (what_ == What::box)
        stroke_ = Stroke{true, radius_, {from_, from_}};  // two corners
    else if (what_ != What::brush)
        pressBox(hand);
    else if (hand.button != Qt::RightButton)
        stroke_ = Stroke{restores_, radius_, {from_}};
    return active();
}

void PictureTool::pickColour() {
    const Asset* asset = session().kit().asset(picture()->source);
    const auto picked = std::exchange(picked_, nullptr);
    end();
    if (!asset || !picked) return;
    aside(
        session().jobs(), &session(),
        [inks = session().inks(), asset = *asset] { return inks->picture(asset); },
        [picked, where = from_](const Result<std::shared_ptr<const Picture>>& found) {
            if (!found) return;
            const Straight8& p = *(*found)->pixels;
            const int x = static_cast<int>(std::floor(where.x)),
                      y = static_cast<int>(std::floor(where.y));
            if (x < 0 || y < 0 || x >= p.width() || y >= p.height()) return;
            const std::uint32_t c = p.row(y)[x];
            picked({static_cast<std::uint8_t>(redOf(c)), static_cast<std::uint8_t>(greenOf(c)),
                    static_cast<std::uint8_t>(blueOf(c)), 255},
                   where);
        });
}

void PictureTool::pressBox(const Hand& hand) {
    grip_ = touched_ = handleAt(hand.at);
    const auto* all = points();
    if (!all) {
        boxBefore_ = box();
        return;
    }
    pointsBefore_ = *all;
    if (hand.button != Qt::RightButton || grip_ < 0 || all->size() <= 3) return;
    std::vector<RealPoint> fewer = *all;
    fewer.erase(fewer.begin() + grip_);
    grip_ = -1;
    setPoints(std::move(fewer), {});
}

std::optional<Qt::CursorShape> PictureTool::hover(const Hand& hand) {
    move(hand);
    return Qt::CrossCursor;
}

void PictureTool::move(const Hand& hand) {
    pointer_ = hand.at;
    byKey_ = false;
    if (!active()) return;
    const RealPoint to = original(hand.at);
    if (stroke_ && what_ == What::box) {
        stroke_->points.back() = to;
        return;
    }
    if (stroke_) {
        const RealPoint& last = stroke_->points.back();
        if (std::hypot(to.x - last.x, to.y - last.y) >= std::max(0.5, radius_ / 4) &&
            stroke_->points.size() < mostPoints)
            stroke_->points.push_back(to);
        return;
    }
    if (grip_ < 0) return;
    if (!points()) return moveBox(to, hand.with(Qt::ControlModifier), hand.with(Qt::AltModifier));
    std::vector<RealPoint> moved = pointsBefore_;
    moved[static_cast<std::size_t>(grip_)] = to;
    setPoints(std::move(moved), QString("tool %1").arg(serial_));
}

void PictureTool::moveBox(RealPoint to, bool free, bool aboutCentre) {
    RealRect b = boxBefore_;
    if (grip_ == body) {
        b.x += std::round(to.x - from_.x);
        b.y += std::round(to.y - from_.y);
        return setBox(b);
    }
    const bool left = grip_ == 0 || grip_ == 3, top = grip_ < 2;
    const RealPoint fixed{left ? b.right() : b.x, top ? b.bottom() : b.y};
    double wide = std::max(1.0, std::round(std::abs(to.x - fixed.x))),
           high = std::max(1.0, std::round(std::abs(to.y - fixed.y)));
    const bool round = what_ == What::cut && std::abs(boxBefore_.width - boxBefore_.height) < 1e-6;
    if (round && !free) wide = high = std::max(wide, high);
    if (aboutCentre) {
        const RealPoint c = b.centre();
        wide = std::max(1.0, 2 * std::abs(to.x - c.x));
        high = std::max(1.0, 2 * std::abs(to.y - c.y));
        if (round && !free) wide = high = std::max(wide, high);
        return setBox({c.x - wide / 2, c.y - high / 2, wide, high});
    }
    setBox({left ? fixed.x - wide : fixed.x, top ? fixed.y - high : fixed.y, wide, high});
}

void PictureTool::release() {
    grip_ = -1;
    if (!stroke_ || !active()) return;
    if (what_ == What::box) return takeBox();
    const Stroke stroke = *std::exchange(stroke_, std::nullopt);
    const QString what = onSubject() ? (stroke.restores ? tr("Keep") : tr("Drop"))
                                     : (stroke.restores ? tr("Bring back") : tr("Take away"));
    edit(what, {}, [&](PictureLayer& p) {
        p.cuts[static_cast<std::size_t>(index_)].strokes()->push_back(stroke);
    });
}

void PictureTool::takeBox() {
    const Stroke drawn = *std::exchange(stroke_, std::nullopt);
    const RealPoint a = drawn.points.front(), b = drawn.points.back();
    const RealRect& all = picture()->crop;
    const RealRect box =
        RealRect{std::min(a.x, b.x), std::min(a.y, b.y), std::abs(a.x - b.x), std::abs(a.y - b.y)}
            .intersected(all);
    constexpr double least = 4;  // px: a slip of the hand draws nothing
    if (box.width < least || box.height < least) return;
    edit(tr("Box round the subject"), {}, [&](PictureLayer& p) {
        SubjectCut& subject = *p.cuts[static_cast<std::size_t>(index_)].subject();
        subject.box = box;
        subject.guess = 0;
    });
    end();
}

void PictureTool::widen(double factor) {
    radius_ = std::clamp(radius_ * factor, 0.5, 2000.0);
}

bool PictureTool::wheel(double steps) {
    if (what_ != What::brush) return false;
    widen(std::pow(1.15, steps));
    return true;
}

RealPoint PictureTool::aim() const {
    const RealRect& all = picture()->crop;
    if (pointer_.x() < -1e3) return all.centre();
    const RealPoint at = original(pointer_);
    return {std::clamp(at.x, all.x, all.right()), std::clamp(at.y, all.y, all.bottom())};
}

void PictureTool::tap() {
    if (!active()) return;
    if (stroke_) return release();
    if (what_ != What::brush && what_ != What::pick && what_ != What::box) return;
    pointer_ = widget(aim());
    press({pointer_, Qt::LeftButton});
}

bool PictureTool::key(const QKeyEvent& event) {
    const int key = event.key();
    if (what_ == What::brush && (key == Qt::Key_BracketLeft || key == Qt::Key_BracketRight)) {
        widen(key == Qt::Key_BracketRight ? 1.15 : 1 / 1.15);
        return true;
    }
    if (what_ == What::brush && onSubject() && (key == Qt::Key_K || key == Qt::Key_D)) {
        restores_ = key == Qt::Key_K;
        return true;
    }
    if (onSubject() && key == Qt::Key_N) {
        session().subject().visitNext();
        return true;
    }
    if (key != Qt::Key_Space) return false;
    if (!event.isAutoRepeat()) tap();
    return true;
}

bool PictureTool::nudge(double dx, double dy) {
    if (!active()) return false;
    if (what_ == What::brush || what_ == What::pick || what_ == What::box) {
        const RealRect& all = picture()->crop;
        const RealPoint from = aim();
        move({widget({std::clamp(from.x + dx, all.x, all.right()),
                      std::clamp(from.y + dy, all.y, all.bottom())})});
        byKey_ = true;
        return true;
    }
    if (const auto* all = points()) {
        std::vector<RealPoint> moved = *all;
        for (std::size_t i = 0; i < moved.size(); ++i)
            if (touched_ < 0 || touched_ == static_cast<int>(i)) {
                moved[i].x += dx;
                moved[i].y += dy;
            }
        setPoints(std::move(moved), QString("tool %1").arg(serial_));
        return true;
    }
    RealRect b = box();
    b.x += dx;
    b.y += dy;
    setBox(b);
    return true;
}

bool PictureTool::doubleClick(const Hand& hand) {
    const QPointF at = hand.at;
    const auto* all = active() ? points() : nullptr;
    if (!all || handleAt(at) >= 0) return true;
    // Into the side that is nearest.
    double least = 1e18;
    std::size_t side = 0;
    for (std::size_t i = 0; i < all->size(); ++i) {
        const QPointF a = widget((*all)[i]), b = widget((*all)[(i + 1) % all->size()]), d = b - a;
        const double square = QPointF::dotProduct(d, d),
                     t = square > 0 ? std::clamp(QPointF::dotProduct(at - a, d) / square, 0.0, 1.0)
                                    : 0;
        const QPointF away = at - a - t * d;
        if (const double far = std::hypot(away.x(), away.y()); far < least) {
            least = far;
            side = i;
        }
    }
    std::vector<RealPoint> more = *all;
    more.insert(more.begin() + static_cast<std::ptrdiff_t>(side) + 1, original(at));
    setPoints(std::move(more), {});
    return true;
}

namespace {

// Seen on light and on dark.
template <class Draw>
void twice(QPainter& painter, const Draw& draw) {
    painter.setPen(QPen(Theme::now()["sheet-raised"], 3));
    draw();
    painter.setPen(QPen(Theme::now()["accent"], 1.5));
    draw();
}

}  // namespace

void PictureTool::paintBrush(QPainter& painter) {
    const QPointF across = widget({1, 0}) - widget({0, 0});
    const double perPx = std::hypot(across.x(), across.y());
    if (stroke_) {
        QPolygonF line;
        for (const RealPoint& p : stroke_->points) line << widget(p);
        QColor colour = Theme::now()[restores_ ? "accent" : "fail"];
        colour.setAlpha(110);
        painter.setPen(
            QPen(colour, 2 * radius_ * perPx, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        if (line.size() == 1) line << line.front() + QPointF(0.01, 0);
        painter.drawPolyline(line);
    }
    twice(painter, [&] { painter.drawEllipse(pointer_, radius_ * perPx, radius_ * perPx); });
}

std::vector<QPointF> PictureTool::handles() const {
    std::vector<QPointF> out;
    if (const auto* all = points()) {
        for (const RealPoint& p : *all) out.push_back(widget(p));
        return out;
    }
    const RealRect b = box();
    for (const RealPoint p : {RealPoint{b.x, b.y}, RealPoint{b.right(), b.y},
                              RealPoint{b.right(), b.bottom()}, RealPoint{b.x, b.bottom()}})
        out.push_back(widget(p));
    return out;
}

void PictureTool::paint(QPainter& painter) {
    if (!active()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    if (what_ == What::brush) return paintBrush(painter);
    if (what_ == What::box) {
        if (stroke_) {
            const QRectF box = QRectF(widget(stroke_->points.front()), pointer_).normalized();
            twice(painter, [&] { painter.drawRect(box); });
        } else {
            twice(painter, [&] {
                painter.drawLine(pointer_ - QPointF(10, 0), pointer_ + QPointF(10, 0));
                painter.drawLine(pointer_ - QPointF(0, 10), pointer_ + QPointF(0, 10));
            });
        }
        return;
    }
    if (what_ == What::pick) {
        if (byKey_) twice(painter, [&] { painter.drawEllipse(pointer_, 5, 5); });
        return;
    }
    const QPolygonF shape = outline();
    twice(painter, [&] { painter.drawPolygon(shape); });
    painter.setBrush(Theme::now()["sheet-raised"]);
    painter.setPen(QPen(Theme::now()["accent"], 1.5));
    for (const QPointF& h : handles()) painter.drawRect(QRectF(h.x() - 4, h.y() - 4, 8, 8));
}

}  // namespace zl::app
