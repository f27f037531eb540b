// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/render.h"

#include <fmt/core.h>

#include <cmath>

#include "base/parallel.h"
#include "lettering/lettering.h"
#include "raster/bleed.h"
#include "raster/resample.h"

namespace zl {
namespace {

std::size_t bytesOf(const Ink& ink) {
    return ink.sixteen ? ink.sixteen->byteCount() : 0;
}

// Whole px are taken out of a place, so that a moved layer is the same ink at another spot.
RealPoint wholePart(double x, double y) {
    return {std::floor(x + 1e-9), std::floor(y + 1e-9)};
}

// How much of a layer is drawn: all of it when it is not much larger than the frame (it may be dragged about), else what
// the frame shows.
PixelRect wanted(const RealRect& box, PixelSize frame) {
    constexpr double generous = 4;
    const PixelRect all = roundOutwards(box);
    if (box.area() <= generous * static_cast<double>(frame.count()) + 1e6) return all;
    return all.intersected(PixelRect::of(frame));
}

bool shown(const Layer& layer) {
    return !layer.hidden && layer.opacity > 0;
}

// A picture's ink without its whole px of offset: what is wanted of it, and the name it is kept under.
struct Placed {
    int dx = 0, dy = 0;
    RealRect place;
    PixelRect want;
    std::string key;
};

Placed placed(const PictureLayer& layer, PixelSize frame) {
    const RealPoint at = wholePart(layer.place.x, layer.place.y);
    Placed p;
    p.dx = static_cast<int>(at.x);
    p.dy = static_cast<int>(at.y);
    p.place = {layer.place.x - at.x, layer.place.y - at.y, layer.place.width, layer.place.height};
    p.want = wanted(layer.place, frame).moved(-p.dx, -p.dy);
    p.key =
        fmt::format("{} {} {} {} {} {} {} {} {} {} {} {} {}", layer.source, layer.crop.x, layer.crop.y, layer.crop.width, layer.crop.height,
                    p.place.x, p.place.y, p.place.width, p.place.height, p.want.left, p.want.top, p.want.right, p.want.bottom);
    return p;
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

Result<std::shared_ptr<const Picture>> InkStore::picture(const Asset& asset) {
    {
        const std::scoped_lock lock(mutex_);
        if (const Kept* kept = find([&](const Kept& k) { return k.picture && k.key == asset.sha256; })) return kept->picture;
    }
    auto decoded = decode(*asset.bytes, asset.name);
    if (!decoded) return passOn(decoded.error());
    auto picture = std::make_shared<const Picture>(std::move(*decoded));
    keep({asset.sha256, picture, {}, {}, static_cast<std::size_t>(picture->facts.size.count()) * 4});
    return picture;
}

Result<PictureFacts> InkStore::facts(const Asset& asset) {
    {
        const std::scoped_lock lock(mutex_);
        if (const Kept* kept = find([&](const Kept& k) { return k.picture && k.key == asset.sha256; })) return kept->picture->facts;
    }
    return readFacts(*asset.bytes, asset.name);
}

Result<Ink> InkStore::pictureInk(const PictureLayer& layer, const Kit& kit, PixelSize frame, std::stop_token stop) {
    const Asset* asset = kit.asset(layer.source);
    if (!asset || !asset->bytes) return fail(Code::unreadable, "The picture of a layer is missing in the kit.", "Bring it in again.");
    const Placed p = placed(layer, frame);
    if (p.want.empty()) return Ink{};
    if (auto kept = findInk(p.key)) return kept->moved(p.dx, p.dy);
    const auto source = picture(*asset);
    if (!source) return passOn(source.error());
    Ink made = resampled((*source)->pixels, (*source)->opaque, layer.crop, p.place, p.want, coreCount(), stop);
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    keep({p.key, nullptr, made, {}, bytesOf(made)});
    return made.moved(p.dx, p.dy);
}

std::optional<Ink> InkStore::findInk(const std::string& key) {
    const std::scoped_lock lock(mutex_);
    const Kept* kept = find([&](const Kept& k) { return k.ink && k.key == key; });
    return kept ? kept->ink : std::nullopt;
}

std::optional<Ink> InkStore::keptInk(const Layer& layer, PixelSize frame) {
    if (!layer.picture()) return {};
    const Placed p = placed(*layer.picture(), frame);
    auto kept = findInk(p.key);
    return kept ? std::optional(kept->moved(p.dx, p.dy)) : std::nullopt;
}

Result<Ink> InkStore::letteringInk(const LetteringLayer& layer, PixelSize frame) {
    const RealPoint at = wholePart(layer.at.x, layer.at.y);
    const int dx = static_cast<int>(at.x), dy = static_cast<int>(at.y);
    LetteringLayer still = layer;
    still.at = {layer.at.x - at.x, layer.at.y - at.y};
    const auto box = measure(still);
    if (!box) return passOn(box.error());
    RealRect inFrame = box->ink;
    inFrame.x += layer.at.x;
    inFrame.y += layer.at.y;
    const PixelRect want = wanted(inFrame, frame).moved(-dx, -dy);
    const std::string key = fmt::format("{} {} {} {}", want.left, want.top, want.right, want.bottom);
    {
        const std::scoped_lock lock(mutex_);
        if (const Kept* kept = find([&](const Kept& k) { return k.letters && k.key == key && *k.letters == still; }))
            return kept->ink->moved(dx, dy);
    }
    auto made = drawLettering(still, want);
    if (!made) return passOn(made.error());
    keep({key, nullptr, *made, still, bytesOf(*made)});
    return made->moved(dx, dy);
}

Result<Ink> InkStore::ink(const Layer& layer, const Kit& kit, PixelSize frame, std::stop_token stop) {
    auto made = layer.picture() ? pictureInk(*layer.picture(), kit, frame, std::move(stop)) : letteringInk(*layer.lettering(), frame);
    if (made) made->opacity = static_cast<float>(layer.opacity);
    return made;
}

void useFontsOf(const Kit& kit) {
    for (const std::string& hash : kit.fonts)
        if (const Asset* font = kit.asset(hash))
            static_cast<void>(useFont(*font));  // a font that fails is told as missing where it is used
}

Result<std::vector<Ink>> inksOf(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop, For purpose) {
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

Result<void> renderInto(Straight8& frame, PixelRect damage, const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop,
                        For purpose) {
    const auto inks = inksOf(piece, kit, store, std::move(stop), purpose);
    if (!inks) return passOn(inks.error());
    blendOver(*inks, damage, frame, coreCount());
    return {};
}

Result<Straight8> render(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop, For purpose) {
    Straight8 frame(piece.frame);
    if (auto done = renderInto(frame, PixelRect::of(piece.frame), piece, kit, store, std::move(stop), purpose); !done)
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
    // In the same order, only layers that changed count; in another order, all those between the two.
    if (before.layers.size() == after.layers.size()) {
        for (std::size_t i = 0; i < before.layers.size(); ++i) {
            const Layer &a = before.layers[i], &b = after.layers[i];
            if (a.what == b.what && a.hidden == b.hidden && a.opacity == b.opacity) continue;
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

Result<Straight8> releaseFrame(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop) {
    auto frame = render(piece, kit, store, std::move(stop), For::release);
    if (frame && !isOpaque(*frame)) bleedColour(*frame);
    return frame;
}

int layerAt(const Piece& piece, InkStore& store, RealPoint point) {
    constexpr int least = 8;  // alpha, of 255, that can be aimed at
    for (auto layer = piece.layers.rbegin(); layer != piece.layers.rend(); ++layer) {
        if (!shown(*layer) || !boxOf(*layer).contains(point)) continue;
        const auto ink = store.keptInk(*layer, piece.frame);
        if (!ink || ink->opaque) return layer->id;
        const int x = static_cast<int>(std::floor(point.x)) - ink->box.left, y = static_cast<int>(std::floor(point.y)) - ink->box.top;
        if (x < 0 || y < 0 || x >= ink->box.width() || y >= ink->box.height()) continue;
        const int alpha = ink->eight ? alphaOf(ink->eight->row(y + ink->fromY)[x + ink->fromX]) : ink->sixteen->row(3, y)[x] / 257;
        if (alpha >= least) return layer->id;
    }
    return 0;
}

RealRect boxOf(const Layer& layer) {
    if (const auto* picture = layer.picture()) return picture->place;
    const auto& letters = *layer.lettering();
    const auto box = measure(letters);
    if (!box) return {letters.at.x, letters.at.y, letters.size, letters.size};
    return {letters.at.x + box->block.x, letters.at.y + box->block.y, box->block.width, box->block.height};
}

}  // namespace zl
