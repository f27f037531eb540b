// SPDX-License-Identifier: GPL-3.0-or-later
// Matte left in the edge. Porter and Duff (1984) for over; thresholds are ours.
#include <algorithm>
#include <cmath>
#include <optional>

#include "colour/colour_rows.h"
#include "cut/code_vec.h"
#include "cut/edge_scan.h"

namespace zl {
namespace {

using Vec = CodeVec;

constexpr int leastEdge = 40;                         // px: fewer do not tell
constexpr double visible = 4;                         // CIEDE2000
constexpr double leastStrength = 0.15;                // less is what resampling leaves
constexpr double tellsDark = 0.75, sureOfDark = 0.9;  // shares of an edge that a dark matte must
                                                      // explain; else it may be a line or a shadow

double squareApart(const Vec& a, const Vec& b) {
    const Vec step = minus(a, b);
    return dot(step, step);
}
double apart(const Vec& a, const Vec& b) {
    return std::sqrt(squareApart(a, b));
}

// CIEDE2000 of one pixel's colour to many.
class Differences {
  public:
    const std::vector<float>& of(std::uint32_t one, const std::vector<std::uint32_t>& many) {
        const std::size_t n = many.size();
        for (auto* v : {&l_, &a_, &b_, &l1_, &a1_, &b1_, &out_}) v->resize(n);
        labRow(many.data(), static_cast<int>(n), l_.data(), a_.data(), b_.data());
        float l = 0, a = 0, b = 0;
        labRow(&one, 1, &l, &a, &b);
        std::fill(l1_.begin(), l1_.end(), l);
        std::fill(a1_.begin(), a1_.end(), a);
        std::fill(b1_.begin(), b1_.end(), b);
        differenceRow({l1_.data(), a1_.data(), b1_.data()}, {l_.data(), a_.data(), b_.data()},
                      static_cast<int>(n), out_.data());
        return out_;
    }

