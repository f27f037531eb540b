// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/unmix.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "base/parallel.h"
#include "cut/code_vec.h"
#include "cut/drawn_rims.h"
#include "cut/edge_net.h"
#include "cut/edge_scan.h"
#include "raster/plane.h"

namespace zl {
namespace {

using Vec = CodeVec;

struct Solved {
    double alpha = 1;
    Vec ink{}, ground{};  // F and B
    bool shade = false;   // a thin shadow's black
};

class Unmixer {
  public:
    Unmixer(const Straight8& picture, const Regions& regions, const KeyPlan& plan, KeyShadow shadow)
        : picture_(picture),
          regions_(regions),
          plan_(plan),
          shadow_(shadow),
          depth_(static_cast<std::size_t>(picture.size().count()), deep) {
        const Noise& noise = plan.noise;
        // Errors are weighed by how much each channel is off: in a JPEG with halved chroma the luma
        // knows better.
        constexpr double rounding = 0.3;
        luma_ = 1 / std::hypot(noise.luma, rounding);
        unsure_ = noise.halfChroma ? 4 : noise.lossy ? 3 : 2;
        findDepths();
    }

    // The pixels that have to be solved: edge pixels, and the background beside them where noise
    // hides the edge's foot.
    const std::vector<Spot>& unknown() const { return unknown_; }
    int depthOf(Spot spot) const { return depth_[at(spot.x, spot.y)]; }
    // These pixels are solid ink, whose colour others may have.
    void takeAsInk(const DrawnRims& rims) {
        for (const Spot& spot : rims.whole()) depth_[at(spot.x, spot.y)] = deep;
        for (const Spot& spot : rims.rim()) depth_[at(spot.x, spot.y)] = drawn;
        std::erase_if(unknown_, [&](const Spot& spot) { return isClean(spot.x, spot.y); });
    }

    Solved solve(int x, int y) const {
        Solved solved = byInk(x, y);
        if (!plan_.noise.halfChroma && !solved.shade && depth_[at(x, y)] == 1) {
            // The farthest of noisy pixels is farther than the ink is.
            const double noise = plan_.noise.lossy ? 0.1 : 0;
            const auto rim = rimNear(x, y, solved.ground, 0);
            if (rim && rim->alpha < solved.alpha - noise) return *rim;
        }
        return solved;
    }

    // The colour that is left when the background is taken out, unless it is the ink's but for
    // noise.
    Vec colourAt(int x, int y, const Solved& solved) const {
        if (solved.alpha <= 0.02) return solved.ink;
        const double allowed = plan_.noise.lossy ? 1.5 * plan_.noise.tolerance : 1.5;
        const Vec c = codesOf(picture_.row(y)[x]);
        Vec own;
        for (std::size_t i = 0; i < 3; ++i)
            own[i] =
                std::clamp(solved.ground[i] + (c[i] - solved.ground[i]) / solved.alpha, 0.0, 255.0);
        return distance(own, solved.ink) * solved.alpha > allowed ? own : solved.ink;
    }

    // Halved chroma carries `chroma` of the ink's chroma where the luma carries alpha. A channel at
    // its end tells nothing; of the others each gives RGB = B + alpha dY + chroma (dRGB - dY),
    // weighted as luma weighs them.
    double alphaGiven(int x, int y, const Solved& solved, double chroma) const {
        const Vec step = minus(solved.ink, solved.ground), c = codesOf(picture_.row(y)[x]);
        const double luma = lumaOf(step);
        constexpr double tells = 20;
        if (std::abs(luma) < tells) return solved.alpha;
        constexpr Vec weights{0.299, 0.587, 0.114};
        double above = 0, below = 0;
        for (std::size_t i = 0; i < 3; ++i) {
            if (c[i] <= 0 || c[i] >= 255) continue;
            above += weights[i] * (c[i] - solved.ground[i] - chroma * (step[i] - luma)) / luma;
            below += weights[i];
        }
        return below > 0.1 ? snapped(std::clamp(above / below, 0.0, 1.0), std::abs(luma) * luma_)
                           : solved.alpha;
    }

