// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/lay_out.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/overloads.h"
#include "edit/arrange.h"
#include "edit/edits.h"
#include "kit/layer_kinds.h"
#include "lettering/lettering.h"
#include "mend/mend.h"
#include "raster/ink_box.h"
#include "readings/reading.h"
#include "readings/zones.h"

namespace zl {
namespace {

constexpr double touches = 0.02;  // of the frame's side: as near counts as touching
constexpr double almostAll = 0.95;

bool meet(const RealRect& a, const RealRect& b) {
    const RealRect both = a.intersected(b);
    return both.width > 0 && both.height > 0;
}

bool fillsFrame(const RealRect& box, PixelSize frame) {
    const RealRect seen = box.intersected(RealRect::of(frame));
    return seen.width >= almostAll * frame.width && seen.height >= almostAll * frame.height;
}

// A picture or a bar that is the ground, or a part of it: it fills the frame, or is no essential
// picture and stands at a side of it.
bool isGround(const Layer& layer, const RealRect& box, PixelSize frame) {
    if (kindOf(layer).isText) return false;
    if (layer.picture() && layer.picture()->showsSubject()) return false;
    if (fillsFrame(box, frame)) return true;
    if (!layer.turn.none() || isEssential(layer, frame)) return false;
    const auto lies = [](const BarLayer& bar) {  // a side of it can lie along the frame's
        return bar.shape == BarShape::rectangle || bar.shape == BarShape::rounded;
    };
    const bool boxy = std::visit(Overloads{[](const PictureLayer&) { return true; },
                                           [](const LetteringLayer&) { return false; }, lies},
                                 layer.what);
    if (!boxy) return false;
    const double x = touches * frame.width, y = touches * frame.height;
    const bool spansAcross = box.x <= x && box.right() >= frame.width - x,
               spansDown = box.y <= y && box.bottom() >= frame.height - y;
    return spansAcross || spansDown;
}

// One side of a box in shares of the old frame: an edge stays an edge, all else keeps its share.
double sideAt(double at, double end, double newEnd) {
    if (at <= touches * end) return std::min(0.0, at / end * newEnd);
    if (at >= (1 - touches) * end) return std::max(newEnd, at / end * newEnd);
    return at / end * newEnd;
}

void layGround(Layer& layer, const RealRect& box, PixelSize from, PixelSize to) {
    const double fx = static_cast<double>(to.width) / from.width,
                 fy = static_cast<double>(to.height) / from.height;
    if (!layer.turn.none() || fillsFrame(box, from)) {
        const bool plainBar =
            layer.turn.none() && std::visit(Overloads{[](const BarLayer& bar) {
                                                          return bar.shape == BarShape::rectangle;
                                                      },
                                                      [](const PictureLayer&) { return false; },
                                                      [](const LetteringLayer&) { return false; }},
                                            layer.what);
        if (!plainBar) {
            const double factor = std::max(fx, fy);
            layer = scaled(layer, factor, factor, {0, 0});
            layer = moved(layer, (to.width - from.width * factor) / 2,
                          (to.height - from.height * factor) / 2);
            return;
        }
    }
    const double left = sideAt(box.x, from.width, to.width),
                 right = sideAt(box.right(), from.width, to.width);
    const double top = sideAt(box.y, from.height, to.height),
                 bottom = sideAt(box.bottom(), from.height, to.height);
    const RealRect place{left, top, right - left, bottom - top};
    std::visit(Overloads{[&](BarLayer& bar) {
                             const double mean = std::min(fx, fy);
                             bar.place = place;
                             bar.radius *= mean;
                             bar.thickness *= mean;
                             for (Finish& finish : layer.finishes) finish = scaled(finish, mean);
                         },
                         [&](PictureLayer& picture) {
                             picture.crop = largestInside(picture.crop, place.width, place.height);
                             picture.place = place;
                         },
                         [](LetteringLayer&) {}},  // is never a ground
               layer.what);
}

// What a layer takes over from its twin in the piece that it was laid out from: the content, not
// the place. One function a kind; the layer is of the twin's kind.
void takeOver(Layer& layer, LetteringLayer& letters, const LetteringLayer& twin,
              const RealRect& room, PixelSize) {
    const RealRect before = boxOf(layer);
    LetteringLayer next = twin;
    next.at = letters.at;
    next.size = letters.size;
    letters = next;
    RealRect after = boxOf(layer);
    const double most = std::min(room.width / after.width, room.height / after.height);
    if (after.width > 0 && after.height > 0 && most < 1) {
        letters.size *= most;
        after = boxOf(layer);
    }
    // Held where the old block was held: by its middle, or by the side it stands at.
    const double left = before.x - room.x, right = room.right() - before.right();
    const bool byRight = letters.align == Align::right ||
                         (letters.align == Align::left && right < left && right < before.width / 2);
    const double to = letters.align == Align::centre ? before.centre().x - after.width / 2
                      : byRight                      ? before.right() - after.width
                                                     : before.x;
    layer = moved(layer, to - after.x, before.y - after.y);
}
void takeOver(Layer& layer, PictureLayer& picture, const PictureLayer& twin, const RealRect&,
              PixelSize frame) {
    const bool ground = isGround(layer, boundsOf(layer), frame);
    const RealRect place = picture.place;
    picture = twin;
    picture.place = place;
    if (ground)
        picture.crop = largestInside(twin.crop, place.width, place.height);
    else
        picture.place = largestInside(place, twin.crop.width, twin.crop.height);
}
void takeOver(Layer&, BarLayer& bar, const BarLayer& twin, const RealRect&, PixelSize) {
    bar.colour = twin.colour;
    bar.fade = twin.fade;
}

// Where a stretch of `room` is held: what its distance to it keeps.
double anchored(double low, double high, double roomLow, double roomHigh, double newLow,
                double newHigh, double factor) {
    const double centre = (low + high) / 2, half = (high - low) / 2 * factor,
                 room = roomHigh - roomLow, newRoom = newHigh - newLow;
    // The edges first: of equals the first wins.
    const double away[] = {low - roomLow, roomHigh - high, std::abs(centre - (roomLow + room / 2)),
                           std::abs(centre - (roomLow + room / 3)),
                           std::abs(centre - (roomLow + 2 * room / 3))};
    const auto nearest = std::min_element(std::begin(away), std::end(away)) - std::begin(away);
    double at = 0;
    switch (nearest) {
        case 0:
            at = newLow + away[0] * factor + half;
            break;
        case 1:
            at = newHigh - away[1] * factor - half;
            break;
        default: {
            const double part = nearest == 2 ? 0.5 : nearest == 3 ? 1.0 / 3 : 2.0 / 3;
            at = newLow + part * newRoom + (centre - (roomLow + part * room)) * factor;
        }
    }
    return std::clamp(at, newLow + half, std::max(newLow + half, newHigh - half)) - half;
}

// Layers that touch one another, and those of one group, in sets of indices.
std::vector<std::vector<std::size_t>> together(const std::vector<RealRect>& boxes,
                                               const std::vector<const Layer*>& layers) {
    std::vector<std::size_t> set(boxes.size());
    for (std::size_t i = 0; i < set.size(); ++i) set[i] = i;
    for (std::size_t i = 0; i < boxes.size(); ++i)
        for (std::size_t j = 0; j < i; ++j) {
            const bool grouped = layers[i]->group != 0 && layers[i]->group == layers[j]->group;
            if (set[i] == set[j] || !(grouped || meet(boxes[i], boxes[j]))) continue;
            const std::size_t from = set[i], to = set[j];
            for (std::size_t& one : set)
                if (one == from) one = to;
        }
    std::vector<std::vector<std::size_t>> all(boxes.size());
    for (std::size_t i = 0; i < set.size(); ++i) all[set[i]].push_back(i);
    std::erase_if(all, [](const auto& one) { return one.empty(); });
    return all;
}

// Whether a zone that may fail takes more of an essential layer than the reading lets pass.
Result<bool> breaksAZone(const Piece& piece, const Kit& kit, const Brief& brief, InkStore& store,
                         const std::stop_token& stop) {
    for (const Layer& layer : piece.layers) {
        if (layer.hidden || !isEssential(layer, piece.frame)) continue;
        const auto ink = store.ink(layer, kit, piece.frame, stop);
        if (!ink) return passOn(ink.error());
        if (ink->box.empty()) continue;
        std::vector<RealRect> places{RealRect::of(piece.frame)};
        for (const Zone& zone : brief.zones) places.push_back(inFrame(zone, piece.frame));
        const auto shares = sharesWithin(*ink, places);
        if (shares[0] < thresholds::zonesPass) return true;
        for (std::size_t i = 0; i < brief.zones.size(); ++i) {
            const Zone& zone = brief.zones[i];
            if (zone.atMostWatch || (zone.role == ZoneRole::keepInside && !asksOf(zone, layer)))
                continue;
            const double lost =
                zone.role == ZoneRole::keepClear ? shares[i + 1] : 1 - shares[i + 1];
            if (lost > 1 - thresholds::zonesPass) return true;
        }
    }
    return false;
}

// The kit with the piece's layers brought into the zones where they break one; as it is where there
// is no room.
Result<Kit> inZones(Kit kit, const std::string& pieceId, const Brief& brief, InkStore& store,
                    const std::stop_token& stop) {
    const auto breaks = breaksAZone(*kit.piece(pieceId), kit, brief, store, stop);
    if (!breaks) return passOn(breaks.error());
    if (!*breaks) return kit;
    auto mendedKit = mended("into-zone", kit, pieceId, brief, store, stop);
    if (!mendedKit && mendedKit.error().code == Code::cancelled) return mendedKit;
    return mendedKit ? std::move(*mendedKit) : std::move(kit);
}

}  // namespace

RealRect roomIn(const Brief& brief, PixelSize frame) {
    RealRect room = RealRect::of(frame);
    for (const Zone& zone : brief.zones)
        if (zone.role != ZoneRole::keepClear) room = room.intersected(inFrame(zone, frame));
    for (const Zone& zone : brief.zones) {
        if (zone.role != ZoneRole::keepClear || zone.atMostWatch) continue;
        const RealRect r = inFrame(zone, frame);
        double left = room.x, top = room.y, right = room.right(), bottom = room.bottom();
        if (r.width >= frame.width)
            (r.y <= 0 ? top : bottom) =
                r.y <= 0 ? std::max(top, r.bottom()) : std::min(bottom, r.y);
        if (r.height >= frame.height)
            (r.x <= 0 ? left : right) = r.x <= 0 ? std::max(left, r.right()) : std::min(right, r.x);
        if (right > left && bottom > top) room = {left, top, right - left, bottom - top};
    }
    // Devices that show parts without anything in common leave no room that all of them show.
    return room.area() > 0 ? room : RealRect::of(frame);
}

Result<std::pair<Kit, std::string>> withPieceLaidOut(const Kit& kit, std::string_view pieceId,
                                                     const Brief& from, const Brief& to,
                                                     InkStore& store, std::stop_token stop) {
    return unlessTooLarge(std::string(pieceId), [&]() -> Result<std::pair<Kit, std::string>> {
        const Piece* first = kit.piece(pieceId);
        if (!first)
            return fail(Code::badUsage,
                        fmt::format("There is no piece \"{}\" in the kit.", pieceId));
        if (auto room = roomForPiece(kit); !room) return passOn(room.error());
        useFontsOf(kit);
        Piece piece = *first;
        piece.brief = to.id;
        piece.frame = to.frameRule == FrameRule::any ? first->frame : to.frame;
        piece.title = cutToFit(fmt::format("{} · {}", to.title, first->title));
        piece.id = idFromTitle(piece.title, kit);
        piece.release = {cutToFit(stemOf(first->release.name), 120) + "-" + to.id};
        piece.release.matte = first->release.matte;
        piece.laidFrom = first->id;
        piece.variantOf.clear();
        piece.ownScreen = false;
        piece.links.clear();
        piece.slices.clear();
        for (Guide& guide : piece.guides)
            if (!guide.isShare)
                guide = {guide.upright,
                         std::clamp(
                             guide.at / (guide.upright ? first->frame.width : first->frame.height),
                             0.0, 1.0),
                         true};

        std::vector<std::size_t> free;  // what is no ground
        std::vector<RealRect> boxes;
        std::vector<const Layer*> layers;
        RealRect room = roomIn(from, first->frame);
        for (std::size_t i = 0; i < piece.layers.size(); ++i) {
            Layer& layer = piece.layers[i];
            layer.twin = layer.id;
            const RealRect bounds = boundsOf(layer);
            if (isGround(layer, bounds, first->frame)) {
                layGround(layer, bounds, first->frame, piece.frame);
                continue;
            }
            // By its ink: an outline and a shadow stand in the room, too.
            RealRect box = bounds;
            if (!layer.hidden && !layer.isReference()) {
                const auto ink = store.ink(layer, kit, first->frame, stop);
                if (!ink) return passOn(ink.error());
                if (const auto inked = inkBoxOf(*ink, 1)) box = realOf(*inked);
                if (isEssential(layer, first->frame)) room = *around({room, box});
            }
            free.push_back(i);
            boxes.push_back(box);
            layers.push_back(&first->layers[i]);
        }
        // A px of slack all round: ink is drawn anew at its new size.
        const RealRect wide = roomIn(to, piece.frame);
        const RealRect newRoom{wide.x + 1, wide.y + 1, std::max(1.0, wide.width - 2),
                               std::max(1.0, wide.height - 2)};
        const double factor = std::min(newRoom.width / room.width, newRoom.height / room.height);
        for (const auto& set : together(boxes, layers)) {
            std::vector<RealRect> mine;
            for (const std::size_t i : set) mine.push_back(boxes[i]);
            const RealRect all = *around(mine);
            const double x = anchored(all.x, all.right(), room.x, room.right(), newRoom.x,
                                      newRoom.right(), factor);
            const double y = anchored(all.y, all.bottom(), room.y, room.bottom(), newRoom.y,
                                      newRoom.bottom(), factor);
            for (const std::size_t i : set) {
                Layer& layer = piece.layers[free[i]];
                layer = moved(scaled(layer, factor, factor, {all.x, all.y}), x - all.x, y - all.y);
            }
        }
        for (const Layer& layer : piece.layers)
            if (auto good = checkLayer(layer, kit); !good)
                return fail(Code::badUsage, fmt::format("\"{}\" cannot be laid out for {}: {}",
                                                        layer.name, to.title, good.error().what));
        Kit next = kit;
        const std::string id = piece.id;
        next.pieces.insertAt(kit.pieces.placeOf(first) + 1, std::move(piece));
        auto done = inZones(std::move(next), id, to, store, stop);
        if (!done) return passOn(done.error());
        return std::pair(std::move(*done), id);
    });
}

Result<Kit> withEditsCarriedOver(const Kit& kit, std::string_view pieceId, const Brief& brief,
                                 InkStore& store, std::stop_token stop) {
    return unlessTooLarge(std::string(pieceId), [&]() -> Result<Kit> {
        const Piece* now = kit.piece(pieceId);
        if (!now || now->laidFrom.empty())
            return fail(Code::badUsage, "This piece was not laid out from another.");
        const Piece* first = kit.piece(now->laidFrom);
        if (!first)
            return fail(Code::badUsage, "The piece that this one was laid out from is gone.");
        useFontsOf(kit);
        Piece piece = *now;
        piece.length = first->length;
        const RealRect room = roomIn(brief, piece.frame);
        for (Layer& layer : piece.layers) {
            const Layer* twin = layer.twin != 0 ? first->layer(layer.twin) : nullptr;
            if (!twin || twin->what.index() != layer.what.index()) continue;
            layer.name = twin->name;
            layer.shows = twin->shows;
            std::visit(
                [&](auto& what) {
                    using What = std::decay_t<decltype(what)>;
                    takeOver(layer, what, std::get<What>(twin->what), room, piece.frame);
                },
                layer.what);
        }
        const std::string id = piece.id;
        auto next = withChangedPiece(kit, std::move(piece));
        if (!next) return next;
        return inZones(std::move(*next), id, brief, store, stop);
    });
}

Layer filling(Layer layer, PixelSize frame) {
    const RealRect all = RealRect::of(frame), box = boxOf(layer);
    const auto fit = [&](const LetteringLayer&) {
        const double factor = std::min(all.width / box.width, all.height / box.height);
        layer = scaled(layer, factor, factor, {box.x, box.y});
        const RealPoint now = boxOf(layer).centre();
        layer = moved(layer, all.centre().x - now.x, all.centre().y - now.y);
    };
    std::visit(Overloads{[&](PictureLayer& p) {
                             p.place = smallestCovering(all, p.crop.width, p.crop.height);
                         },
                         [&](BarLayer& bar) { bar.place = all; }, fit},
               layer.what);
    return layer;
}

Result<Kit> withFrameTrimmed(const Kit& kit, std::string_view pieceId, int margin, InkStore& store,
                             std::stop_token stop) {
    const Piece* piece = kit.piece(pieceId);
    if (!piece) return fail(Code::badUsage, "That piece is gone.");
    const auto ink = inkBounds({*piece, kit}, store, std::move(stop));
    if (!ink) return passOn(ink.error());
    Piece next = *piece;
    for (Layer& layer : next.layers) layer = moved(layer, margin - ink->left, margin - ink->top);
    next.frame = {ink->width() + 2 * margin, ink->height() + 2 * margin};
    return withChangedPiece(kit, std::move(next));
}

}  // namespace zl