  private:
    std::vector<float> l_, a_, b_, l1_, a1_, b1_, out_;
};

struct Sample {
    Spot at;
    Vec colour{}, clean{};
    double coverage = 1, damage = 0;
};

std::uint32_t over(const Vec& c, double a, double backdrop) {
    const auto code = [&](double v) {
        return static_cast<int>(std::lround(v * a + backdrop * (1 - a)));
    };
    return packed(code(c[0]), code(c[1]), code(c[2]), 255);
}

// Of the deep ink within reach, and hardly farther than the nearest of it, the colour nearest to
// the pixel's own: behind a border lies other ink, which a matte may happen to look like.
std::optional<std::uint32_t> cleanInkAt(const Straight8& ink, const Spot& at, bool hard,
                                        Differences& differences,
                                        std::vector<std::uint32_t>& candidates) {
    candidates.clear();
    constexpr double hardlyFarther = 0.5;  // px
    double farthest = 1e9;
    for (const Spot& o : nearestFirst(hard ? 5 : 4)) {
        const int x = at.x + o.x, y = at.y + o.y;
        if (x < 0 || y < 0 || x >= ink.width() || y >= ink.height() ||
            alphaOf(ink.row(y)[x]) < edge::opaque)
            continue;
        if (std::hypot(o.x, o.y) > farthest) break;
        const std::uint32_t p = ink.row(y)[x];
        if (std::find(candidates.begin(), candidates.end(), p) != candidates.end()) continue;
        if (hard && !isDeep(ink, x, y, false)) continue;
        farthest = std::min(farthest, std::hypot(o.x, o.y) + hardlyFarther);
        candidates.push_back(p);
    }
    if (candidates.empty()) return {};
    if (candidates.size() == 1) return candidates.front();
    const auto& apart = differences.of(ink.row(at.y)[at.x], candidates);
    return candidates[static_cast<std::size_t>(std::min_element(apart.begin(), apart.end()) -
                                               apart.begin())];
}

std::vector<Sample> samplesOf(const Straight8& ink, const std::vector<Spot>& spots, bool hard,
                              int most, double& found) {
    std::vector<Sample> samples;
    Differences differences;
    std::vector<std::uint32_t> candidates;
    const std::size_t stride = spots.size() / static_cast<std::size_t>(most) + 1;
    std::size_t judged = 0;
    for (std::size_t i = 0; i < spots.size(); i += stride, ++judged) {
        const auto clean = cleanInkAt(ink, spots[i], hard, differences, candidates);
        if (!clean) continue;
        const std::uint32_t p = ink.row(spots[i].y)[spots[i].x];
        samples.push_back({spots[i], codesOf(p), codesOf(*clean), alphaOf(p) / 255.0, 0});
    }
    found = judged > 0 ? static_cast<double>(samples.size()) / static_cast<double>(judged) : 0;
    // What the eye meets, on the backdrop that shows it most.
    const std::size_t n = samples.size();
    std::vector<std::uint32_t> one(n), other(n);
    std::vector<float> rows(7 * n);
    for (const double backdrop : {255.0, 0.0, 128.0}) {
        for (std::size_t i = 0; i < n; ++i) {
            one[i] = over(samples[i].colour, samples[i].coverage, backdrop);
            other[i] = over(samples[i].clean, samples[i].coverage, backdrop);
        }
        float* r = rows.data();
        const int count = static_cast<int>(n);
        labRow(one.data(), count, r, r + n, r + 2 * n);
        labRow(other.data(), count, r + 3 * n, r + 4 * n, r + 5 * n);
        differenceRow({r, r + n, r + 2 * n}, {r + 3 * n, r + 4 * n, r + 5 * n}, count, r + 6 * n);
        for (std::size_t i = 0; i < n; ++i)
            samples[i].damage = std::max(samples[i].damage, static_cast<double>(rows[6 * n + i]));
    }
    return samples;
}

double percentile(std::vector<double> values, double share) {
    if (values.empty()) return 0;
    const auto at = static_cast<std::size_t>(share * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(at),
                     values.end());
    return values[at];
}

double along(const Vec& v, const Vec& way) {
    return v[0] * way[0] + v[1] * way[1] + v[2] * way[2];
}

// How well one matte colour explains the edge: in C - F = k(1 - a)(B - F) the strength k is the
// same at every coverage and all round. A shadow's falls as coverage grows, a designed border's
// rises, and neither is of one strength.
struct Explained {
    Vec matte{};
    double strength = 0;       // the median of k
    double share = 0;          // of the pixels that can tell, those of about that strength
    double low = 0, high = 0;  // the medians where little and where much is covered
    std::size_t told = 0;      // pixels whose ink is far enough from the matte to tell
};
Explained explainedBy(const Vec& matte, const std::vector<Sample>& samples) {
    constexpr double tells = 14;  // code values that a full matte would be off
    Explained out;
    out.matte = matte;
    std::vector<double> strengths, low, high, aside;
    for (const Sample& s : samples) {
        const Vec way{matte[0] - s.clean[0], matte[1] - s.clean[1], matte[2] - s.clean[2]};
        const double u = 1 - s.coverage, length = std::sqrt(along(way, way));
        if (length * u < tells) continue;
        const Vec off{s.colour[0] - s.clean[0], s.colour[1] - s.clean[1], s.colour[2] - s.clean[2]};
        const double k = along(off, way) / (length * length * u);
        const double beside =
            std::sqrt(std::max(0.0, along(off, off) - k * k * u * u * length * length));
        strengths.push_back(k);
        aside.push_back(beside / (length * u));
        if (s.coverage < 0.4) low.push_back(k);
        if (s.coverage > 0.6) high.push_back(k);
    }
    out.told = strengths.size();
    if (out.told == 0) return out;
    out.strength = percentile(strengths, 0.5);
    out.low = percentile(low, 0.5);
    out.high = percentile(high, 0.5);
    const double allowed = std::max(0.12, 0.3 * out.strength);
    std::size_t fits = 0;
    for (std::size_t i = 0; i < strengths.size(); ++i)
        fits += std::abs(strengths[i] - out.strength) <= allowed && aside[i] <= allowed + 0.1;
    out.share = static_cast<double>(fits) / static_cast<double>(out.told);
    return out;
}

// The farthest matte colour on the way from the clean ink along `way`: where it leaves the cube of
// code values.
std::optional<Vec> farthestOn(const Vec& clean, const Vec& way) {
    double length = 1e9;
    for (std::size_t i = 0; i < 3; ++i) {
        if (way[i] > 0.5) length = std::min(length, (255 - clean[i]) / way[i]);
        if (way[i] < -0.5) length = std::min(length, -clean[i] / way[i]);
    }
    if (length > 1e8) return {};
    length = std::max(1.0, length);
    return Vec{clean[0] + way[0] * length, clean[1] + way[1] * length, clean[2] + way[2] * length};
}

// k(B - F) of one ink: the slope of C - F over 1 - a, of all but the worst fifth.
Vec slopeOf(const std::vector<Sample>& samples) {
    Vec way{};
    std::vector<double> off(samples.size(), 0);
    for (int round = 0; round < 4; ++round) {
        const double limit = round == 0 ? 1e9 : percentile(off, 0.8);
        Vec above{};
        double below = 0;
        for (std::size_t j = 0; j < samples.size(); ++j) {
            if (off[j] > limit) continue;
            const Sample& s = samples[j];
            const double u = 1 - s.coverage;
            for (std::size_t i = 0; i < 3; ++i) above[i] += u * (s.colour[i] - s.clean[i]);
            below += u * u;
        }
        if (below <= 0) return way;
        for (std::size_t i = 0; i < 3; ++i) way[i] = above[i] / below;
        for (std::size_t j = 0; j < samples.size(); ++j) {
            const Sample& s = samples[j];
            const double u = 1 - s.coverage;
            off[j] = std::hypot(s.colour[0] - s.clean[0] - u * way[0],
                                s.colour[1] - s.clean[1] - u * way[1],
                                s.colour[2] - s.clean[2] - u * way[2]);
        }
    }
    return way;
}

// B and k of many inks at once: C - F = u(kB) - k(uF), least squares over the four numbers, of all
// but the worst fifth. Nothing where the inks are one, since it cannot be told then how far off the
// matte is.
std::optional<Vec> matteOfMany(const std::vector<Sample>& samples) {
    std::vector<double> off(samples.size(), 0);
    std::optional<Vec> found;
    for (int round = 0; round < 4; ++round) {
        const double limit = round == 0 ? 1e9 : percentile(off, 0.8);
        // The normal equations: [ U 0 0 -P0; 0 U 0 -P1; 0 0 U -P2; -P0 -P1 -P2 Q ] of (kB, k).
        double uu = 0, q = 0, r = 0;
        Vec p{}, d{};
        for (std::size_t j = 0; j < samples.size(); ++j) {
            if (off[j] > limit) continue;
            const Sample& s = samples[j];
            const double u = 1 - s.coverage;
            uu += u * u;
            for (std::size_t i = 0; i < 3; ++i) {
                const double c = s.colour[i] - s.clean[i];
                p[i] += u * u * s.clean[i];
                d[i] += u * c;
                q += u * u * s.clean[i] * s.clean[i];
                r -= u * s.clean[i] * c;
            }
        }
        if (uu <= 0) return {};
        const double det = q - along(p, p) / uu;  // how much the inks differ
        if (det < 300 * uu) return {};
        const double k = (r + along(p, d) / uu) / det;
        if (k < 0.02) return {};
        Vec matte{};
        for (std::size_t i = 0; i < 3; ++i)
            matte[i] = std::clamp((d[i] + k * p[i]) / uu / k, 0.0, 255.0);
        for (std::size_t j = 0; j < samples.size(); ++j) {
            const Sample& s = samples[j];
            const double u = k * (1 - s.coverage);
            off[j] = std::hypot(s.colour[0] - s.clean[0] - u * (matte[0] - s.clean[0]),
                                s.colour[1] - s.clean[1] - u * (matte[1] - s.clean[1]),
                                s.colour[2] - s.clean[2] - u * (matte[2] - s.clean[2]));
        }
        found = matte;
    }
    return found;
}

// Of what may lie in the edge the colour that explains it best; what fits white or black nearly as
// well is that.
Explained bestMatte(const std::vector<Sample>& samples) {
    Explained best;
    const auto offer = [&](const Vec& matte, double better) {
        const Explained found = explainedBy(matte, samples);
        if (found.told * 3 < samples.size() || found.strength <= 0) return;
        if (best.told == 0 || found.share > best.share + better) best = found;
    };
    offer({255, 255, 255}, 0);
    offer({0, 0, 0}, 0);
    constexpr double nearlyAsWell = 0.1;
    Vec clean{};
    for (const Sample& s : samples)
        for (std::size_t i = 0; i < 3; ++i)
            clean[i] += s.clean[i] / static_cast<double>(samples.size());
    if (const auto matte = farthestOn(clean, slopeOf(samples))) offer(*matte, nearlyAsWell);
    if (const auto matte = matteOfMany(samples)) offer(*matte, nearlyAsWell);
    return best;
}

// Shadows and thin lines are dark, too.
bool isDark(const Vec& matte) {
    constexpr double most = 60;  // code values
    return std::max({matte[0], matte[1], matte[2]}) < most;
}

// A matte that was taken out in part: one strength all round and at every coverage.
bool isOneMatte(const Explained& e) {
    constexpr double mostAlike = 1.6, overFull = 1.05;
    if (e.strength < leastStrength || e.strength > overFull ||
        e.share < (isDark(e.matte) ? tellsDark : 0.6))
        return false;
    return e.high < mostAlike * e.low && e.low < mostAlike * e.high;
}

// A matte that was left whole (k = 1) leaves no partly covered pixel beyond aF + (1 - a)B with an F
// of 0..255. The colours B for which all but a few pixels can be so, channel by channel; clean
// edges of several colours leave none.
std::optional<std::array<Vec, 2>> wholeMattesFor(const Straight8& ink) {
    constexpr std::size_t steps =
        512;  // bounds in half code values; what is beyond them is as good as none or all
    std::array<std::array<long long, steps>, 6> counts{};
    long long all = 0;
    for (const std::uint32_t p : ink.pixels()) {
        const int alpha = alphaOf(p);
        if (alpha <= edge::clear || alpha >= edge::full) continue;
        const double a = alpha / 255.0;
        const Vec c = codesOf(p);
        ++all;
        for (std::size_t i = 0; i < 3; ++i) {
            const auto cell = [](double v) {
                return static_cast<std::size_t>(
                    std::clamp(2 * v, 0.0, static_cast<double>(steps - 1)));
            };
            ++counts[i][cell((c[i] - 255 * a) / (1 - a))];
            ++counts[3 + i][cell(c[i] / (1 - a))];
        }
    }
    constexpr double exceptions = 0.03, rounding = 6;
    const double allowed = exceptions * static_cast<double>(all);
    std::array<Vec, 2> bounds{};
    for (std::size_t i = 0; i < 3; ++i) {
        long long above = 0, below = 0;
        std::size_t least = steps - 1, most = 0;
        while (least > 0 && static_cast<double>(above += counts[i][least]) <= allowed) --least;
        while (most < steps - 1 && static_cast<double>(below += counts[3 + i][most]) <= allowed)
            ++most;
        bounds[0][i] = static_cast<double>(least) / 2;
        bounds[1][i] = static_cast<double>(most) / 2;
        if (bounds[0][i] > bounds[1][i] + rounding) return {};
    }
    return bounds;
}

// How much nearer to their clean ink the edge's colours come when the matte is taken out, 0..1;
// negative when they go farther.
double gainOf(const Vec& matte, const std::vector<Sample>& samples) {
    double before = 0, after = 0;
    for (const Sample& s : samples) {
        const double a = s.coverage;
        Vec freed{};
        for (std::size_t i = 0; i < 3; ++i)
            freed[i] = std::clamp((s.colour[i] - (1 - a) * matte[i]) / a, 0.0, 255.0);
        before += a * std::sqrt(squareApart(s.colour, s.clean));
        after += a * std::sqrt(squareApart(freed, s.clean));
    }
    return before > 0 ? 1 - after / before : 0;
}

// A designed border has the one colour where it covers nearly all of a pixel, too; a matte has
// given way to the ink there.
bool isBorder(const Vec& matte, const std::vector<Sample>& samples) {
    constexpr double nearlyAll = 0.6, same = 0.25;
    int judged = 0, alike = 0;
    for (const Sample& s : samples) {
        if (s.coverage < nearlyAll) continue;
        ++judged;
        alike += apart(s.colour, matte) < same * apart(s.clean, matte);
    }
    return judged > 0 && 2 * alike > judged;
}

// A matte left whole, where there can be one: what the least covered pixels show of it, within the
// bounds. A light or coloured one betrays itself: no dark shadow or ink could lie in such an edge.
// A dark one must also bring the edge nearer to its ink when taken out.
std::optional<Explained> wholeMatteOf(const Straight8& ink, const std::vector<Sample>& samples) {
    const auto bounds = wholeMattesFor(ink);
    if (!bounds) return {};
    std::array<std::vector<double>, 3> shown;
    constexpr double little = 0.4;
    for (const Sample& s : samples)
        if (s.coverage <= little)
            for (std::size_t i = 0; i < 3; ++i)
                shown[i].push_back((s.colour[i] - s.coverage * s.clean[i]) / (1 - s.coverage));
    Vec matte{};
    for (std::size_t i = 0; i < 3; ++i) {
        const double least = std::min((*bounds)[0][i], 255.0),
                     most = std::clamp((*bounds)[1][i], least, 255.0);
        matte[i] = std::clamp(shown[i].empty() ? (least + most) / 2 : percentile(shown[i], 0.5),
                              least, most);
    }
    if (isBorder(matte, samples)) return {};
    if (isDark(matte) && gainOf(matte, samples) < 0) return {};
    Explained found = explainedBy(matte, samples);
    // Of one ink it cannot be told how far the matte is: a part of white or black is likelier than
    // the whole of a grey between.
    for (const double grey : {255.0, 0.0}) {
        const Explained pure = explainedBy({grey, grey, grey}, samples);
        if (isOneMatte(pure) && pure.told * 3 >= samples.size() && pure.share >= found.share - 0.1)
            return pure;
    }
    found.strength = std::clamp(found.strength, 0.5, 1.0);
    return found;
}

// Whether a quarter or more of the ring lies 15 to 85 % of the way from its ink to one matte
// colour, as coverage makes them.
bool nameHard(const std::vector<Sample>& samples, Fringe& out) {
    std::vector<double> off;
    for (const Sample& s : samples) off.push_back(apart(s.colour, s.clean));
    const double far = percentile(off, 0.95);
    if (far < 8) return false;
    std::array<std::vector<double>, 3> channels;
    for (std::size_t j = 0; j < samples.size(); ++j)
        if (off[j] >= far)
            for (std::size_t i = 0; i < 3; ++i) channels[i].push_back(samples[j].colour[i]);
    const Vec matte{percentile(channels[0], 0.5), percentile(channels[1], 0.5),
                    percentile(channels[2], 0.5)};
    int between = 0;
    for (const Sample& s : samples) {
        Vec towards{};
        double square = 0, along = 0;
        for (std::size_t i = 0; i < 3; ++i) {
            towards[i] = matte[i] - s.clean[i];
            square += towards[i] * towards[i];
            along += towards[i] * (s.colour[i] - s.clean[i]);
        }
        if (square < 64) continue;
        const double t = along / square;
        const double aside = std::sqrt(
            std::max(0.0, apart(s.colour, s.clean) * apart(s.colour, s.clean) - t * t * square));
        between += t > 0.15 && t < 0.85 && aside < 0.15 * std::sqrt(square) + 4;
    }
    if (between * 4 < static_cast<int>(samples.size())) return false;
    const auto code = [](double v) {
        return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0, 255.0)));
    };
    out.matte = {code(matte[0]), code(matte[1]), code(matte[2]), 255};
    out.strength = 1;
    out.unsure = isDark(matte) && between * 2 < static_cast<int>(samples.size());
    return true;
}