    double shadowAt(int x, int y) const {
        const Vec c = codesOf(picture_.row(y)[x]);
        return std::clamp(
            1 - dot(c, plan_.background) / std::max(1.0, dot(plan_.background, plan_.background)),
            0.0, 1.0);
    }
    // The shadow's mean alpha close by; 0 where there is none.
    double shadowNear(int x, int y) const {
        double sum = 0;
        int count = 0;
        around(x, y, 3, [&](int sx, int sy) {
            if (regions_.row(sy)[sx] == Region::ink) return;
            ++count;
            if (regions_.row(sy)[sx] == Region::shadow) sum += shadowAt(sx, sy);
        });
        return count > 0 ? sum / count : 0;
    }

  private:
    static constexpr std::int8_t deep = 127, drawn = 126;  // solid ink; that of a drawn rim

    // By the ink's colour, carried out to the pixel. Where nothing explains it, `looksOutside`.
    Solved byInk(int x, int y, bool looksOutside = true) const {
        const std::uint32_t p = picture_.row(y)[x];
        const Vec c = codesOf(p), b = backgroundNear(x, y);
        if (isBehindInk(x, y)) return Solved{1, c, b};
        Solved best;
        double least = 1e18;
        const auto offer = [&](const Vec& f) {
            const double chroma = chromaWeight(minus(f, b));
            const Vec direction = whitened(minus(f, b), chroma), to = whitened(minus(c, b), chroma);
            const double square = dot(direction, direction);
            if (square < 1e-9 ||
                (plan_.noise.lossy && farthest(f, b) <= 1.5 * plan_.noise.tolerance))
                return;
            const double a = std::clamp(dot(to, direction) / square, 0.0, 1.0);
            const double off = distance(c, along(b, f, a));
            if (off >= least) return;
            least = off;
            best = {snapped(a, std::sqrt(square)), f, b};
        };
        const bool clean = inkNear(x, y, offer);
        if (const auto shade = thinShadow(x, y, b, least - 1 - plan_.noise.tolerance))
            return *shade;
        const double allowed = 6 + 2 * plan_.noise.tolerance;
        if (clean && least <= allowed) return best;
        // Thin strokes have no clean ink, designed borders another one. What lies between the
        // background and a pixel further in is a mixture of the two; what lies between none of them
        // covers the pixel; where nothing is further in, the strongest pixel may be it.
        const int own = depth_[at(x, y)];
        const double farAway = farthest(c, b);
        around(x, y, 2, [&](int sx, int sy) {
            if (regions_.row(sy)[sx] != Region::ink || depth_[at(sx, sy)] <= own) return;
            const Vec further = codesOf(picture_.row(sy)[sx]);
            if (farthest(further, b) >= farAway) offer(further);
        });
        if (least <= allowed) return best;
        if (own > 1 && own != deep)
            return looksOutside ? overOutside(x, y, own, b) : Solved{1, c, b};
        offer(strongestNear(x, y, b));
        if (least > 1e17) return Solved{regions_.row(y)[x] == Region::background ? 0.0 : 1.0, c, b};
        return best;
    }

    // Ink is often darker along its rim, a drawn line mostly: a pixel that is a mixture with ink
    // close by which is farther from the ground still is less covered than inner ink tells.
    std::optional<Solved> rimNear(int x, int y, const Vec& ground, double share) const {
        constexpr int reach = 2;  // px, with the corners left out
        const Vec to = minus(codesOf(picture_.row(y)[x]), ground);
        const double allowed = 6 + 2 * plan_.noise.tolerance;
        double most = dot(to, to);
        std::optional<Solved> rim;
        const bool beside = isBesideDrawn(x, y);
        around(x, y, reach, [&](int sx, int sy) {
            if ((std::abs(sx - x) == reach && std::abs(sy - y) == reach) ||
                regions_.row(sy)[sx] != Region::ink || (beside && depth_[at(sx, sy)] != drawn))
                return;
            const Vec ink = codesOf(picture_.row(sy)[sx]), step = minus(ink, ground);
            const double square = dot(step, step);
            if (square <= most) return;
            const double alpha = std::clamp(dot(to, step) / square, 0.0, 1.0);
            if (farthest(to, along({}, step, alpha)) >
                std::max(allowed, share * farthest(step, {})))
                return;
            most = square;
            rim = {snapped(alpha, std::sqrt(square) * luma_), ink, ground};
        });
        return rim;
    }

