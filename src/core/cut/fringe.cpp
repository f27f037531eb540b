// SPDX-License-Identifier: GPL-3.0-or-later
// Matte left in the edge. Porter and Duff (1984) for over; thresholds are ours.
#include <algorithm>
#include <cmath>
#include <optional>

#include "cut/edge_scan.h"
#include "raster/colour_rows.h"

namespace zl {
namespace {

using Vec = std::array<double, 3>;

constexpr int leastEdge = 40;  // px: fewer do not tell
constexpr double visible = 4;  // CIEDE2000
constexpr double fallsAsMatte = 0.55;

Vec colourOf(std::uint32_t p) {
    return {static_cast<double>(redOf(p)), static_cast<double>(greenOf(p)), static_cast<double>(blueOf(p))};
}
double apart(const Vec& a, const Vec& b) {
    return std::hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
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
        differenceRow({l1_.data(), a1_.data(), b1_.data()}, {l_.data(), a_.data(), b_.data()}, static_cast<int>(n), out_.data());
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
    const auto code = [&](double v) { return static_cast<int>(std::lround(v * a + backdrop * (1 - a))); };
    return packed(code(c[0]), code(c[1]), code(c[2]), 255);
}

// Of the deep ink within reach, and hardly farther than the nearest of it, the colour nearest to the pixel's own: behind a border
// lies other ink, which a matte may happen to look like.
std::optional<std::uint32_t> cleanInkAt(const Straight8& ink, const Spot& at, bool hard, Differences& differences,
                                        std::vector<std::uint32_t>& candidates) {
    candidates.clear();
    constexpr double hardlyFarther = 0.5;  // px
    double farthest = 1e9;
    for (const Spot& o : nearestFirst(hard ? 5 : 4)) {
        const int x = at.x + o.x, y = at.y + o.y;
        if (x < 0 || y < 0 || x >= ink.width() || y >= ink.height() || alphaOf(ink.row(y)[x]) < edge::opaque) continue;
        if (std::hypot(o.x, o.y) > farthest) break;
        const std::uint32_t p = ink.row(y)[x];
        if (std::find(candidates.begin(), candidates.end(), p) != candidates.end()) continue;
        if (!isDeep(ink, x, y, false)) continue;
        farthest = std::min(farthest, std::hypot(o.x, o.y) + hardlyFarther);
        candidates.push_back(p);
    }
    if (candidates.empty()) return {};
    if (candidates.size() == 1) return candidates.front();
    const auto& apart = differences.of(ink.row(at.y)[at.x], candidates);
    return candidates[static_cast<std::size_t>(std::min_element(apart.begin(), apart.end()) - apart.begin())];
}

std::vector<Sample> samplesOf(const Straight8& ink, const std::vector<Spot>& spots, bool hard, int most, double& found) {
    std::vector<Sample> samples;
    Differences differences;
    std::vector<std::uint32_t> candidates;
    const std::size_t stride = spots.size() / static_cast<std::size_t>(most) + 1;
    std::size_t judged = 0;
    for (std::size_t i = 0; i < spots.size(); i += stride, ++judged) {
        const auto clean = cleanInkAt(ink, spots[i], hard, differences, candidates);
        if (!clean) continue;
        const std::uint32_t p = ink.row(spots[i].y)[spots[i].x];
        samples.push_back({spots[i], colourOf(p), colourOf(*clean), alphaOf(p) / 255.0, 0});
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
        for (std::size_t i = 0; i < n; ++i) samples[i].damage = std::max(samples[i].damage, static_cast<double>(rows[6 * n + i]));
    }
    return samples;
}

double percentile(std::vector<double> values, double share) {
    if (values.empty()) return 0;
    const auto at = static_cast<std::size_t>(share * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(at), values.end());
    return values[at];
}

// A matte shows where little is covered and fades as coverage grows; a thin designed border does not.
bool fallsWithCoverage(const std::vector<Sample>& samples) {
    double high = 0, low = 0;
    int nHigh = 0, nLow = 0;
    for (const Sample& s : samples) {
        const double off = apart(s.colour, s.clean);
        if (s.coverage >= 0.75) {
            high += off;
            ++nHigh;
        } else if (s.coverage <= 0.35) {
            low += off;
            ++nLow;
        }
    }
    if (nHigh == 0 || nLow == 0) return false;
    return (high / nHigh + 0.5) / (low / nLow + 0.5) < fallsAsMatte;
}

// The farthest matte colour on the way from the clean ink along `way`: where it leaves the cube of code values. What fits white or
// black nearly as well is that.
void nameMatte(const Vec& clean, const Vec& way, Fringe& out) {
    double length = 1e9;
    for (std::size_t i = 0; i < 3; ++i) {
        if (way[i] > 0.5) length = std::min(length, (255 - clean[i]) / way[i]);
        if (way[i] < -0.5) length = std::min(length, -clean[i] / way[i]);
    }
    if (length > 1e8) return;
    length = std::max(1.0, length);
    Vec matte{clean[0] + way[0] * length, clean[1] + way[1] * length, clean[2] + way[2] * length};
    for (const double grey : {255.0, 0.0}) {
        const Vec pure{grey, grey, grey};
        const Vec towards{pure[0] - clean[0], pure[1] - clean[1], pure[2] - clean[2]};
        const double square = towards[0] * towards[0] + towards[1] * towards[1] + towards[2] * towards[2];
        if (square < 1) continue;
        const double k = (way[0] * towards[0] + way[1] * towards[1] + way[2] * towards[2]) / square;
        const double off = std::hypot(way[0] - k * towards[0], way[1] - k * towards[1], way[2] - k * towards[2]);
        if (k > 0 && off < 0.12 * std::sqrt(square) * std::max(0.3, k)) {
            matte = pure;
            length = 1 / std::max(1e-3, k);
        }
    }
    const auto code = [](double v) { return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0, 255.0))); };
    out.matte = {code(matte[0]), code(matte[1]), code(matte[2]), 255};
    out.strength = std::clamp(1 / length, 0.0, 1.0);
}

