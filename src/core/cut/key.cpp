// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>
#include <vector>

#include "cut/cut.h"
#include "cut/regions.h"
#include "cut/unmix.h"
#include "raster/components.h"
#include "raster/plane.h"

namespace zl {
namespace {

constexpr double leastDrift = 2.5, leastGrain = 0.6;  // code values: less is a flat ground
constexpr double mostLeft =
    0.05;  // of the picture: more of nearly the ground's colour, and the ground is not flat

double distanceTo(const RealPoint& a, const RealPoint& b, double x, double y) {
    const double dx = b.x - a.x, dy = b.y - a.y, square = dx * dx + dy * dy;
    const double at =
        square > 0 ? std::clamp(((x - a.x) * dx + (y - a.y) * dy) / square, 0.0, 1.0) : 0.0;
    return std::hypot(x - a.x - at * dx, y - a.y - at * dy);
}

// The pixels that a box of real px touches.
PixelRect touched(const RealPoint& a, const RealPoint& b, double reach, PixelSize size) {
    const double left = std::min(a.x, b.x) - reach, top = std::min(a.y, b.y) - reach;
    return roundOutwards(
               {left, top, std::max(a.x, b.x) + reach - left, std::max(a.y, b.y) + reach - top})
        .intersected(PixelRect::of(size));
}

// Piece by piece, each in its own box: a long stroke costs its length, not its length times the
// area it winds through.
void brush(const Straight8& before, const Stroke& stroke, Straight8& out) {
    const auto& points = stroke.points;
    const double reach = stroke.radius + 1;
    PixelRect whole;
    for (const RealPoint& p : points) whole = whole.united(touched(p, p, reach, out.size()));
    if (whole.empty()) return;
    Plane covered(whole.size());
    for (std::size_t i = 0; i < points.size(); ++i) {
        const RealPoint a = points[i], b = points[std::min(i + 1, points.size() - 1)];
        const PixelRect box = touched(a, b, reach, out.size());
        for (int y = box.top; y < box.bottom; ++y)
            for (int x = box.left; x < box.right; ++x) {
                float& c = covered.row(y - whole.top)[x - whole.left];
                if (c >= 1) continue;
                c = std::max(
                    c, static_cast<float>(std::clamp(
                           stroke.radius + 0.5 - distanceTo(a, b, x + 0.5, y + 0.5), 0.0, 1.0)));
            }
    }
    for (int y = whole.top; y < whole.bottom; ++y)
        for (int x = whole.left; x < whole.right; ++x) {
            const double c = static_cast<double>(covered.row(y - whole.top)[x - whole.left]);
            if (c <= 0) continue;
            std::uint32_t& p = out.row(y)[x];
            const std::uint32_t was = before.row(y)[x];
            const double now = alphaOf(p), then = stroke.restores ? alphaOf(was) : 0;
            const auto alpha = static_cast<int>(std::lround(now + (then - now) * c));
            if (stroke.restores && c > 0.5) p = was;
            p = (p & 0xFFFFFF) | static_cast<std::uint32_t>(alpha) << 24;
        }
}

}  // namespace

KeyPlan keyPlanOf(const Straight8& picture, const KeyCut& key) {
    KeyPlan plan;
    const Background found = backgroundOf(picture);
    plan.background = found.colour;
    plan.share = found.share;
    plan.exact = found.exact;
    if (!found.exact)
        if (auto ground = groundOf(picture);
            ground && (ground->span > leastDrift || ground->grain > leastGrain)) {
            plan.background = ground->middle;
            plan.share = ground->share;
            plan.ground = withWhatIsLeft(picture, std::move(*ground));
        }
    if (key.colour) {
        const Colour c = *key.colour;
        const std::uint32_t asked = packed(c.red, c.green, c.blue, 255);
        // The colour that was asked for may be that of the ground: then its drift is known, too.
        if (!plan.ground || awayFrom(asked, plan.background) > plan.ground->span / 2 + 12) {
            plan.background = {static_cast<double>(c.red), static_cast<double>(c.green),
                               static_cast<double>(c.blue)};
            plan.ground.reset();
        }
        plan.share = 1;
    }
    plan.noise =
        noiseOf(plan.ground ? levelled(picture, *plan.ground) : picture.clone(), plan.background);
    if (plan.ground) {
        const double grain = plan.ground->grain;
        plan.noise.tolerance = std::max(plan.noise.tolerance, 2 + 3.6 * grain);
        plan.noise.lossy = plan.noise.lossy || grain > leastGrain;
        plan.noise.luma = std::max(plan.noise.luma, 0.8 * grain);
        plan.noise.chroma = std::max(plan.noise.chroma, 0.6 * grain);
    }
    if (key.tolerance) plan.noise.tolerance = *key.tolerance;
    return plan;
}

struct KeySight::Seen {
    KeyPlan plan;
    Straight8 level;
    Regions regions;
};

namespace {

// The drift that was taken out comes back into what is kept.
void bendBack(const Straight8& picture, const Straight8& level, const Regions& regions,
              const Ground& ground, Straight8& out) {
    const auto code = [](double v) { return static_cast<int>(std::clamp(v, 0.0, 255.0) + 0.5); };
    for (int y = 0; y < picture.height(); ++y) {
        const DriftRow drifts(ground, y);
        for (int x = 0; x < picture.width(); ++x) {
            std::uint32_t& p = out.row(y)[x];
            if (p == level.row(y)[x]) {
                p = picture.row(y)[x];
            } else if (alphaOf(p) > 0 && regions.row(y)[x] != Region::shadow) {
                const auto drift = drifts.at(x);
                p = packed(code(redOf(p) + drift[0]), code(greenOf(p) + drift[1]),
                           code(blueOf(p) + drift[2]), alphaOf(p));
            }
        }
    }
}

// Pieces that stand alone and have nothing clear in them. Without noise they are light ink.
void countSpots(const Straight8& level, const Regions& regions, const KeyPlan& plan, double high,
                KeyReport& report) {
    if (!plan.noise.lossy) return;
    constexpr long long fewest = 20;  // px: less is not seen
    const Components kept(level.size(), Neighbours::eight,
                          [&](int x, int y) { return regions.row(y)[x] != Region::background; });
    std::vector<char> clear(kept.all().size());
    for (const Components::Run& run : kept.runs())
        for (int x = run.from; x < run.to && !clear[static_cast<std::size_t>(run.component)]; ++x)
            clear[static_cast<std::size_t>(run.component)] =
                awayFrom(level.row(run.y)[x], plan.background) > 2 * high;
    for (std::size_t i = 0; i < clear.size(); ++i) {
        const long long pixels = kept.all()[i].pixels;
        if (clear[i] || pixels < fewest) continue;
        ++report.spots;
        report.spotsShare +=
            static_cast<double>(pixels) / static_cast<double>(level.size().count());
    }
}

}  // namespace

KeySight::KeySight(const Straight8& picture, KeyCut key)
    : picture_(picture), key_(std::move(key)), seen_(std::make_unique<const Seen>([&]() -> Seen {
          if (picture.empty()) return {{}, {}, Regions({})};
          KeyPlan plan = keyPlanOf(picture, key_);
          Straight8 level = plan.ground ? levelled(picture, *plan.ground) : picture.clone();
          Regions regions = plan.share > 0 ? regionsOf(level, key_, plan) : Regions(picture.size());
          return {std::move(plan), std::move(level), std::move(regions)};
      }())) {}

KeySight::~KeySight() = default;

Straight8 KeySight::cut(int threads, const std::stop_token& stop) const {
    if (picture_.empty()) return Straight8(picture_.size());
    const auto& [plan, level, regions] = *seen_;
    if (plan.share <= 0 || stop.stop_requested()) return picture_.clone();
    Straight8 out = unmixed(level, regions, plan, key_.shadow, threads, stop);
    if (plan.ground) bendBack(picture_, level, regions, *plan.ground, out);
    return brushed(picture_, std::move(out), key_.strokes);
}

Straight8 brushed(const Straight8& picture, Straight8 cut, std::span<const Stroke> strokes) {
    for (const Stroke& stroke : strokes) brush(picture, stroke, cut);
    return cut;
}

Straight8 keyed(const Straight8& picture, const KeyCut& key, int threads,
                const std::stop_token& stop) {
    return KeySight(picture, key).cut(threads, stop);
}

KeyReport reportOf(const Straight8& picture, const KeyCut& key) {
    return KeySight(picture, key).report();
}

KeyReport KeySight::report() const {
    KeyReport report;
    if (picture_.empty()) return report;
    const KeyPlan& plan = seen_->plan;
    const Straight8& level = seen_->level;
    const Regions& regions = seen_->regions;
    report.plan = plan;
    if (plan.share <= 0) {
        report.trouble = Message{"key.see-through", {}};
        return report;
    }
    const long long all = picture_.size().count();
    long long taken = 0, left = 0;
    const double high = std::max(ringing(plan.noise), 2 * plan.noise.tolerance);
    for (int y = 0; y < picture_.height(); ++y)
        for (int x = 0; x < picture_.width(); ++x) {
            const Region region = regions.row(y)[x];
            taken += region == Region::background;
            const double away = awayFrom(level.row(y)[x], plan.background);
            left += region == Region::ink && away <= high && away > plan.noise.tolerance;
        }
    report.left = static_cast<double>(left) / static_cast<double>(all);
    // Closed areas of the ground's colour, of some size: holes, or ink of that colour.
    const Components flat(picture_.size(), Neighbours::four, [&](int x, int y) {
        return regions.row(y)[x] == Region::ink &&
               awayFrom(level.row(y)[x], plan.background) <= plan.noise.tolerance;
    });
    for (const auto& area : flat.all())
        if (area.pixels >= leastHole(picture_.size())) {
            ++report.closed;
            report.closedShare += static_cast<double>(area.pixels) / static_cast<double>(all);
        }
    countSpots(level, regions, plan, high, report);
    if (taken == all)
        report.trouble = Message{"key.everything", {}};
    else if (!key_.colour && plan.share < sureShare) {
        report.trouble = Message{"key.guess", {std::llround(100 * plan.share)}};
        report.unsure = true;
    } else if (taken == 0)
        report.trouble = Message{"key.nothing", {}};
    else if (!key_.colour && !plan.exact && report.left > mostLeft) {
        report.trouble = Message{"key.left", {100 * report.left}};
        report.unsure = true;
    }
    return report;
}

std::vector<Message> notesOf(const KeyReport& report, const KeyCut& key) {
    constexpr double worthTelling = 0.01;  // less is told of nearly every key, of good ones too
    constexpr double spotted = 0.001;
    std::vector<Message> notes;
    if (report.closed == 1 && !key.everywhere) notes.push_back({"key.closed-one", {}});
    if (report.closed > 1 && !key.everywhere)
        notes.push_back({"key.closed", {static_cast<long long>(report.closed)}});
    if (report.spotsShare >= spotted)
        notes.push_back(
            {report.spots == 1 ? "key.spot" : "key.spots", {static_cast<long long>(report.spots)}});
    if (report.left >= worthTelling) notes.push_back({"key.near", {100 * report.left}});
    return notes;
}

}  // namespace zl
