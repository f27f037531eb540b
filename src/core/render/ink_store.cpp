// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/ink_store.h"

#include <cmath>
#include <functional>

#include "bar/bar.h"
#include "base/overloads.h"
#include "base/parallel.h"
#include "cut/cut.h"
#include "cut/subject/subject.h"
#include "finish/finish.h"
#include "kit/layer_kinds.h"
#include "lettering/lettering.h"
#include "raster/resample.h"
#include "raster/turn.h"
#include "render/render.h"
#include "tone/tone.h"

namespace zl {
namespace {

std::size_t bytesOf(const Picture& picture) {
    return static_cast<std::size_t>(picture.pixels->size().count()) * sizeof(std::uint32_t);
}
// An 8-bit raster that something else holds, too, is that one's weight.
std::size_t bytesOf(const Ink& ink) {
    const bool own = ink.eight && ink.eight.use_count() <= 2;  // this ink, and the kept one
    return (ink.sixteen ? ink.sixteen->byteCount() : 0) +
           (own ? static_cast<std::size_t>(ink.eight->size().count()) * sizeof(std::uint32_t) : 0);
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

// What an ink is kept under, and where it lies.
struct Still {
    InkKey key;
    int dx = 0, dy = 0;
};

Still stillOf(const Layer& layer, PixelSize frame) {
    const RealPoint corner = cornerOf(layer), at = wholePart(corner.x, corner.y);
    Still still;
    still.dx = static_cast<int>(at.x);
    still.dy = static_cast<int>(at.y);
    Layer bare;
    bare.what = layer.what;
    if (PictureLayer* picture = bare.picture()) picture->reference = false;
    still.key.what = moved(std::move(bare), -at.x, -at.y).what;
    still.key.turn = layer.turn;
    still.key.finishes = layer.finishes;
    still.key.fonts = kindOf(layer).isText ? fontsInUse() : 0;
    RealRect bounds = inkBoundsOf(layer);
    if (bounds.area() <= 0) return still;
    const double reach = reachOf(layer.finishes);
    bounds = {bounds.x - reach, bounds.y - reach, bounds.width + 2 * reach,
              bounds.height + 2 * reach};
    still.key.want = wanted(bounds, frame).moved(-still.dx, -still.dy);
    return still;
}

}  // namespace

// A hash may leave things out; == does not.
std::size_t StoreHash::operator()(const PictureKey& key) const {
    std::size_t hash = std::hash<std::string>()(key.sha256);
    for (const double v : {key.tone.brightness, key.tone.contrast, key.tone.saturation,
                           key.tone.warmth, key.tone.tint, key.tone.clarity})
        hash = mixed(hash, std::hash<double>()(v));
    return mixed(mixed(mixed(hash, key.cuts.size()), key.veils.size()),
                 static_cast<std::size_t>(key.quarters + 4 * key.times));
}

std::size_t StoreHash::operator()(const SubjectKey& key) const {
    return mixed((*this)(key.picture), std::hash<double>()(key.box ? key.box->x : -1));
}

std::size_t StoreHash::operator()(const InkKey& key) const {
    const std::size_t own = std::visit(
        Overloads{[](const PictureLayer& p) {
                      return mixed(std::hash<std::string>()(p.source),
                                   std::hash<double>()(p.crop.x + p.crop.width));
                  },
                  [](const LetteringLayer& l) { return std::hash<std::string>()(l.text); },
                  [](const BarLayer& bar) { return std::hash<double>()(bar.radius); }},
        key.what);
    std::size_t hash = mixed(own, key.what.index());
    for (const int v : {key.want.left, key.want.top, key.want.right, key.want.bottom})
        hash = mixed(hash, static_cast<std::size_t>(v));
    return mixed(mixed(hash, key.finishes.size()), std::hash<double>()(key.turn.degrees));
}

std::size_t StoreHash::operator()(const MeasureKey& key) const {
    // The pixels have no hash that outlives them.
    std::size_t hash = key.what.hash_code();
    for (const int v : {key.fromX, key.fromY, key.size.width, key.size.height})
        hash = mixed(hash, static_cast<std::size_t>(v));
    return hash;
}

void InkStore::clear() {
    pictures_.clear();
    subjects_.clear();
    sights_.clear();
    inks_.clear();
    momentPictures_.clear();
    momentInks_.clear();
    measures_.clear();
}

template <>
bool InkStore::passes(const PictureKey& key) {
    return momentNamed(key.sha256).has_value();
}
template <>
bool InkStore::passes(const InkKey& key) {
    const auto* picture = std::get_if<PictureLayer>(&key.what);
    return picture && momentNamed(picture->source);
}

template <class Make>
Result<std::shared_ptr<const Picture>> InkStore::kept(const PictureKey& key,
                                                      const std::string& name,
                                                      const std::stop_token& stop,
                                                      const Make& make) {
    return (passes(key) ? momentPictures_ : pictures_)
        .get(key, name, stop, make, [](const auto& picture) { return bytesOf(*picture); });
}

template <class Make>
Result<Ink> InkStore::kept(const InkKey& key, const std::string& name, const std::stop_token& stop,
                           const Make& make) {
    return (passes(key) ? momentInks_ : inks_).get(key, name, stop, make, [](const Ink& ink) {
        return bytesOf(ink);
    });
}

Result<std::shared_ptr<const Picture>> InkStore::picture(const Asset& asset,
                                                         const std::stop_token& stop) {
    if (const auto moment = momentNamed(asset.sha256))
        return clips_->frame(moment->file, moment->number, stop, moment->quick);
    const auto make = [&]() -> Result<std::shared_ptr<const Picture>> {
        auto made = decode(*asset.bytes, asset.name);
        if (!made) return passOn(made.error());
        return std::make_shared<const Picture>(std::move(*made));
    };
    return kept(PictureKey{asset.sha256}, asset.name, stop, make);
}

bool isDrawnToSize(const PictureLayer& layer, const Asset& asset) {
    return layer.veils.empty() && asset.bytes && sniff(*asset.bytes) == Content::svg &&
           std::none_of(layer.cuts.begin(), layer.cuts.end(), changesPixels);
}

Result<std::shared_ptr<const Picture>> InkStore::drawn(const Asset& asset, int times,
                                                       const std::stop_token& stop) {
    const auto own = picture(asset, stop);
    if (!own || times == 1) return own;
    const PixelSize size = (*own)->pixels->size(), large{size.width * times, size.height * times};
    return kept({asset.sha256, times}, asset.name, stop,
                [&]() -> Result<std::shared_ptr<const Picture>> {
                    auto made = decodeFor(large, *asset.bytes, asset.name);
                    if (!made) return passOn(made.error());
                    return std::make_shared<const Picture>(std::move(*made));
                });
}

Result<int> InkStore::timesDrawn(const PictureLayer& layer, const Asset& asset,
                                 const std::stop_token& stop) {
    constexpr long long most = 40'000'000;  // px
    if (!isDrawnToSize(layer, asset)) return 1;
    const auto own = picture(asset, stop);
    if (!own) return passOn(own.error());
    const double wanted =
        std::max(layer.place.width / layer.crop.width, layer.place.height / layer.crop.height);
    int times = 1;
    while (times < wanted * (1 - 1e-9) &&
           (*own)->pixels->size().count() * 4 * times * times <= most)
        times *= 2;
    return times;
}

Result<PictureFacts> InkStore::facts(const Asset& asset) {
    if (momentNamed(asset.sha256)) {
        const auto frame = picture(asset);
        if (!frame) return passOn(frame.error());
        return (*frame)->facts;
    }
    if (const auto kept = pictures_.kept({asset.sha256})) return (*kept)->facts;
    return readFacts(*asset.bytes, asset.name);
}

namespace {

// A picture whose pixels were changed.
Result<std::shared_ptr<const Picture>> changedPicture(
    const Picture& before, const std::stop_token& stop,
    const std::function<Result<Straight8>(const Straight8&)>& change) {
    Result<Straight8> pixels = change(*before.pixels);
    if (!pixels) return passOn(pixels.error());
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    Picture changed{before.facts, nullptr, before.opaque};
    changed.pixels = std::make_shared<const Straight8>(std::move(*pixels));
    changed.opaque = isOpaque(*changed.pixels);
    return std::make_shared<const Picture>(std::move(changed));
}

}  // namespace

Result<std::shared_ptr<const SubjectStart>> InkStore::startOf(const PictureKey& key,
                                                              const Picture& picture,
                                                              const SubjectCut& cut,
                                                              const std::string& name,
                                                              const std::stop_token& stop) {
    return subjects_.get(
        {key, cut.box}, name, stop,
        [&] { return zl::subjectStart(*picture.pixels, cut.box, coreCount(), stop); },
        [](const auto&) { return std::size_t{4'000'000}; });
}

struct InkStore::Sight {
    std::shared_ptr<const Straight8> picture;
    KeySight key;
};

// `key` ends with the key, without its strokes.
Result<std::shared_ptr<const InkStore::Sight>> InkStore::sightOf(
    const PictureKey& key, const std::shared_ptr<const Picture>& picture, const std::string& name,
    const std::stop_token& stop) {
    return sights_.get(
        key, name, stop,
        [&]() -> Result<std::shared_ptr<const Sight>> {
            const auto pixels = picture->pixels;
            return std::shared_ptr<const Sight>(
                new Sight{pixels, KeySight(*pixels, *key.cuts.back().key())});
        },
        [](const auto& sight) {
            return static_cast<std::size_t>(sight->picture->size().count()) * 5;
        });
}

// What comes before a key, and the key without its strokes, which change nothing of what it sees.
static PictureKey withBareKey(PictureKey before, const KeyCut& key) {
    KeyCut bare = key;
    bare.strokes.clear();
    before.cuts.push_back(Cut{std::move(bare)});
    return before;
}

// Keyed first, then brushed: one stroke more does not key the picture again.
Result<std::shared_ptr<const Picture>> InkStore::keyedPicture(
    const PictureKey& before, const Cut& cut, const std::shared_ptr<const Picture>& picture,
    const std::string& name, const std::stop_token& stop) {
    const PictureKey bare = withBareKey(before, *cut.key());
    const auto keyed = kept(bare, name, stop, [&]() -> Result<std::shared_ptr<const Picture>> {
        const auto sight = sightOf(bare, picture, name, stop);
        if (!sight) return passOn(sight.error());
        return changedPicture(*picture, stop, [&](const Straight8&) -> Result<Straight8> {
            return (*sight)->key.cut(coreCount(), stop);
        });
    });
    if (!keyed || cut.key()->strokes.empty()) return keyed;
    PictureKey key = before;
    key.cuts.push_back(cut);
    return kept(key, name, stop, [&] {
        return changedPicture(*picture, stop, [&](const Straight8& p) -> Result<Straight8> {
            return brushed(p, (*keyed)->pixels->clone(), cut.key()->strokes);
        });
    });
}

Result<KeyReport> InkStore::keyReport(const Asset& asset, std::span<const Cut> cuts,
                                      std::size_t index, const std::stop_token& stop) {
    const auto before = cuts.first(index);
    const auto from = cutPicture(asset, before, stop);
    if (!from) return passOn(from.error());
    PictureKey key{asset.sha256};
    std::copy_if(before.begin(), before.end(), std::back_inserter(key.cuts), changesPixels);
    const auto sight =
        sightOf(withBareKey(std::move(key), *cuts[index].key()), *from, asset.name, stop);
    if (!sight) return passOn(sight.error());
    return (*sight)->key.report();
}

Result<std::shared_ptr<const Picture>> InkStore::cutPicture(const Asset& asset,
                                                            std::span<const Cut> cuts,
                                                            const std::stop_token& stop) {
    PictureKey key{asset.sha256};
    auto now = picture(asset, stop);
    // Each is a stage of its own: another stroke leaves those before it alone.
    for (const Cut& cut : cuts) {
        if (!now) return now;
        if (!changesPixels(cut)) continue;
        const PictureKey before = key;
        key.cuts.push_back(cut);
        if (cut.key()) {
            now = keyedPicture(before, cut, *now, asset.name, stop);
            continue;
        }
        const auto make = [&, from = *now]() -> Result<std::shared_ptr<const Picture>> {
            std::shared_ptr<const SubjectStart> start;
            if (cut.subject()) {
                const auto begun = startOf(before, *from, *cut.subject(), asset.name, stop);
                if (!begun) return passOn(begun.error());
                start = *begun;
            }
            return changedPicture(*from, stop, [&](const Straight8& p) {
                return oneCut(p, cut, start.get(), coreCount(), stop);
            });
        };
        now = kept(key, asset.name, stop, make);
    }
    return now;
}

Result<std::shared_ptr<const SubjectStart>> InkStore::subjectStart(const Asset& asset,
                                                                   std::span<const Cut> cuts,
                                                                   std::size_t index,
                                                                   const std::stop_token& stop) {
    const auto before = cuts.first(index);
    const auto from = cutPicture(asset, before, stop);
    if (!from) return passOn(from.error());
    PictureKey key{asset.sha256};
    std::copy_if(before.begin(), before.end(), std::back_inserter(key.cuts), changesPixels);
    return startOf(key, **from, *cuts[index].subject(), asset.name, stop);
}

Result<std::shared_ptr<const Picture>> InkStore::prepared(const Asset& asset,
                                                          const PictureLayer& layer, int times,
                                                          int quarters, const Turn& turn,
                                                          const std::stop_token& stop) {
    PictureKey key{asset.sha256, times};
    std::copy_if(layer.cuts.begin(), layer.cuts.end(), std::back_inserter(key.cuts), changesPixels);
    auto now = times > 1 ? drawn(asset, times, stop) : cutPicture(asset, layer.cuts, stop);
    // One stage more: its key is that of the stage before and what is done now.
    const auto next = [&](const auto& change) {
        if (!now) return;
        now = kept(key, asset.name, stop,
                   [&, before = *now] { return changedPicture(*before, stop, change); });
    };
    key.veils = layer.veils;
    if (!key.veils.empty())
        next([&](const Straight8& p) { return veiled(p, key.veils, coreCount()); });
    key.tone = layer.tone;
    if (!key.tone.neutral())
        next([&](const Straight8& p) { return toned(p, key.tone, coreCount(), stop); });
    key.quarters = quarters;
    key.flipX = turn.flipX;
    key.flipY = turn.flipY;
    if (quarters != 0 || turn.flipX || turn.flipY)
        next([&](const Straight8& p) {
            return turnedQuarters(p, quarters, turn.flipX, turn.flipY);
        });
    return now;
}

// A part of a picture of the size `own`, in px of how it was drawn: larger, and turned.
static RealRect partDrawn(const RealRect& part, PixelSize own, int quarters, PixelSize drawn) {
    if (quarters % 2 != 0) std::swap(own.width, own.height);
    const double sx = static_cast<double>(drawn.width) / own.width,
                 sy = static_cast<double>(drawn.height) / own.height;
    return {part.x * sx, part.y * sy, part.width * sx, part.height * sy};
}

Result<Ink> InkStore::pictureInk(const PictureLayer& layer, const Turn& turn, const Kit& kit,
                                 PixelRect want, const std::stop_token& stop) {
    const Asset* asset = kit.asset(layer.source);
    Asset frame;
    if (const auto moment = momentNamed(layer.source); moment && clips_) {
        frame = {layer.source, moment->file, nullptr};
        asset = &frame;
    } else if (!asset || !asset->bytes)
        return fail(Code::unreadable, "The picture of a layer is missing in the kit.",
                    "Bring it in again.");
    // Quarter turns and mirrors move pixels; only what is left of the angle is resampled.
    const double nearest = std::round(turn.degrees / 90), rest = turn.degrees - nearest * 90;
    const int quarters = ((static_cast<int>(nearest) % 4) + 4) % 4;
    const auto times = timesDrawn(layer, *asset, stop);
    if (!times) return passOn(times.error());
    const auto source = prepared(*asset, layer, *times, quarters, turn, stop);
    if (!source) return passOn(source.error());
    RealRect crop = layer.crop, place = layer.place;
    PixelSize originalSize;
    if (*times > 1 || quarters != 0 || turn.flipX || turn.flipY) {
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
    const RealRect part =
        *times > 1 ? partDrawn(crop, originalSize, quarters, (*source)->pixels->size()) : crop;
    const auto laid = [&](const RealRect& box, PixelRect shown) {
        return cutTo(
            resampled((*source)->pixels, (*source)->opaque, part, box, shown, coreCount(), stop),
            box);
    };
    if (std::abs(rest) < 1e-9) return laid(place, want);
    const PixelSize level{std::max(1, static_cast<int>(std::lround(place.width))),
                          std::max(1, static_cast<int>(std::lround(place.height)))};
    constexpr long long most = 60'000'000;
    if (level.count() > most)
        return fail(Code::badUsage, "A picture that large cannot be turned.",
                    "Make it smaller, or turn it by 90 degrees.");
    const Ink upright = laid(RealRect::of(level), PixelRect::of(level));
    return turned(upright, place, rest, want, coreCount(), stop);
}

std::optional<Ink> InkStore::keptInk(const Layer& layer, PixelSize frame) {
    if (kindOf(layer).isText) return {};  // its bounds would be asked of its font
    const Still still = stillOf(layer, frame);
    auto there = (passes(still.key) ? momentInks_ : inks_).kept(still.key);
    return there ? std::optional(there->moved(still.dx, still.dy)) : std::nullopt;
}

Result<Ink> InkStore::bareInk(const InkKey& key, const Kit& kit, const std::stop_token& stop) {
    const auto make = [&]() -> Result<Ink> {
        auto made = std::visit(
            Overloads{
                [&](const PictureLayer& p) { return pictureInk(p, key.turn, kit, key.want, stop); },
                [&](const BarLayer& bar) { return drawBar(bar, key.turn, key.want); },
                [&](const LetteringLayer& l) { return drawLettering(l, key.turn, key.want); }},
            key.what);
        if (made && stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        return made;
    };
    return kept(key, "A layer", stop, make);
}

Result<Ink> InkStore::ink(const Layer& layer, const Kit& kit, PixelSize frame,
                          std::stop_token stop) {
    if (kindOf(layer).isText) useFontsOf(kit);
    const Still still = stillOf(layer, frame);
    if (still.key.want.empty()) return Ink{};
    const auto dressed = [&](const Result<Ink>& ink) -> Result<Ink> {
        if (!ink) return passOn(ink.error());
        Ink out = ink->moved(still.dx, still.dy);
        out.opacity = static_cast<float>(layer.opacity);
        out.blend = static_cast<BlendMode>(layer.blend);
        return out;
    };
    const bool plain = std::all_of(layer.finishes.begin(), layer.finishes.end(),
                                   [](const Finish& f) { return f.off; });
    // All ink that a finish within what is wanted can come from.
    InkKey bare = still.key;
    bare.finishes.clear();
    const int reach = plain ? 0 : static_cast<int>(std::ceil(reachOf(layer.finishes)));
    bare.want.left -= reach;
    bare.want.top -= reach;
    bare.want.right += reach;
    bare.want.bottom += reach;
    if (plain) return dressed(bareInk(bare, kit, stop));
    const auto make = [&]() -> Result<Ink> {
        auto made = bareInk(bare, kit, stop);
        if (!made || made->box.empty()) return made;
        Ink whole = finished(*made, layer.finishes, still.key.want, coreCount(), stop);
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        return whole;
    };
    return dressed(kept(still.key, layer.name.empty() ? "A layer" : layer.name, stop, make));
}

}  // namespace zl
