// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/render.h"

#include <fmt/core.h>

#include <cmath>

#include "bar/bar.h"
#include "base/json.h"
#include "base/overloads.h"
#include "base/parallel.h"
#include "cut/cut.h"
#include "finish/finish.h"
#include "kit/edits.h"
#include "kit/layer_json.h"
#include "kit/layer_kinds.h"
#include "lettering/lettering.h"
#include "raster/bleed.h"
#include "raster/ink_box.h"
#include "raster/resample.h"
#include "raster/turn.h"
#include "tone/tone.h"

namespace zl {
namespace {

std::size_t bytesOf(const Ink& ink) {
    return ink.sixteen ? ink.sixteen->byteCount() : 0;
}

// Whole px are taken out of a place, so that a moved layer is the same ink at another spot.
RealPoint wholePart(double x, double y) {
    return {std::floor(x + 1e-9), std::floor(y + 1e-9)};
}

// How much of a layer is drawn: all of it when it is not much larger than the frame (it may be
// dragged about), else what the frame shows.
PixelRect wanted(const RealRect& box, PixelSize frame) {
    constexpr double generous = 4;
    const PixelRect all = roundOutwards(box);
    if (box.area() <= generous * static_cast<double>(frame.count()) + 1e6) return all;
    return all.intersected(PixelRect::of(frame));
}

static_assert(static_cast<int>(Blend::softLight) == static_cast<int>(BlendMode::softLight));

// What a layer's bare ink may touch, in frame px.
RealRect inkBoundsOf(const Layer& layer) {
    const auto letterBounds = [&](const LetteringLayer& letters) {
        const auto box = measure(letters);
        if (!box || box->ink.area() <= 0) return RealRect{letters.at.x, letters.at.y, 0, 0};
        const auto inFrame = [&](const RealRect& r) {
            return RealRect{r.x + letters.at.x, r.y + letters.at.y, r.width, r.height};
        };
        return boundsOf(inFrame(box->ink), layer.turn, inFrame(box->block).centre());
    };
    return std::visit(Overloads{[&](const PictureLayer&) { return boundsOf(layer); },
                                [&](const BarLayer&) { return boundsOf(layer); }, letterBounds},
                      layer.what);
}

// The corner that a layer is placed by; asks no font.
RealPoint cornerOf(const Layer& layer) {
    const auto corner = [](const auto& what) { return RealPoint{what.place.x, what.place.y}; };
    return std::visit(Overloads{[&](const PictureLayer& picture) { return corner(picture); },
                                [&](const BarLayer& bar) { return corner(bar); },
                                [](const LetteringLayer& letters) { return letters.at; }},
                      layer.what);
}

bool shown(const Layer& layer) {
    return !layer.hidden && layer.opacity > 0;
}

// The same pixels come out of both, but for their place by whole px.
bool drawnAlike(const Layer& a, const Layer& b) {
    return a.what == b.what && a.turn == b.turn && a.finishes == b.finishes;
}

// What an ink is kept under: the layer with the whole px of its place taken out, and nothing that
// it is not drawn by.
struct Still {
    Layer layer;
    int dx = 0, dy = 0;
    PixelRect want;  // of the finished ink, in the still layer's px
};

Still stillOf(const Layer& layer, PixelSize frame) {
    Still still;
    const RealPoint corner = cornerOf(layer), at = wholePart(corner.x, corner.y);
    still.dx = static_cast<int>(at.x);
    still.dy = static_cast<int>(at.y);
    Layer bare;
    bare.what = layer.what;
    bare.turn = layer.turn;
    bare.finishes = layer.finishes;
    if (PictureLayer* picture = bare.picture()) picture->reference = false;
    still.layer = moved(bare, -at.x, -at.y);
    RealRect bounds = inkBoundsOf(layer);
    if (bounds.area() <= 0) return still;
    const double reach = reachOf(layer.finishes);
    bounds = {bounds.x - reach, bounds.y - reach, bounds.width + 2 * reach,
              bounds.height + 2 * reach};
    still.want = wanted(bounds, frame).moved(-still.dx, -still.dy);
    return still;
}

}  // namespace

template <class Matches>
const InkStore::Kept* InkStore::find(const Matches& matches) {
    for (auto it = kept_.begin(); it != kept_.end(); ++it)
        if (matches(*it)) {
            kept_.splice(kept_.begin(), kept_, it);
            return &kept_.front();
        }
    return nullptr;
}

void InkStore::keep(Kept kept) {
    const std::scoped_lock lock(mutex_);
    used_ += kept.bytes;
    kept_.push_front(std::move(kept));
    constexpr std::size_t mostKept = 400;
    while (kept_.size() > 1 && (used_ > room_ || kept_.size() > mostKept)) {
        used_ -= kept_.back().bytes;
        kept_.pop_back();
    }
}

void InkStore::clear() {
    const std::scoped_lock lock(mutex_);
    kept_.clear();
    used_ = 0;
}

template <class Make>
Result<std::shared_ptr<const Picture>> InkStore::derived(const std::string& key, const Make& make) {
    {
        const std::scoped_lock lock(mutex_);
        if (const Kept* kept = find([&](const Kept& k) { return k.picture && k.key == key; }))
            return kept->picture;
    }
    Result<Picture> made = make();
    if (!made) return passOn(made.error());
    auto picture = std::make_shared<const Picture>(std::move(*made));
    Kept kept;
    kept.key = key;
    kept.picture = picture;
    kept.bytes = static_cast<std::size_t>(picture->pixels->size().count()) * 4;
    keep(std::move(kept));
    return picture;
}

Result<std::shared_ptr<const Picture>> InkStore::picture(const Asset& asset) {
    return derived(asset.sha256, [&] { return decode(*asset.bytes, asset.name); });
}

Result<PictureFacts> InkStore::facts(const Asset& asset) {
    {
        const std::scoped_lock lock(mutex_);
        if (const Kept* kept =
                find([&](const Kept& k) { return k.picture && k.key == asset.sha256; }))
            return kept->picture->facts;
    }
    return readFacts(*asset.bytes, asset.name);
}

Result<std::shared_ptr<const Picture>> InkStore::prepared(const Asset& asset,
                                                          const PictureLayer& layer, int quarters,
                                                          const Turn& turn,
                                                          const std::stop_token& stop) {
    auto now = picture(asset);
    std::string key = asset.sha256;
    const auto next = [&](const std::string& what, const auto& change) {
        if (!now) return;
        key += what;
        const std::shared_ptr<const Picture> before = *now;
        now = derived(key, [&]() -> Result<Picture> {
            Picture changed{before->facts, nullptr, before->opaque};
            changed.pixels = std::make_shared<const Straight8>(change(*before->pixels));
            changed.opaque = isOpaque(*changed.pixels);
            if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
            return changed;
        });
    };
    std::vector<Cut> cuts;
    std::copy_if(layer.cuts.begin(), layer.cuts.end(), std::back_inserter(cuts), changesPixels);
    if (!cuts.empty())
        next(" cuts " + jsonOf(cuts).dump(),
             [&](const Straight8& p) { return cutOut(p, cuts, coreCount(), stop); });
    if (!layer.veils.empty()) {
        std::string what = " veils";
        for (const Veil& v : layer.veils)
            what += fmt::format(" {} {} {} {} {} {}", static_cast<int>(v.kind), v.region.x,
                                v.region.y, v.region.width, v.region.height, v.px);
        next(what, [&](const Straight8& p) { return veiled(p, layer.veils, coreCount()); });
    }
    if (const Tone& t = layer.tone; !t.neutral())
        next(fmt::format(" tone {} {} {} {} {} {}", t.brightness, t.contrast, t.saturation,
                         t.warmth, t.tint, t.clarity),
             [&](const Straight8& p) { return toned(p, t, coreCount(), stop); });
    if (quarters != 0 || turn.flipX || turn.flipY)
        next(fmt::format(" turned {} {} {}", quarters, turn.flipX, turn.flipY),
             [&](const Straight8& p) {
                 return turnedQuarters(p, quarters, turn.flipX, turn.flipY);
             });
    return now;
}

Result<Ink> InkStore::pictureInk(const PictureLayer& layer, const Turn& turn, const Kit& kit,
                                 PixelRect want, const std::stop_token& stop) {
    const Asset* asset = kit.asset(layer.source);
    if (!asset || !asset->bytes)
        return fail(Code::unreadable, "The picture of a layer is missing in the kit.",
                    "Bring it in again.");
    // Quarter turns and mirrors move pixels; only what is left of the angle is resampled.
    const double nearest = std::round(turn.degrees / 90), rest = turn.degrees - nearest * 90;
    const int quarters = ((static_cast<int>(nearest) % 4) + 4) % 4;
    const auto source = prepared(*asset, layer, quarters, turn, stop);
    if (!source) return passOn(source.error());
    RealRect crop = layer.crop, place = layer.place;
    PixelSize originalSize;
    if (quarters != 0 || turn.flipX || turn.flipY) {
        const auto original = facts(*asset);
        if (!original) return passOn(original.error());
        originalSize = original->size;
        crop = turnedQuarters(crop, original->size, quarters, turn.flipX, turn.flipY);
        const RealPoint c = place.centre();
        if (quarters % 2 != 0)
            place = {c.x - place.height / 2, c.y - place.width / 2, place.height, place.width};
    }
    const bool shaped = std::any_of(layer.cuts.begin(), layer.cuts.end(), changesShape);
    const auto cutTo = [&](const Ink& ink, const RealRect& box) {
        if (!shaped || stop.stop_requested()) return ink;
        const double sx = box.width / crop.width, sy = box.height / crop.height;
        const auto placed = [&](RealPoint p) {
            if (!originalSize.empty()) {
                const RealRect there = turnedQuarters(RealRect{p.x, p.y, 0, 0}, originalSize,
                                                      quarters, turn.flipX, turn.flipY);
                p = {there.x, there.y};
            }
            return RealPoint{box.x + (p.x - crop.x) * sx, box.y + (p.y - crop.y) * sy};
        };
        return withShapes(ink, layer.cuts, placed, std::sqrt(sx * sy), coreCount());
    };
    if (std::abs(rest) < 1e-9)
        return cutTo(
            resampled((*source)->pixels, (*source)->opaque, crop, place, want, coreCount(), stop),
            place);
    const PixelSize level{std::max(1, static_cast<int>(std::lround(place.width))),
                          std::max(1, static_cast<int>(std::lround(place.height)))};
    constexpr long long most = 60'000'000;
    if (level.count() > most)
        return fail(Code::badUsage, "A picture that large cannot be turned.",
                    "Make it smaller, or turn it by 90 degrees.");
    const Ink upright =
        cutTo(resampled((*source)->pixels, (*source)->opaque, crop, RealRect::of(level),
                        PixelRect::of(level), coreCount(), stop),
              RealRect::of(level));
    return turned(upright, place, rest, want, coreCount(), stop);
}

std::optional<Ink> InkStore::findInk(const Layer& still, const PixelRect& want) {
    const std::scoped_lock lock(mutex_);
    const Kept* kept =
        find([&](const Kept& k) { return k.ink && k.want == want && drawnAlike(*k.layer, still); });
    return kept ? kept->ink : std::nullopt;
}

std::optional<Ink> InkStore::keptInk(const Layer& layer, PixelSize frame) {
    if (kindOf(layer).isText) return {};  // its bounds would be asked of its font
    const Still still = stillOf(layer, frame);
    auto kept = findInk(still.layer, still.want);
    return kept ? std::optional(kept->moved(still.dx, still.dy)) : std::nullopt;
}

Result<Ink> InkStore::bareInk(const Layer& still, const Kit& kit, PixelRect want,
                              const std::stop_token& stop) {
    if (auto kept = findInk(still, want)) return *kept;
    auto made = std::visit(
        Overloads{[&](const PictureLayer& p) { return pictureInk(p, still.turn, kit, want, stop); },
                  [&](const BarLayer& bar) { return drawBar(bar, still.turn, want); },
                  [&](const LetteringLayer& l) { return drawLettering(l, still.turn, want); }},
        still.what);
    if (!made) return made;
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    keep({"", nullptr, still, want, *made, bytesOf(*made)});
    return made;
}

Result<Ink> InkStore::ink(const Layer& layer, const Kit& kit, PixelSize frame,
                          std::stop_token stop) {
    const Still still = stillOf(layer, frame);
    const auto dressed = [&](const Ink& ink) {
        Ink out = ink.moved(still.dx, still.dy);
        out.opacity = static_cast<float>(layer.opacity);
        out.blend = static_cast<BlendMode>(layer.blend);
        return out;
    };
    if (still.want.empty()) return Ink{};
    const bool plain = std::all_of(layer.finishes.begin(), layer.finishes.end(),
                                   [](const Finish& f) { return f.off; });
    if (!plain)
        if (const auto kept = findInk(still.layer, still.want)) return dressed(*kept);
    Layer bare = still.layer;
    bare.finishes.clear();
    // All ink that a finish within `want` can come from.
    const int reach = plain ? 0 : static_cast<int>(std::ceil(reachOf(layer.finishes)));
    const PixelRect& w = still.want;
    const auto made = bareInk(
        bare, kit, {w.left - reach, w.top - reach, w.right + reach, w.bottom + reach}, stop);
    if (!made) return passOn(made.error());
    if (made->box.empty() || plain) return dressed(*made);
    const Ink whole = finished(*made, layer.finishes, still.want, coreCount(), stop);
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    keep({"", nullptr, still.layer, still.want, whole, bytesOf(whole)});
    return dressed(whole);
}

void useFontsOf(const Kit& kit) {
    for (const std::string& hash : kit.fonts)
        if (const Asset* font = kit.asset(hash))
            static_cast<void>(
                useFont(*font));  // a font that fails is told as missing where it is used
}

Result<std::vector<Ink>> inksOf(const Piece& piece, const Kit& kit, InkStore& store,
                                std::stop_token stop, For purpose) {
    useFontsOf(kit);
    std::vector<Ink> inks;
    for (const Layer& layer : piece.layers) {
        if (!shown(layer) || (purpose == For::release && layer.isReference())) continue;
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        auto ink = store.ink(layer, kit, piece.frame, stop);
        if (!ink) return passOn(ink.error());
        if (!ink->box.empty()) inks.push_back(std::move(*ink));
    }
    return inks;
}

Result<void> renderInto(Straight8& frame, PixelRect damage, const Piece& piece, const Kit& kit,
                        InkStore& store, std::stop_token stop, For purpose) {
    const auto inks = inksOf(piece, kit, store, std::move(stop), purpose);
    if (!inks) return passOn(inks.error());
    blendOver(*inks, damage, frame, coreCount());
    return {};
}

Result<Straight8> render(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop,
                         For purpose) {
    Straight8 frame(piece.frame);
    if (auto done = renderInto(frame, PixelRect::of(piece.frame), piece, kit, store,
                               std::move(stop), purpose);
        !done)
        return passOn(done.error());
    return frame;
}

PixelRect damageBetween(const Piece& before, const Piece& after, const Kit& kit, InkStore& store) {
    const PixelRect all = PixelRect::of(after.frame);
    if (before.frame != after.frame) return all;
    PixelRect damage;
    const auto add = [&](const Layer& layer) {
        if (!shown(layer)) return;
        const auto ink = store.ink(layer, kit, after.frame);
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

Result<Straight8> releaseFrame(const Piece& piece, const Kit& kit, InkStore& store,
                               std::stop_token stop) {
    auto frame = render(piece, kit, store, std::move(stop), For::release);
    if (frame && !isOpaque(*frame)) bleedColour(*frame);
    return frame;
}

Result<PixelRect> inkBounds(const Piece& piece, const Kit& kit, InkStore& store,
                            std::stop_token stop) {
    const auto inks = inksOf(piece, kit, store, std::move(stop), For::release);
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