    // A shadow of a pixel or two has no plateau by which regions know one: the ground, darker by up
    // to a quarter (what is darker is a drawn line as a rule), beside ink that is at least twice as
    // far from it. It is off by `most` at most.
    std::optional<Solved> thinShadow(int x, int y, const Vec& ground, double most) const {
        if (plan_.noise.halfChroma || shadow_ == KeyShadow::off ||
            regions_.row(y)[x] != Region::ink)
            return std::nullopt;
        const Vec c = codesOf(picture_.row(y)[x]);
        const double dark = 1 - dot(c, ground) / std::max(1.0, dot(ground, ground));
        if (dark <= 0 || dark > 0.25 ||
            farthest(c, along(ground, {}, dark)) > std::min(most, 2 + plan_.noise.tolerance))
            return std::nullopt;
        // It fades outwards: what lies behind a line is ink.
        bool fades = true, beside = false;
        const double own = farthest(c, ground), strong = 2 * own;
        around(x, y, 1, [&](int sx, int sy) {
            fades &= depth_[at(sx, sy)] >= depth_[at(x, y)] ||
                     farthest(codesOf(picture_.row(sy)[sx]), ground) <= own + plan_.noise.tolerance;
        });
        around(x, y, 2, [&](int sx, int sy) {
            beside |= regions_.row(sy)[sx] == Region::ink &&
                      farthest(codesOf(picture_.row(sy)[sx]), ground) >= strong;
        });
        if (!fades || !beside) return std::nullopt;
        return Solved{shadow_ == KeyShadow::keep ? dark : 0, {}, ground, true};
    }

    // Solid ink does not always meet the ground: a soft shadow or glow may lie between. It is over
    // that, then.
    Solved overOutside(int x, int y, int depth, const Vec& ground) const {
        const Vec c = codesOf(picture_.row(y)[x]);
        Vec sum{};
        double alpha = 0;
        int count = 0;
        around(x, y, 1, [&](int sx, int sy) {
            if (depth_[at(sx, sy)] != depth - 1) return;
            const Solved outside = byInk(sx, sy, false);
            if (outside.alpha >= 0.5) return;
            const Vec its = codesOf(picture_.row(sy)[sx]);
            for (std::size_t i = 0; i < 3; ++i) sum[i] += its[i];
            alpha += outside.alpha;
            ++count;
        });
        const Solved solid{1, c, ground};
        if (count == 0) return solid;
        const auto rim = rimNear(x, y, {sum[0] / count, sum[1] / count, sum[2] / count}, 0.15);
        if (!rim) return solid;
        const double whole = rim->alpha + (1 - rim->alpha) * alpha / count;
        return {whole, colourAt(x, y, {whole, c, ground}), ground};
    }

    template <class Each>
    void around(int x, int y, int reach, const Each& each) const {
        for (int sy = std::max(0, y - reach); sy <= std::min(picture_.height() - 1, y + reach);
             ++sy)
            for (int sx = std::max(0, x - reach); sx <= std::min(picture_.width() - 1, x + reach);
                 ++sx)
                each(sx, sy);
    }
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(picture_.width()) +
               static_cast<std::size_t>(x);
    }
    double away(int x, int y) const { return awayFrom(picture_.row(y)[x], plan_.background); }