// C - F = k(1 - a)(B - F): the slope over 1 - a, of all but the worst fifth.
void nameCrisp(const std::vector<Sample>& samples, Fringe& out) {
    Vec clean{}, way{};
    for (const Sample& s : samples)
        for (std::size_t i = 0; i < 3; ++i) clean[i] += s.clean[i] / static_cast<double>(samples.size());
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
        if (below <= 0) return;
        for (std::size_t i = 0; i < 3; ++i) way[i] = above[i] / below;
        for (std::size_t j = 0; j < samples.size(); ++j) {
            const Sample& s = samples[j];
            const double u = 1 - s.coverage;
            off[j] = std::hypot(s.colour[0] - s.clean[0] - u * way[0], s.colour[1] - s.clean[1] - u * way[1],
                                s.colour[2] - s.clean[2] - u * way[2]);
        }
    }
    nameMatte(clean, way, out);
}

// Whether a quarter or more of the ring lies 15 to 85 % of the way from its ink to one matte colour, as coverage makes them.
bool nameHard(const std::vector<Sample>& samples, Fringe& out) {
    std::vector<double> off;
    for (const Sample& s : samples) off.push_back(apart(s.colour, s.clean));
    const double far = percentile(off, 0.95);
    if (far < 8) return false;
    std::array<std::vector<double>, 3> channels;
    for (std::size_t j = 0; j < samples.size(); ++j)
        if (off[j] >= far)
            for (std::size_t i = 0; i < 3; ++i) channels[i].push_back(samples[j].colour[i]);
    const Vec matte{percentile(channels[0], 0.5), percentile(channels[1], 0.5), percentile(channels[2], 0.5)};
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
        const double aside = std::sqrt(std::max(0.0, apart(s.colour, s.clean) * apart(s.colour, s.clean) - t * t * square));
        between += t > 0.15 && t < 0.85 && aside < 0.15 * std::sqrt(square) + 4;
    }
    if (between * 4 < static_cast<int>(samples.size())) return false;
    const auto code = [](double v) { return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0, 255.0))); };
    out.matte = {code(matte[0]), code(matte[1]), code(matte[2]), 255};
    out.strength = 1;
    return true;
}

