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

constexpr double leastDrift = 2.5, leastGrain = 0.6;  // code values: less is a flat ground
constexpr double mostLeft = 0.05;                     // of the picture: more of nearly the ground's colour, and the ground is not flat

// How far from the background, code values, a noisy picture's own ringing and strays may be.
double ringing(const Noise& noise) {
    return std::clamp(2.2 * noise.tolerance + 6, 12.0, 40.0);
}

// px: a closed area of the ground's colour that is smaller is a glint.
long long leastHole(PixelSize size) {
    return std::max(30LL, size.count() / 4000);
}

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
        const bool reached = (key.everywhere && (flat.of(run).touchesRim || flat.of(run).pixels >= leastHole(picture.size()))) ||
                             (key.from ? run.component == linked : flat.of(run).touchesRim);
        if (reached) std::fill(out.row(run.y) + run.from, out.row(run.y) + run.to, Region::background);
    }
    return out;
}

// A soft shadow: smooth, darker than the background by one factor in all channels, and grown from it without a step, darker and darker.
class ShadowSearch {
  public:
    ShadowSearch(const Straight8& picture, const KeyPlan& plan, Regions& regions)
        : picture_(picture), regions_(regions), noise_(plan.noise), b_(plan.background), tolerance_(plan.noise.tolerance) {
        square_ = b_[0] * b_[0] + b_[1] * b_[1] + b_[2] * b_[2];
    }

    void run() {
        if (square_ < 900) return;  // nothing is darker than black
        grow();
        leaveSmallOrCrisp();
    }

  private:
    static constexpr int look = 6;  // px inwards, to see whether it goes on getting darker

    // How much of the background's light is left, 0..1; nothing where the colour is no darkened background.
    std::optional<double> lightLeft(int x, int y) const {
        const std::uint32_t p = picture_.row(y)[x];
        const double r = redOf(p), g = greenOf(p), bl = blueOf(p);
        const double left = (r * b_[0] + g * b_[1] + bl * b_[2]) / square_;
        constexpr double least = 0.03;
        if (left >= 1 || left <= least) return {};
        if (std::max({std::abs(r - left * b_[0]), std::abs(g - left * b_[1]), std::abs(bl - left * b_[2])}) > 2 + 1.6 * tolerance_)
            return {};
        return left;
    }
    bool isSmooth(int x, int y) const {
        std::array<int, 3> low{255, 255, 255}, high{0, 0, 0};
        for (int sy = std::max(0, y - 1); sy <= std::min(picture_.height() - 1, y + 1); ++sy)
            for (int sx = std::max(0, x - 1); sx <= std::min(picture_.width() - 1, x + 1); ++sx)
                for (std::size_t c = 0; c < 3; ++c) {
                    const int v = static_cast<int>(picture_.row(sy)[sx] >> 8 * c & 255u);
                    low[c] = std::min(low[c], v);
                    high[c] = std::max(high[c], v);
                }
        return std::max({high[0] - low[0], high[1] - low[1], high[2] - low[2]}) <= 2 * (10 + tolerance_ / 2);
    }
    double away(int x, int y) const { return awayFrom(picture_.row(y)[x], b_); }
    Region at(int x, int y) const { return regions_.row(y)[x]; }
    bool besideBackground(int x, int y) const {
        const int w = picture_.width(), h = picture_.height();
        return (x > 0 && at(x - 1, y) == Region::background) || (x + 1 < w && at(x + 1, y) == Region::background) ||
               (y > 0 && at(x, y - 1) == Region::background) || (y + 1 < h && at(x, y + 1) == Region::background);
    }

    void offer(int x, int y, double outside) {
        if (x < 0 || y < 0 || x >= picture_.width() || y >= picture_.height() || at(x, y) != Region::ink) return;
        // What is lighter again than the shadow that led here is ink that stands in it.
        if (away(x, y) < outside - 1 - tolerance_ || !lightLeft(x, y) || !isSmooth(x, y)) return;
        regions_.row(y)[x] = Region::shadow;
        todo_.push_back({x, y});
    }
    void grow() {
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                if (at(x, y) == Region::ink && besideBackground(x, y)) offer(x, y, 0);
        for (std::size_t i = 0; i < todo_.size(); ++i) {
            const Spot s = todo_[i];
            const double own = away(s.x, s.y);
            offer(s.x - 1, s.y, own);
            offer(s.x + 1, s.y, own);
            offer(s.x, s.y - 1, own);
            offer(s.x, s.y + 1, own);
        }
    }