// Colour that had been multiplied by alpha never exceeds it, though the ink is brighter.
bool looksPremultiplied(const std::vector<Sample>& samples) {
    int told = 0, fits = 0;
    for (const Sample& s : samples) {
        const double most = std::max({s.clean[0], s.clean[1], s.clean[2]});
        if (most < 96 || s.coverage > 0.9) continue;
        ++told;
        const Vec expected{s.clean[0] * s.coverage, s.clean[1] * s.coverage,
                           s.clean[2] * s.coverage};
        fits += apart(s.colour, expected) < 6 + 0.06 * most;
    }
    return told >= leastEdge / 2 && fits * 10 >= told * 9;
}

void measure(const Straight8& ink, const std::vector<Spot>& spots, bool hard, int most,
             Fringe& out) {
    if (static_cast<int>(spots.size()) < leastEdge) return;
    double found = 0;
    const auto samples = samplesOf(ink, spots, hard, most, found);
    if (found < 0.5) return;
    out.told = true;
    std::vector<double> damage;
    for (const Sample& s : samples) damage.push_back(s.damage);
    const double value = percentile(damage, 0.9);
    Fringe named;
    if (hard) {
        if (!nameHard(samples, named)) return;
    } else {
        const auto whole = wholeMatteOf(ink, samples);
        const Explained best = whole ? *whole : bestMatte(samples);
        if (!whole && !isOneMatte(best)) return;
        named.unsure = isDark(best.matte) && best.share < sureOfDark;
        const auto code = [](double v) {
            return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0, 255.0)));
        };
        named.matte = {code(best.matte[0]), code(best.matte[1]), code(best.matte[2]), 255};
        named.strength = std::clamp(best.strength, 0.0, 1.0);
    }
    if (value < out.damage) return;
    named.told = true;
    named.damage = value;
    named.hardEdge = hard;
    named.premultiplied = !hard && looksPremultiplied(samples);
    for (const Sample& s : samples)
        if (s.damage > visible) named.spots.push_back(s.at);
    named.share = static_cast<double>(named.spots.size()) / static_cast<double>(samples.size());
    out = std::move(named);
}

}  // namespace