    // Ring by ring from the outside in: 1 beside the background, 2 behind it ... Soft edges are
    // followed as far as they rise.
    void findDepths() {
        const int w = picture_.width(), h = picture_.height();
        std::vector<Spot> ring;
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x) {
                if (regions_.row(y)[x] != Region::ink) continue;
                bool beside = false;
                around(x, y, 1,
                       [&](int sx, int sy) { beside |= regions_.row(sy)[sx] != Region::ink; });
                if (!beside) continue;
                depth_[at(x, y)] = 1;
                ring.push_back({x, y});
            }
        if (plan_.noise.lossy) addFoot(ring);
        constexpr int deepest = 8;
        for (int depth = 1; depth <= deepest && !ring.empty(); ++depth) {
            std::vector<Spot> next;
            for (const Spot& spot : ring) {
                unknown_.push_back(spot);
                const double own = away(spot.x, spot.y);
                around(spot.x, spot.y, 1, [&](int sx, int sy) {
                    if (depth_[at(sx, sy)] != deep || regions_.row(sy)[sx] != Region::ink) return;
                    if (depth >= unsure_ && !rises(sx, sy, own)) return;
                    depth_[at(sx, sy)] = static_cast<std::int8_t>(depth + 1);
                    next.push_back({sx, sy});
                });
            }
            ring = std::move(next);
        }
        for (const Spot& spot : ring) depth_[at(spot.x, spot.y)] = deep;
    }
    // Still on the way up from the background: clearly more than outside, clearly less than further
    // in.
    bool rises(int x, int y, double outside) const {
        const double own = away(x, y), step = 4 + plan_.noise.tolerance;
        if (own < outside + step) return false;
        double most = own;
        around(x, y, 1, [&](int sx, int sy) {
            if (depth_[at(sx, sy)] == deep && regions_.row(sy)[sx] == Region::ink)
                most = std::max(most, away(sx, sy));
        });
        return most >= own + step;
    }
    void addFoot(const std::vector<Spot>& ring) {
        std::vector<char> seen(depth_.size());
        for (const Spot& spot : ring)
            around(spot.x, spot.y, plan_.noise.halfChroma ? 3 : 2, [&](int sx, int sy) {
                if (regions_.row(sy)[sx] != Region::background || seen[at(sx, sy)]) return;
                seen[at(sx, sy)] = 1;
                unknown_.push_back({sx, sy});
            });
    }

    static double lumaOf(const Vec& v) { return 0.299 * v[0] + 0.587 * v[1] + 0.114 * v[2]; }
    // How much the chroma of an edge may be trusted: bled, it is off by a good part of its own
    // step.
    double chromaWeight(const Vec& step) const {
        const double y = lumaOf(step);
        constexpr double rounding = 0.3, bleeds = 0.3;
        const double bled = (plan_.noise.halfChroma ? bleeds : 0.1) *
                            std::hypot(0.564 * (step[2] - y), 0.713 * (step[0] - y));
        return 1 / std::hypot(plan_.noise.chroma, rounding, bled);
    }
    Vec whitened(const Vec& v, double chroma) const {
        if (!plan_.noise.lossy) return {v[0] * luma_, v[1] * luma_, v[2] * luma_};
        const double y = lumaOf(v);
        return {y * luma_, 0.564 * (v[2] - y) * chroma, 0.713 * (v[0] - y) * chroma};
    }
    // How far a mixture is from what was seen, code values; bled chroma does not count.
    double distance(const Vec& a, const Vec& b) const {
        return plan_.noise.halfChroma ? std::abs(lumaOf(minus(a, b))) : farthest(a, b);
    }
    // `contrast` in standard deviations of the noise.
    double snapped(double a, double contrast) const {
        const double least =
            plan_.noise.lossy ? std::min(0.12, 2 / contrast) : std::min(0.1, 1.2 / contrast);
        return a < least ? 0 : a > 1 - least ? 1 : a;
    }

    // In a noisy picture: of the background's colour, and ink lies between it and the background.
    bool isBehindInk(int x, int y) const {
        const int own = depth_[at(x, y)];
        const double faint = 2 * plan_.noise.tolerance;
        if (!plan_.noise.lossy || own == 1 || own == deep || regions_.row(y)[x] != Region::ink ||
            away(x, y) > faint)
            return false;
        bool behind = false;
        around(x, y, 1, [&](int sx, int sy) {
            behind |= regions_.row(sy)[sx] == Region::ink && depth_[at(sx, sy)] < own &&
                      away(sx, sy) > 2 * faint;
        });
        return behind;
    }
    bool isBesideDrawn(int x, int y) const {
        bool beside = false;
        around(x, y, 1, [&](int sx, int sy) { beside |= depth_[at(sx, sy)] == drawn; });
        return beside;
    }
    bool isClean(int x, int y) const {
        return regions_.row(y)[x] == Region::ink && depth_[at(x, y)] >= drawn;
    }