    double mostAway(int x, int y, int reach) const {
        double most = 0;
        for (int sy = std::max(0, y - reach); sy <= std::min(picture_.height() - 1, y + reach); ++sy)
            for (int sx = std::max(0, x - reach); sx <= std::min(picture_.width() - 1, x + reach); ++sx)
                if (at(sx, sy) == Region::shadow) most = std::max(most, away(sx, sy));
        return most;
    }
    // Small and narrow patches are noise, or a soft edge; those that begin as dark as they go on are light ink with a crisp edge.
    void leaveSmallOrCrisp() {
        const Components patches(picture_.size(), Neighbours::eight, [&](int x, int y) { return at(x, y) == Region::shadow; });
        struct Rim {
            long long all = 0, crisp = 0;
            double darkest = 0;
        };
        std::vector<Rim> rims(patches.all().size());
        for (const Components::Run& run : patches.runs())
            for (int x = run.from; x < run.to; ++x) {
                Rim& rim = rims[static_cast<std::size_t>(run.component)];
                rim.darkest = std::max(rim.darkest, away(x, run.y));
                if (!besideBackground(x, run.y)) continue;
                ++rim.all;
                constexpr double alike = 0.7;
                rim.crisp += mostAway(x, run.y, 2) >= alike * mostAway(x, run.y, look) + 1;
            }
        constexpr long long leastPatch = 120;
        constexpr int leastWidth = 5;
        for (const Components::Run& run : patches.runs()) {
            const auto& patch = patches.of(run);
            const Rim& rim = rims[static_cast<std::size_t>(run.component)];
            const bool narrow = patch.pixels < leastPatch || patch.pixels < leastWidth * (patch.box.width() + patch.box.height());
            // A JPEG's ringing on white is grey, too.
            const bool rings = noise_.lossy && rim.darkest <= ringing(noise_);
            if (rings)
                std::fill(regions_.row(run.y) + run.from, regions_.row(run.y) + run.to, Region::background);
            else if (narrow || 2 * rim.crisp > rim.all)
                std::fill(regions_.row(run.y) + run.from, regions_.row(run.y) + run.to, Region::ink);
        }
    }

    const Straight8& picture_;
    Regions& regions_;
    const Noise& noise_;
    std::array<double, 3> b_;
    double tolerance_, square_ = 0;
    std::vector<Spot> todo_;
};

// What noise has left of the background, near ink or alone: a JPEG's blocks ring, a grain has its strays. It is near the background's
// colour and no clear ink is beside it.
void takeLeftovers(const Straight8& picture, const KeyPlan& plan, Regions& regions) {
    if (!plan.noise.lossy) return;
    const double high = ringing(plan.noise);
    const int w = picture.width(), h = picture.height(), beside = plan.noise.halfChroma ? 1 : 1;
    // Clear ink, in pieces of some pixels; and how far each pixel is from it along its row, then along its column.
    const Components clear(picture.size(), Neighbours::eight, [&](int x, int y) {
        return regions.row(y)[x] == Region::ink && awayFrom(picture.row(y)[x], plan.background) > high;
    });
    constexpr long long leastPiece = 6;
    std::vector<std::uint8_t> inkRow(static_cast<std::size_t>(picture.size().count())), near(inkRow.size());
    const auto place = [&](int x, int y) {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x);
    };
    bool any = false;
    for (const Components::Run& run : clear.runs()) {
        if (clear.of(run).pixels < leastPiece) continue;
        any = true;
        for (int x = std::max(0, run.from - beside); x < std::min(w, run.to + beside); ++x) inkRow[place(x, run.y)] = 1;
    }
    if (!any) return;  // all ink is as faint as what noise leaves
    for (int y = 0; y < h; ++y)
        for (int sy = std::max(0, y - beside); sy <= std::min(h - 1, y + beside); ++sy)
            for (int x = 0; x < w; ++x) near[place(x, y)] |= inkRow[place(x, sy)];
    // Strays are small; light ink goes on.
    const Components strays(picture.size(), Neighbours::eight, [&](int x, int y) {
        return regions.row(y)[x] == Region::ink && !near[place(x, y)] && awayFrom(picture.row(y)[x], plan.background) <= 2 * high;
    });
    constexpr long long largestStray = 64;  // px: a block
    constexpr int thin = 3;                 // px: a line along the edge of ink
    for (const Components::Run& run : strays.runs())
        if (const auto& stray = strays.of(run);
            stray.pixels <= largestStray || stray.pixels <= thin * std::max(stray.box.width(), stray.box.height()))
            std::fill(regions.row(run.y) + run.from, regions.row(run.y) + run.to, Region::background);
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
    const Background found = backgroundOf(picture);
    plan.background = found.colour;
    plan.share = found.share;
    plan.exact = found.exact;
    if (!found.exact)
        if (auto ground = groundOf(picture); ground && (ground->span > leastDrift || ground->grain > leastGrain)) {
            plan.background = ground->middle;
            plan.share = ground->share;
            plan.ground = std::move(ground);
        }
    if (key.colour) {
        const Colour c = *key.colour;
        const std::uint32_t asked = packed(c.red, c.green, c.blue, 255);
        // The colour that was asked for may be that of the ground: then its drift is known, too.
        if (!plan.ground || awayFrom(asked, plan.background) > plan.ground->span / 2 + 12) {
            plan.background = {static_cast<double>(c.red), static_cast<double>(c.green), static_cast<double>(c.blue)};
            plan.ground.reset();
        }
        plan.share = 1;
    }
    plan.noise = noiseOf(plan.ground ? levelled(picture, *plan.ground) : picture.clone(), plan.background);
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