Fringe fringeOf(const Straight8& ink, const EdgePixels& edges, int mostJudged) {
    Fringe out;
    measure(ink, edges.crisp, false, mostJudged, out);
    measure(ink, edges.hard, true, mostJudged, out);
    return out;
}

namespace {

// Whether nearly all of the colours are the commonest one, but for a code value or two.
bool isFlat(std::vector<std::uint32_t> colours) {
    constexpr double nearlyAll = 0.95;
    constexpr int same = 2;
    if (colours.empty()) return true;
    std::vector<std::uint32_t> sorted = colours;
    std::sort(sorted.begin(), sorted.end());
    std::uint32_t commonest = sorted.front();
    std::size_t most = 0;
    for (std::size_t i = 0, from = 0; i < sorted.size(); ++i) {
        if (sorted[i] != sorted[from]) from = i;
        if (i - from + 1 > most) {
            most = i - from + 1;
            commonest = sorted[i];
        }
    }
    const auto alike = std::count_if(colours.begin(), colours.end(), [&](std::uint32_t p) {
        return std::abs(redOf(p) - redOf(commonest)) <= same &&
               std::abs(greenOf(p) - greenOf(commonest)) <= same &&
               std::abs(blueOf(p) - blueOf(commonest)) <= same;
    });
    return static_cast<double>(alike) >= nearlyAll * static_cast<double>(colours.size());
}

}  // namespace

