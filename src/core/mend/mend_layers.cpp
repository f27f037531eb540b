// SPDX-License-Identifier: GPL-3.0-or-later
// Mends that move, scale or set aside layers.
#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "edit/edits.h"
#include "kit/layer_kinds.h"
#include "mend/mend_parts.h"
#include "raster/ink_box.h"
#include "raster/resample.h"
#include "readings/enlargement.h"
#include "readings/naming.h"
#include "readings/reading.h"
#include "readings/zones.h"

namespace zl {
namespace {

bool apart(const RealRect& a, const RealRect& b) {
    const RealRect both = a.intersected(b);
    return both.width <= 1e-6 || both.height <= 1e-6;
}

bool within(const RealRect& a, const RealRect& b) {
    return a.x >= b.x - 1e-6 && a.y >= b.y - 1e-6 && a.right() <= b.right() + 1e-6 &&
           a.bottom() <= b.bottom() + 1e-6;
}

struct Field {
    RealRect inside;
    std::vector<RealRect> obstacles;
};

// Where a layer may lie: `soft` takes the zones that are never worse than a watch along.
Field fieldFor(const Layer& layer, const Piece& piece, const Brief& brief, bool soft) {
    Field field{RealRect::of(piece.frame), {}};
    for (const Zone& zone : brief.zones) {
        if (zone.atMostWatch && !soft) continue;
        const RealRect place = inFrame(zone, piece.frame);
        if (zone.role == ZoneRole::keepClear)
            field.obstacles.push_back(place);
        else if (zone.role == ZoneRole::visible || asksOf(zone, layer))
            field.inside = field.inside.intersected(place);
    }
    return field;
}

}  // namespace

std::optional<RealPoint> shortestMove(const RealRect& box, const RealRect& inside,
                                      const std::vector<RealRect>& obstacles) {
    std::vector<double> across{0}, down{0};
    const auto add = [](std::vector<double>& to, double by) {
        to.push_back(std::ceil(by - 1e-9));  // whole px: the ink stays as sharp as it is
        to.push_back(std::floor(by + 1e-9));
    };
    add(across, inside.x - box.x);
    add(across, inside.right() - box.right());
    add(down, inside.y - box.y);
    add(down, inside.bottom() - box.bottom());
    for (const RealRect& o : obstacles) {
        add(across, o.x - box.right());
        add(across, o.right() - box.x);
        add(down, o.y - box.bottom());
        add(down, o.bottom() - box.y);
    }
    std::optional<RealPoint> best;
    for (const double dx : across)
        for (const double dy : down) {
            const RealRect there{box.x + dx, box.y + dy, box.width, box.height};
            if (!within(there, inside) ||
                !std::all_of(obstacles.begin(), obstacles.end(),
                             [&](const RealRect& o) { return apart(there, o); }))
                continue;
            if (!best || std::hypot(dx, dy) < std::hypot(best->x, best->y))
                best = RealPoint{dx, dy};
        }
    return best;
}

Result<Kit> intoZone(const PieceToMend& it) {
    Piece out = it.piece;
    bool moved = false;
    for (Layer& layer : out.layers) {
        if (layer.hidden || !isEssential(layer, out.frame)) continue;
        bool done = false;
        for (const bool soft : {true, false})
            for (int shrink = 0; shrink < 30 && !done; ++shrink) {
                // The layer as it is first, then 4 % smaller at each try, about its centre.
                const RealRect box = boxOf(layer);
                const double factor = std::pow(0.96, shrink);
                const Layer smaller =
                    shrink == 0 ? layer : scaled(layer, factor, factor, box.centre());
                const auto ink = it.store.ink(smaller, it.kit, out.frame, it.stop);
                if (!ink) return passOn(ink.error());
                if (ink->box.empty()) break;
                const Field field = fieldFor(smaller, out, it.brief, soft);
                const auto by = shortestMove(realOf(inkBoxOf(*ink, 1).value_or(ink->box)),
                                             field.inside, field.obstacles);
                if (!by) continue;
                const bool still = shrink == 0 && by->x == 0 && by->y == 0;
                done = true;
                if (still) continue;
                layer = zl::moved(smaller, by->x, by->y);
                moved = true;
            }
    }
    if (!moved)
        return fail(Code::limitNotMet, "There is no room in the zones to move to.",
                    "Make the layer smaller.");
    return withChangedPiece(it.kit, std::move(out));
}

Result<Kit> toReference(const PieceToMend& it) {
    Piece out = it.piece;
    for (Layer& layer : out.layers) {
        PictureLayer* picture = releasedPicture(layer);
        if (!picture) continue;
        const Asset* asset = it.kit.asset(picture->source);
        if (looksLikeReference(layer.name) || (asset && looksLikeReference(asset->name)))
            picture->reference = true;
    }
    return withChangedPiece(it.kit, std::move(out));
}

static double scaleOf(const PictureLayer& picture, const PieceToMend& it) {
    const Asset* asset = it.kit.asset(picture.source);
    if (!asset) return enlargementOf(picture, 1, {});
    const auto facts = it.store.facts(*asset);
    return enlargementOf(picture, it.store.timesDrawn(picture, *asset).value_or(1),
                         facts ? facts->held : SvgPictures{});
}

Result<Kit> scaleToSource(const PieceToMend& it) {
    Piece out = it.piece;
    const auto worst = [&] {
        double most = 0;
        for (const Layer& layer : out.layers)
            if (const PictureLayer* p = releasedPicture(layer))
                most = std::max(most, scaleOf(*p, it));
        return most;
    };
    // A multiple of the brief's frame is the first to go: all layers shrink alike.
    if (it.brief.frameRule == FrameRule::exact && out.frame.width > it.brief.frame.width &&
        worst() > 1 &&
        static_cast<long long>(out.frame.width) * it.brief.frame.height ==
            static_cast<long long>(out.frame.height) * it.brief.frame.width) {
        const double factor = static_cast<double>(it.brief.frame.width) / out.frame.width;
        out.frame = it.brief.frame;
        for (Layer& layer : out.layers) layer = scaled(layer, factor, factor, {0, 0});
        carryRegions(out, factor, factor, 0, 0);
    }
    for (Layer& layer : out.layers) {
        PictureLayer* picture = releasedPicture(layer);
        if (!picture || scaleOf(*picture, it) <= thresholds::enlargementPass) continue;
        const Asset* asset = it.kit.asset(picture->source);
        const auto facts =
            asset ? it.store.facts(*asset)
                  : Result<PictureFacts>(
                        fail(Code::unreadable, "The picture of a layer is missing in the kit."));
        if (!facts) return passOn(facts.error());
        // More of the original, in the same shape; what is still too large becomes smaller about
        // its centre.
        picture->crop =
            largestInside(RealRect::of(facts->size), picture->place.width, picture->place.height,
                          {picture->crop.centre().x / facts->size.width,
                           picture->crop.centre().y / facts->size.height});
        if (const double scale = scaleOf(*picture, it); scale > thresholds::enlargementPass)
            layer = scaled(layer, 1 / scale, 1 / scale, picture->place.centre());
    }
    return withChangedPiece(it.kit, std::move(out));
}

Result<Kit> padPiece(const PieceToMend& it) {
    Piece out = it.piece;
    out.frame = it.brief.frame;
    const RealRect inside =
        largestInside(RealRect::of(out.frame), it.piece.frame.width, it.piece.frame.height);
    const double factor = inside.width / it.piece.frame.width;
    for (Layer& layer : out.layers)
        layer = moved(scaled(layer, factor, factor, {0, 0}), inside.x, inside.y);
    carryRegions(out, factor, factor, inside.x, inside.y);
    return withChangedPiece(it.kit, std::move(out));
}

Result<Kit> keepAlpha(const PieceToMend& it) {
    Piece out = it.piece;
    out.release.format = FormatChoice::best;
    out.release.quality = 0;
    out.release.matte.reset();
    return withChangedPiece(it.kit, std::move(out));
}

std::uint32_t rimColour(const Picture& picture) {
    if (!picture.opaque) return 0;
    const Straight8& p = *picture.pixels;
    long long sums[3] = {0, 0, 0}, count = 0;
    const auto add = [&](std::uint32_t v) {
        sums[0] += redOf(v);
        sums[1] += greenOf(v);
        sums[2] += blueOf(v);
        ++count;
    };
    for (int x = 0; x < p.width(); ++x) {
        add(p.row(0)[x]);
        add(p.row(p.height() - 1)[x]);
    }
    for (int y = 0; y < p.height(); ++y) {
        add(p.row(y)[0]);
        add(p.row(y)[p.width() - 1]);
    }
    const auto mean = [&](int i) { return static_cast<int>((sums[i] + count / 2) / count); };
    return packed(mean(0), mean(1), mean(2), 255);
}

Straight8 padded(const Picture& picture, PixelSize frame, std::uint32_t pad) {
    RealRect place =
        largestInside(RealRect::of(frame), picture.pixels->width(), picture.pixels->height());
    // Whole px, so that no half-covered rim is left.
    place = {std::round(place.x), std::round(place.y), std::max(1.0, std::round(place.width)),
             std::max(1.0, std::round(place.height))};
    const auto ground = std::make_shared<Straight8>(Straight8::cleared(frame, pad));
    const Ink under{PixelRect::of(frame), ground, nullptr, 0, 0, alphaOf(pad) == 255, 1};
    const Ink ink = resampled(picture.pixels, picture.opaque, RealRect::of(picture.pixels->size()),
                              place, PixelRect::of(frame), coreCount());
    const std::array<Ink, 2> inks{under, ink};
    Straight8 out(frame);
    blendOver(inks, PixelRect::of(frame), out, coreCount());
    return out;
}

}  // namespace zl