// Colour that had been multiplied by alpha never exceeds it, though the ink is brighter.
bool looksPremultiplied(const std::vector<Sample>& samples) {
    int told = 0, fits = 0;
    for (const Sample& s : samples) {
        const double most = std::max({s.clean[0], s.clean[1], s.clean[2]});
        if (most < 96 || s.coverage > 0.9) continue;
        ++told;
        const Vec expected{s.clean[0] * s.coverage, s.clean[1] * s.coverage, s.clean[2] * s.coverage};
        fits += apart(s.colour, expected) < 6 + 0.06 * most;
    }
    return told >= leastEdge / 2 && fits * 10 >= told * 9;
}

void measure(const Straight8& ink, const std::vector<Spot>& spots, bool hard, int most, Fringe& out) {
    if (static_cast<int>(spots.size()) < leastEdge) return;
    double found = 0;
    const auto samples = samplesOf(ink, spots, hard, most, found);
    if (found < 0.5) return;
    out.told = true;
    std::vector<double> damage;
    for (const Sample& s : samples) damage.push_back(s.damage);
    const double value = percentile(damage, 0.9);
    Fringe named;
    if (hard ? !nameHard(samples, named) : !fallsWithCoverage(samples)) return;
    if (!hard) nameCrisp(samples, named);
    // What resampling leaves in an edge is no matte: none of it is on any side.
    constexpr double leastStrength = 0.08;
    if (named.strength < leastStrength) return;
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

HiddenColour hiddenColourOf(const Straight8& ink, int mostJudged) {
    constexpr int reach = 4;
    constexpr float far = 10;  // CIEDE2000
    constexpr std::uint32_t leastInk = edge::leastInk;
    HiddenColour out;
    const int w = ink.width(), h = ink.height();
    // Clear pixels with ink within reach: how many of the rows about each have ink, then how far the nearest such column is.
    std::vector<Spot> near;
    std::vector<std::uint8_t> rows(static_cast<std::size_t>(w));
    const auto count = [&](int y, int by) {
        if (y < 0 || y >= h) return;
        const std::uint32_t* row = ink.row(y);
        for (std::size_t x = 0; x < rows.size(); ++x) rows[x] = static_cast<std::uint8_t>(rows[x] + (row[x] >> 24 >= leastInk ? by : 0));
    };
    for (int y = 0; y < reach; ++y) count(y, 1);
    for (int y = 0; y < h; ++y) {
        count(y + reach, 1);
        count(y - reach - 1, -1);
        if (std::all_of(rows.begin(), rows.end(), [](std::uint8_t v) { return v == 0; })) continue;
        const std::uint32_t* row = ink.row(y);
        int within = 0;  // columns with ink from x - reach to x + reach
        for (int x = 0; x < std::min(w, reach); ++x) within += rows[static_cast<std::size_t>(x)] != 0;
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
            if (x < 0 || y < 0 || x >= w || y >= h || alphaOf(ink.row(y)[x]) < edge::leastInk) continue;
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
    differenceRow({r.data(), r.data() + n, r.data() + 2 * n}, {r.data() + 3 * n, r.data() + 4 * n, r.data() + 5 * n}, pairs,
                  r.data() + 6 * n);
    out.judged = pairs;
    for (std::size_t i = 0; i < n; ++i)
        if (r[6 * n + i] > far) {
            ++out.far;
            out.spots.push_back(spots[i]);
        }
    return out;
}

}  // namespace zl