HiddenColour hiddenColourOf(const Straight8& ink, int mostJudged) {
    constexpr int reach = 4;
    constexpr float far = 10;  // CIEDE2000
    constexpr std::uint32_t leastInk = edge::leastInk;
    HiddenColour out;
    const int w = ink.width(), h = ink.height();
    // Clear pixels with ink within reach: how many of the rows about each have ink, then how far
    // the nearest such column is.
    std::vector<Spot> near;
    std::vector<std::uint8_t> rows(static_cast<std::size_t>(w));
    const auto count = [&](int y, int by) {
        if (y < 0 || y >= h) return;
        const std::uint32_t* row = ink.row(y);
        for (std::size_t x = 0; x < rows.size(); ++x)
            rows[x] = static_cast<std::uint8_t>(rows[x] + (row[x] >> 24 >= leastInk ? by : 0));
    };
    for (int y = 0; y < reach; ++y) count(y, 1);
    for (int y = 0; y < h; ++y) {
        count(y + reach, 1);
        count(y - reach - 1, -1);
        if (std::all_of(rows.begin(), rows.end(), [](std::uint8_t v) { return v == 0; })) continue;
        const std::uint32_t* row = ink.row(y);
        int within = 0;  // columns with ink from x - reach to x + reach
        for (int x = 0; x < std::min(w, reach); ++x)
            within += rows[static_cast<std::size_t>(x)] != 0;
        for (int x = 0; x < w; ++x) {
            if (x + reach < w) within += rows[static_cast<std::size_t>(x + reach)] != 0;
            if (x - reach - 1 >= 0) within -= rows[static_cast<std::size_t>(x - reach - 1)] != 0;
            if (within > 0 && row[x] >> 24 == 0) near.push_back({x, y});
        }
    }
    const std::size_t stride = near.size() / static_cast<std::size_t>(mostJudged) + 1;
    std::vector<std::uint32_t> stored, inks;
    std::vector<Spot> spots;
    for (std::size_t i = 0; i < near.size(); i += stride)
        for (const Spot& o : nearestFirst(reach)) {
            const int x = near[i].x + o.x, y = near[i].y + o.y;
            if (x < 0 || y < 0 || x >= w || y >= h || alphaOf(ink.row(y)[x]) < edge::leastInk)
                continue;
            stored.push_back(ink.row(near[i].y)[near[i].x] | 0xFF000000u);
            inks.push_back(ink.row(y)[x] | 0xFF000000u);
            spots.push_back(near[i]);
            break;
        }
    const std::size_t n = stored.size();
    if (n == 0) return out;
    std::vector<float> r(7 * n);
    const int pairs = static_cast<int>(n);
    labRow(stored.data(), pairs, r.data(), r.data() + n, r.data() + 2 * n);
    labRow(inks.data(), pairs, r.data() + 3 * n, r.data() + 4 * n, r.data() + 5 * n);
    differenceRow({r.data(), r.data() + n, r.data() + 2 * n},
                  {r.data() + 3 * n, r.data() + 4 * n, r.data() + 5 * n}, pairs, r.data() + 6 * n);
    out.judged = pairs;
    out.flat = isFlat(stored);
    for (std::size_t i = 0; i < n; ++i)
        if (r[6 * n + i] > far) {
            ++out.far;
            out.spots.push_back(spots[i]);
        }
    return out;
}

}  // namespace zl
