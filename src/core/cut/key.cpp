// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>
#include <vector>

#include "cut/cut.h"
#include "cut/edge_scan.h"
#include "cut/unmix.h"
#include "raster/components.h"
#include "raster/plane.h"

namespace zl {
namespace {

constexpr int darkest = 12;  // alpha: what is fainter counts as background of a picture that has alpha already

// Which pixels are background: flat and linked, or flat anywhere.
Regions regionsOf(const Straight8& picture, const KeyCut& key, const KeyPlan& plan) {
    Regions out(picture.size());
    const double tolerance = plan.noise.tolerance;
    const Components flat(picture.size(), Neighbours::four, [&](int x, int y) {
        const std::uint32_t p = picture.row(y)[x];
        return alphaOf(p) < darkest || awayFrom(p, plan.background) <= tolerance;
    });
    int linked = -1;
    if (key.from) {
        const int x = static_cast<int>(std::floor(key.from->x)), y = static_cast<int>(std::floor(key.from->y));
        for (const Components::Run& run : flat.runs())
            if (run.y == y && x >= run.from && x < run.to) linked = run.component;
    }
    for (const Components::Run& run : flat.runs()) {
        const bool reached = key.everywhere || (key.from ? run.component == linked : flat.of(run).touchesRim);
        if (reached) std::fill(out.row(run.y) + run.from, out.row(run.y) + run.to, Region::background);
    }
    return out;
}

// A soft shadow: smooth, darker than the background by one factor in all channels, and grown from it without a step.
void findShadow(const Straight8& picture, const KeyPlan& plan, Regions& regions) {
    const double tolerance = plan.noise.tolerance, stepAllowed = 10 + tolerance / 2;
    const auto& b = plan.background;
    const double square = b[0] * b[0] + b[1] * b[1] + b[2] * b[2];
    if (square < 900) return;  // nothing is darker than black
    const int w = picture.width(), h = picture.height();
    const auto shadowLike = [&](std::uint32_t p) {
        const double r = redOf(p), g = greenOf(p), bl = blueOf(p);
        const double left = (r * b[0] + g * b[1] + bl * b[2]) / square;
        constexpr double lightest = 0.03;
        return left < 1 && left > lightest &&
               std::max({std::abs(r - left * b[0]), std::abs(g - left * b[1]), std::abs(bl - left * b[2])}) <= 2 + tolerance;
    };
    const auto smooth = [&](int x, int y) {
        int low[3] = {255, 255, 255}, high[3] = {0, 0, 0};
        for (int sy = std::max(0, y - 1); sy <= std::min(h - 1, y + 1); ++sy)
            for (int sx = std::max(0, x - 1); sx <= std::min(w - 1, x + 1); ++sx)
                for (int c = 0; c < 3; ++c) {
                    const int v = static_cast<int>(picture.row(sy)[sx] >> 8 * c & 255u);
                    low[c] = std::min(low[c], v);
                    high[c] = std::max(high[c], v);
                }
        return std::max({high[0] - low[0], high[1] - low[1], high[2] - low[2]}) <= 2 * stepAllowed;
    };
    std::vector<Spot> todo;
    const auto offer = [&](int x, int y) {
        if (x < 0 || y < 0 || x >= w || y >= h || regions.row(y)[x] != Region::ink) return;
        if (!shadowLike(picture.row(y)[x]) || !smooth(x, y)) return;
        regions.row(y)[x] = Region::shadow;
        todo.push_back({x, y});
    };
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            if (regions.row(y)[x] != Region::ink) continue;
            const bool beside =
                (x > 0 && regions.row(y)[x - 1] == Region::background) || (x + 1 < w && regions.row(y)[x + 1] == Region::background) ||
                (y > 0 && regions.row(y - 1)[x] == Region::background) || (y + 1 < h && regions.row(y + 1)[x] == Region::background);
            if (beside) offer(x, y);
        }
    while (!todo.empty()) {
        const Spot spot = todo.back();
        todo.pop_back();
        offer(spot.x - 1, spot.y);
        offer(spot.x + 1, spot.y);
        offer(spot.x, spot.y - 1);
        offer(spot.x, spot.y + 1);
    }
    // Small and narrow patches are noise, or a soft edge.
    const Components patches(picture.size(), Neighbours::eight, [&](int x, int y) { return regions.row(y)[x] == Region::shadow; });
    constexpr long long leastPatch = 120;
    constexpr int leastWidth = 5;
    for (const Components::Run& run : patches.runs()) {
        const auto& patch = patches.of(run);
        const bool narrow = patch.pixels < leastPatch || patch.pixels < leastWidth * (patch.box.width() + patch.box.height());
        if (narrow) std::fill(regions.row(run.y) + run.from, regions.row(run.y) + run.to, Region::ink);
    }
}

double distanceTo(const RealPoint& a, const RealPoint& b, double x, double y) {
    const double dx = b.x - a.x, dy = b.y - a.y, square = dx * dx + dy * dy;
    const double at = square > 0 ? std::clamp(((x - a.x) * dx + (y - a.y) * dy) / square, 0.0, 1.0) : 0.0;
    return std::hypot(x - a.x - at * dx, y - a.y - at * dy);
}

// The pixels that a box of real px touches.
PixelRect touched(const RealPoint& a, const RealPoint& b, double reach, PixelSize size) {
    const double left = std::min(a.x, b.x) - reach, top = std::min(a.y, b.y) - reach;
    return roundOutwards({left, top, std::max(a.x, b.x) + reach - left, std::max(a.y, b.y) + reach - top}).intersected(PixelRect::of(size));
}

// Piece by piece, each in its own box: a long stroke costs its length, not its length times the area it winds through.
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
                c = std::max(c, static_cast<float>(std::clamp(stroke.radius + 0.5 - distanceTo(a, b, x + 0.5, y + 0.5), 0.0, 1.0)));
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

KeyPlan planOf(const Straight8& picture, const KeyCut& key) {
    KeyPlan plan;
    if (key.colour)
        plan.background = {static_cast<double>(key.colour->red), static_cast<double>(key.colour->green),
                           static_cast<double>(key.colour->blue)};
    else {
        const Background found = backgroundOf(picture);
        plan.background = found.colour;
        plan.share = found.share;
    }
    plan.noise = noiseOf(picture, plan.background);
    if (key.tolerance) plan.noise.tolerance = *key.tolerance;
    return plan;
}

Straight8 keyed(const Straight8& picture, const KeyCut& key, int threads, std::stop_token stop) {
    const KeyPlan plan = planOf(picture, key);
    if (picture.empty() || plan.share <= 0) return picture.clone();
    Regions regions = regionsOf(picture, key, plan);
    if (stop.stop_requested()) return picture.clone();
    findShadow(picture, plan, regions);
    Straight8 out = unmixed(picture, regions, plan, key.keepsShadow, threads, stop);
    for (const Stroke& stroke : key.strokes) brush(picture, stroke, out);
    return out;
}

std::optional<Message> troubleOf(const Straight8& picture, const KeyCut& key) {
    const KeyPlan plan = planOf(picture, key);
    if (plan.share <= 0) return Message{"key.see-through", {}};
    const Regions regions = regionsOf(picture, key, plan);
    long long taken = 0;
    for (int y = 0; y < picture.height(); ++y) taken += std::count(regions.row(y), regions.row(y) + picture.width(), Region::background);
    if (taken == picture.size().count()) return Message{"key.everything", {}};
    if (taken == 0) return Message{"key.nothing", {}};
    if (plan.share < sureShare) return Message{"key.guess", {std::llround(100 * plan.share)}};
    return {};
}

}  // namespace zl