    // The background's colour, or where a shadow lies on it, the shadow's.
    Vec backgroundNear(int x, int y) const {
        Vec sum{};
        int count = 0;
        bool shaded = false;
        around(x, y, 3, [&](int sx, int sy) {
            if (regions_.row(sy)[sx] == Region::ink) return;
            shaded |= regions_.row(sy)[sx] == Region::shadow;
            const Vec c = codesOf(picture_.row(sy)[sx]);
            for (std::size_t i = 0; i < 3; ++i) sum[i] += c[i];
            ++count;
        });
        if (!shaded) return plan_.background;
        return {sum[0] / count, sum[1] / count, sum[2] / count};
    }

    // The ink's colour carried out to (x, y) from the nearest clean ink; false when none is near.
    template <class Offer>
    bool inkNear(int x, int y, const Offer& offer) const {
        for (const Spot& o : nearestFirst(9)) {
            const int sx = x + o.x, sy = y + o.y;
            if (sx < 0 || sy < 0 || sx >= picture_.width() || sy >= picture_.height() ||
                !isClean(sx, sy))
                continue;
            offer(carried(sx, sy, x, y));
            return true;
        }
        return false;
    }
    // From the clean pixels about (nx, ny) that look alike: their mean in a noisy picture, the
    // plane through them in a clean one.
    Vec carried(int nx, int ny, int x, int y) const {
        const Vec seed = codesOf(picture_.row(ny)[nx]);
        const double alike = 10 + 2 * plan_.noise.tolerance;
        double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0, syy = 0;
        Vec s{}, cx{}, cy{};
        around(nx, ny, 3, [&](int px, int py) {
            if (!isClean(px, py)) return;
            const Vec c = codesOf(picture_.row(py)[px]);
            if (farthest(c, seed) > alike) return;
            const double dx = px - nx, dy = py - ny;
            n += 1;
            sx += dx;
            sy += dy;
            sxx += dx * dx;
            sxy += dx * dy;
            syy += dy * dy;
            for (std::size_t i = 0; i < 3; ++i) {
                s[i] += c[i];
                cx[i] += c[i] * dx;
                cy[i] += c[i] * dy;
            }
        });
        const Vec mean{s[0] / n, s[1] / n, s[2] / n};
        if (plan_.noise.lossy || n < 8) return mean;
        const double axx = sxx - sx * sx / n, axy = sxy - sx * sy / n, ayy = syy - sy * sy / n,
                     det = axx * ayy - axy * axy;
        if (det < 1e-6 * (axx + ayy) * (axx + ayy)) return mean;
        Vec out;
        for (std::size_t i = 0; i < 3; ++i) {
            const double bx = cx[i] - s[i] * sx / n, by = cy[i] - s[i] * sy / n;
            const double gx = (bx * ayy - by * axy) / det, gy = (by * axx - bx * axy) / det;
            out[i] =
                std::clamp(mean[i] + gx * (x - nx - sx / n) + gy * (y - ny - sy / n), 0.0, 255.0);
        }
        // No farther from what was seen than texture would take it.
        return farthest(out, mean) > alike ? mean : out;
    }
    Vec strongestNear(int x, int y, const Vec& b) const {
        Vec best = codesOf(picture_.row(y)[x]);
        double most = -1;
        around(x, y, 3, [&](int sx, int sy) {
            if (regions_.row(sy)[sx] != Region::ink) return;
            const Vec c = codesOf(picture_.row(sy)[sx]), step = minus(c, b),
                      d = whitened(step, chromaWeight(step));
            if (const double square = dot(d, d); square > most) {
                most = square;
                best = c;
            }
        });
        return best;
    }