namespace {

// What a key sees: its plan, the picture on a level ground, and what is ink, background and shadow there.
struct Seen {
    KeyPlan plan;
    Straight8 level;
    Regions regions;
};

Seen seenBy(const Straight8& picture, const KeyCut& key) {
    KeyPlan plan = planOf(picture, key);
    Straight8 level = plan.ground ? levelled(picture, *plan.ground) : picture.clone();
    Regions regions = plan.share > 0 ? regionsOf(level, key, plan) : Regions(picture.size());
    if (plan.share > 0) {
        if (key.shadow != KeyShadow::off) ShadowSearch(level, plan, regions).run();
        takeLeftovers(level, plan, regions);
    }
    return {std::move(plan), std::move(level), std::move(regions)};
}

// The drift that was taken out comes back into what is kept.
void bendBack(const Straight8& picture, const Seen& seen, Straight8& out) {
    const auto code = [](double v) { return static_cast<int>(std::lround(std::clamp(v, 0.0, 255.0))); };
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            std::uint32_t& p = out.row(y)[x];
            if (p == seen.level.row(y)[x]) {
                p = picture.row(y)[x];
            } else if (alphaOf(p) > 0 && seen.regions.row(y)[x] != Region::shadow) {
                const auto drift = seen.plan.ground->driftAt(x, y);
                p = packed(code(redOf(p) + drift[0]), code(greenOf(p) + drift[1]), code(blueOf(p) + drift[2]), alphaOf(p));
            }
        }
}

}  // namespace

Straight8 keyed(const Straight8& picture, const KeyCut& key, int threads, std::stop_token stop) {
    if (picture.empty()) return picture.clone();
    const Seen seen = seenBy(picture, key);
    if (seen.plan.share <= 0 || stop.stop_requested()) return picture.clone();
    Straight8 out = unmixed(seen.level, seen.regions, seen.plan, key.shadow == KeyShadow::keep, threads, stop);
    if (seen.plan.ground) bendBack(picture, seen, out);
    for (const Stroke& stroke : key.strokes) brush(picture, stroke, out);
    return out;
}

KeyReport reportOf(const Straight8& picture, const KeyCut& key) {
    KeyReport report;
    if (picture.empty()) return report;
    const Seen seen = seenBy(picture, key);
    report.plan = seen.plan;
    if (seen.plan.share <= 0) {
        report.trouble = Message{"key.see-through", {}};
        return report;
    }
    const long long all = picture.size().count();
    long long taken = 0, left = 0;
    const double high = std::max(ringing(seen.plan.noise), 2 * seen.plan.noise.tolerance);
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const Region region = seen.regions.row(y)[x];
            taken += region == Region::background;
            const double away = awayFrom(seen.level.row(y)[x], seen.plan.background);
            left += region == Region::ink && away <= high && away > seen.plan.noise.tolerance;
        }
    report.left = static_cast<double>(left) / static_cast<double>(all);
    // Closed areas of the ground's colour, of some size: holes, or ink of that colour.
    const Components flat(picture.size(), Neighbours::four, [&](int x, int y) {
        return seen.regions.row(y)[x] == Region::ink && awayFrom(seen.level.row(y)[x], seen.plan.background) <= seen.plan.noise.tolerance;
    });
    for (const auto& area : flat.all())
        if (area.pixels >= leastHole(picture.size())) {
            ++report.closed;
            report.closedShare += static_cast<double>(area.pixels) / static_cast<double>(all);
        }
    if (taken == all)
        report.trouble = Message{"key.everything", {}};
    else if (taken == 0)
        report.trouble = Message{"key.nothing", {}};
    else if (!key.colour && seen.plan.share < sureShare) {
        report.trouble = Message{"key.guess", {std::llround(100 * seen.plan.share)}};
        report.unsure = true;
    } else if (!seen.plan.exact && report.left > mostLeft) {
        report.trouble = Message{"key.left", {100 * report.left}};
        report.unsure = true;
    }
    return report;
}

std::optional<Message> troubleOf(const Straight8& picture, const KeyCut& key) {
    return reportOf(picture, key).trouble;
}

}  // namespace zl
