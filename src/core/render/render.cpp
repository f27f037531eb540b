// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/render.h"

#include <cmath>

#include "base/overloads.h"
#include "base/parallel.h"
#include "finish/finish.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"
#include "lettering/lettering.h"
#include "raster/bleed.h"
#include "raster/ink_box.h"

namespace zl {
namespace {

bool shown(const Layer& layer) {
    return !layer.hidden && layer.opacity > 0;
}

// The same pixels come out of both, but for their place by whole px.
bool drawnAlike(const Layer& a, const Layer& b) {
    return a.what == b.what && a.turn == b.turn && a.finishes == b.finishes;
}

}  // namespace

Piece atMoment(const Piece& piece, double moment, InkStore& store, bool quick) {
    Piece out = piece;
    if (!moves(piece)) return out;
    const double length = lengthOf(piece);
    for (Layer& layer : out.layers) {
        if (layer.hidden) continue;
        layer.opacity *= strengthAt(layer.shows, moment, length);
        layer.shows.reset();
        PictureLayer* picture = layer.picture();
        if (!picture || !picture->clip) continue;
        const auto time = picture->clip->timeAt(moment);
        if (!time)
            layer.hidden = true;
        else if (store.clips())
            if (const auto number = store.clips()->numberAt(picture->clip->file, *time))
                picture->source = momentName({picture->clip->file, *number, quick});
        picture->clip.reset();
    }
    return out;
}

Result<std::vector<Ink>> inksOf(const View& view, InkStore& store, std::stop_token stop) {
    useFontsOf(view.kit);
    std::vector<Ink> inks;
    const bool moving = moves(view.piece);
    const Piece now =
        moving ? atMoment(view.piece, view.moment.value_or(tellingMoment(view.piece)), store)
               : Piece{};
    for (const Layer& layer : (moving ? now : view.piece).layers) {
        if (!shown(layer) || (view.purpose == For::release && layer.isReference())) continue;
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        auto ink = store.ink(layer, view.kit, view.piece.frame, stop);
        if (!ink) return passOn(ink.error());
        if (!ink->box.empty()) inks.push_back(std::move(*ink));
    }
    return inks;
}

Result<void> renderInto(Straight8& frame, PixelRect damage, const View& view, InkStore& store,
                        std::stop_token stop) {
    const auto inks = inksOf(view, store, std::move(stop));
    if (!inks) return passOn(inks.error());
    blendOver(*inks, damage, frame, coreCount());
    return {};
}

Result<Straight8> render(const View& view, InkStore& store, std::stop_token stop) {
    return unlessTooLarge(view.piece.title, [&]() -> Result<Straight8> {
        Straight8 frame(view.piece.frame);
        auto done = renderInto(frame, PixelRect::of(view.piece.frame), view, store, stop);
        if (!done) return passOn(done.error());
        return frame;
    });
}

PixelRect damageBetween(const Piece& before, const View& now, InkStore& store) {
    const Piece& after = now.piece;
    const PixelRect all = PixelRect::of(after.frame);
    if (before.frame != after.frame) return all;
    PixelRect damage;
    const auto add = [&](const Layer& layer) {
        if (!shown(layer)) return;
        // The frame before may be gone: it is not decoded again to know where it stood.
        if (const PictureLayer* picture = layer.picture();
            picture && momentNamed(picture->source)) {
            const double reach = reachOf(layer.finishes) + 1;
            const RealRect box = boundsOf(layer);
            damage = damage.united(roundOutwards({box.x - reach, box.y - reach,
                                                  box.width + 2 * reach, box.height + 2 * reach})
                                       .intersected(all));
            return;
        }
        const auto ink = store.ink(layer, now.kit, after.frame);
        damage = damage.united(ink ? ink->box.intersected(all) : all);
    };
    // In the same order, only layers that changed count; in another order, all those between the
    // two.
    if (before.layers.size() == after.layers.size()) {
        for (std::size_t i = 0; i < before.layers.size(); ++i) {
            const Layer &a = before.layers[i], &b = after.layers[i];
            if (drawnAlike(a, b) && a.hidden == b.hidden && a.opacity == b.opacity &&
                a.blend == b.blend)
                continue;
            add(a);
            add(b);
        }
        return damage;
    }
    std::vector<int> keptBefore, keptAfter;
    for (const Layer& layer : before.layers)
        if (after.layer(layer.id)) keptBefore.push_back(layer.id);
    for (const Layer& layer : after.layers)
        if (before.layer(layer.id)) keptAfter.push_back(layer.id);
    if (keptBefore != keptAfter) return all;
    for (const Layer& layer : before.layers)
        if (const Layer* same = after.layer(layer.id); !same || !(*same == layer)) add(layer);
    for (const Layer& layer : after.layers)
        if (const Layer* same = before.layer(layer.id); !same || !(*same == layer)) add(layer);
    return damage;
}

Result<Straight8> releaseFrame(const View& view, InkStore& store, std::stop_token stop) {
    auto frame = render({view.piece, view.kit, view.moment, For::release}, store, std::move(stop));
    if (frame && !isOpaque(*frame)) bleedColour(*frame);
    return frame;
}

Result<PixelRect> inkBounds(const View& view, InkStore& store, std::stop_token stop) {
    const auto inks =
        inksOf({view.piece, view.kit, view.moment, For::release}, store, std::move(stop));
    if (!inks) return passOn(inks.error());
    PixelRect box;
    for (const Ink& ink : *inks)
        if (const auto one = inkBoxOf(ink, 1)) box = box.united(*one);
    if (box.empty()) return fail(Code::limitNotMet, "There is no ink in this piece.");
    return box;
}

int layerAt(const Piece& piece, InkStore& store, RealPoint point) {
    constexpr int least = 8;  // alpha, of 255, that can be aimed at
    for (auto layer = piece.layers.rbegin(); layer != piece.layers.rend(); ++layer) {
        if (!shown(*layer) || !boundsOf(*layer).contains(point)) continue;
        const auto ink = store.keptInk(*layer, piece.frame);
        if (!ink || ink->opaque) return layer->id;
        const int x = static_cast<int>(std::floor(point.x)) - ink->box.left,
                  y = static_cast<int>(std::floor(point.y)) - ink->box.top;
        if (x < 0 || y < 0 || x >= ink->box.width() || y >= ink->box.height()) continue;
        const int alpha = ink->eight ? alphaOf(ink->eight->row(y + ink->fromY)[x + ink->fromX])
                                     : ink->sixteen->row(3, y)[x] / 257;
        if (alpha >= least) return layer->id;
    }
    return 0;
}

RealRect boxOf(const Layer& layer) {
    const auto block = [](const LetteringLayer& letters) {
        const auto box = measure(letters);
        if (!box) return RealRect{letters.at.x, letters.at.y, letters.size, letters.size};
        return RealRect{letters.at.x + box->block.x, letters.at.y + box->block.y, box->block.width,
                        box->block.height};
    };
    return std::visit(Overloads{[](const PictureLayer& picture) { return picture.place; },
                                [](const BarLayer& bar) { return bar.place; }, block},
                      layer.what);
}

RealRect boundsOf(const Layer& layer) {
    const RealRect box = boxOf(layer);
    return boundsOf(box, layer.turn, box.centre());
}

}  // namespace zl