    const Straight8& picture_;
    const Regions& regions_;
    const KeyPlan& plan_;
    const KeyShadow shadow_;
    std::vector<std::int8_t> depth_;
    std::vector<Spot> unknown_;
    double luma_;
    int unsure_;
};

std::uint32_t pixelOf(const Vec& colour, double alpha) {
    const auto code = [](double v) {
        return static_cast<int>(std::lround(std::clamp(v, 0.0, 255.0)));
    };
    return packed(code(colour[0]), code(colour[1]), code(colour[2]), code(alpha * 255));
}

// Chroma of half the size is the coverage blurred (halved by a box, brought back by a triangle: 1 4
// 6 4 1 on the mean of its phases); with it known, what luma and the channels that are not at their
// end say is sharper. Twice is enough.
void sharpen(PixelSize size, const Regions& regions, const Unmixer& unmixer,
             std::vector<Solved>& solved, int threads) {
    const auto& unknown = unmixer.unknown();
    Plane alpha(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            alpha.row(y)[x] = regions.row(y)[x] == Region::ink ? 1.0f : 0.0f;
    for (int round = 0; round < 2; ++round) {
        for (std::size_t i = 0; i < unknown.size(); ++i)
            alpha.row(unknown[i].y)[unknown[i].x] = static_cast<float>(solved[i].alpha);
        overRows(static_cast<int>(unknown.size()), 1024, threads, [&](int from, int to) {
            constexpr double weights[] = {1, 4, 6, 4, 1};
            for (int i = from; i < to; ++i) {
                const auto [x, y] = unknown[static_cast<std::size_t>(i)];
                double sum = 0;
                for (int dy = -2; dy <= 2; ++dy)
                    for (int dx = -2; dx <= 2; ++dx)
                        sum += weights[dy + 2] * weights[dx + 2] *
                               static_cast<double>(alpha.row(std::clamp(
                                   y + dy, 0,
                                   size.height - 1))[std::clamp(x + dx, 0, size.width - 1)]);
                Solved& mine = solved[static_cast<std::size_t>(i)];
                mine.alpha = unmixer.alphaGiven(x, y, mine, sum / 256);
            }
        });
    }
}

// Every edge pixel by what C = aF + (1 - a)B says of it.
std::vector<Solved> solvedEach(const Unmixer& unmixer, int threads, const std::stop_token& stop) {
    const auto& unknown = unmixer.unknown();
    std::vector<Solved> solved(unknown.size());
    overRows(static_cast<int>(unknown.size()), 1024, threads, [&](int from, int to) {
        for (int i = from; i < to && !stop.stop_requested(); ++i)
            solved[static_cast<std::size_t>(i)] = unmixer.solve(
                unknown[static_cast<std::size_t>(i)].x, unknown[static_cast<std::size_t>(i)].y);
    });
    return solved;
}

// Solved again where there are drawn rims, now that their ink is known.
void solveRims(Unmixer& unmixer, const Straight8& picture, const Regions& regions,
               const KeyPlan& plan, std::vector<Solved>& solved, int threads,
               const std::stop_token& stop) {
    const auto& unknown = unmixer.unknown();
    std::vector<EdgeInk> edge;
    edge.reserve(unknown.size());
    for (std::size_t i = 0; i < unknown.size(); ++i)
        edge.push_back({unknown[i], unmixer.depthOf(unknown[i]), solved[i].alpha, solved[i].shade});
    DrawnRims rims(picture, regions, plan.background, edge);
    if (rims.whole().empty()) return;
    unmixer.takeAsInk(rims);
    solved = solvedEach(unmixer, threads, stop);
    for (std::size_t i = 0; i < unknown.size(); ++i)
        solved[i].alpha = rims.settled(unknown[i], solved[i].alpha, solved[i].shade);
}

std::vector<Solved> solvedBy(Unmixer& unmixer, const Straight8& picture, const Regions& regions,
                             const KeyPlan& plan, int threads, const std::stop_token& stop) {
    std::vector<Solved> solved = solvedEach(unmixer, threads, stop);
    if (stop.stop_requested()) return solved;
    if (plan.noise.halfChroma)
        sharpen(picture.size(), regions, unmixer, solved, threads);
    else if (!plan.noise.lossy)
        solveRims(unmixer, picture, regions, plan, solved, threads, stop);
    return solved;
}

// Where the pixels around say clearly otherwise, they are believed: in a JPEG with halved chroma,
// and where there is no chroma to tell whether it was halved.
void lookAround(const Straight8& picture, const Regions& regions, const KeyPlan& plan,
                const std::vector<Spot>& unknown, std::vector<Solved>& solved, int threads,
                const std::stop_token& stop) {
    if (!plan.noise.halfChroma && (!plan.noise.lossy || plan.ground)) return;
    constexpr double agrees = 0.05, least = 0.03, grey = 16;  // code values of chroma
    const EdgeNet net(picture, regions);
    overRows(static_cast<int>(unknown.size()), 1024, threads, [&](int from, int to) {
        for (int i = from; i < to && !stop.stop_requested(); ++i) {
            const Spot spot = unknown[static_cast<std::size_t>(i)];
            Solved& mine = solved[static_cast<std::size_t>(i)];
            const Vec step = minus(mine.ink, mine.ground);
            if (!plan.noise.halfChroma && std::ranges::max(step) - std::ranges::min(step) > grey)
                continue;
            const double seen = net.coverage(spot.x, spot.y, mine.ground, mine.alpha);
            if (std::abs(seen - mine.alpha) <= agrees) continue;
            mine.alpha = seen < least ? 0 : seen > 1 - least ? 1 : seen;
        }
    });
}

}  // namespace

Straight8 unmixed(const Straight8& picture, const Regions& regions, const KeyPlan& plan,
                  KeyShadow shadow, int threads, const std::stop_token& stop) {
    Unmixer unmixer(picture, regions, plan, shadow);
    const bool keepsShadow = shadow == KeyShadow::keep;
    Straight8 out = picture.clone();
    const Vec black{0, 0, 0};
    overRows(picture.height(), 32, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < picture.width(); ++x) {
                const Region region = regions.row(y)[x];
                if (region == Region::background) out.row(y)[x] = 0;
                if (region == Region::shadow)
                    out.row(y)[x] = keepsShadow ? pixelOf(black, unmixer.shadowAt(x, y)) : 0;
            }
    });
    const auto& unknown = unmixer.unknown();
    std::vector<Solved> solved = solvedBy(unmixer, picture, regions, plan, threads, stop);
    lookAround(picture, regions, plan, unknown, solved, threads, stop);
    overRows(static_cast<int>(unknown.size()), 1024, threads, [&](int from, int to) {
        for (int i = from; i < to && !stop.stop_requested(); ++i) {
            const auto [x, y] = unknown[static_cast<std::size_t>(i)];
            if (alphaOf(picture.row(y)[x]) != 255) continue;  // it was cut out before
            const Solved& mine = solved[static_cast<std::size_t>(i)];
            const Vec colour = unmixer.colourAt(x, y, mine);
            const double shade = keepsShadow ? unmixer.shadowNear(x, y) : 0;
            if (shade <= 0) {
                out.row(y)[x] = mine.alpha > 0 ? pixelOf(colour, mine.alpha) : 0;
                continue;
            }
            // Ink over its shadow: the black part has a colour of 0.
            const double alpha = mine.alpha + (1 - mine.alpha) * shade;
            out.row(y)[x] =
                pixelOf(along(black, colour, mine.alpha / std::max(1e-9, alpha)), alpha);
        }
    });
    return out;
}

std::vector<EdgePixel> edgePixels(const Straight8& picture, const Regions& regions,
                                  const KeyPlan& plan) {
    Unmixer unmixer(picture, regions, plan, KeyShadow::keep);
    const std::vector<Solved> solved = solvedBy(unmixer, picture, regions, plan, 1, {});
    std::vector<EdgePixel> out;
    for (std::size_t i = 0; i < solved.size(); ++i)
        out.push_back({unmixer.unknown()[i], solved[i].alpha});
    return out;
}

}  // namespace zl
