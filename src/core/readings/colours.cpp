// SPDX-License-Identifier: GPL-3.0-or-later
// `colours`: how many inks a mark has, where the brief asks for few. An ink is what lies plain: a
// pixel counts when its 3 x 3 neighbourhood of ink is of one colour, so that mixtures along an edge
// are none. Shades that run into each other are one ink. Common practice, no source: one colour
// reads best as a corner mark.
#include <fmt/core.h>

#include <algorithm>
#include <map>

#include "readings/reading.h"

namespace zl {
namespace {

constexpr int seenAlpha = 128;       // ink that a neighbourhood is looked at for
constexpr int plainWithin = 8;       // code values that a plain neighbourhood may differ by
constexpr int runsOn = 3;            // cells of 8 code values: shades no farther apart are one ink
constexpr double most = 0.99;        // of the plain ink, by alpha: what the inks together cover
constexpr double leastShare = 0.02;  // of the plain ink: less is a detail
constexpr double leastPlain = 0.10;  // of the ink: with less of it plain, there is no telling

struct Plain {
    std::map<std::array<int, 3>, double> cells;  // by 5 bits a channel: alpha, summed
    double plain = 0, all = 0;
};

bool isPlain(const Straight8& p, int x, int y) {
    std::array<int, 3> low{255, 255, 255}, high{0, 0, 0};
    for (int sy = std::max(0, y - 1); sy <= std::min(p.height() - 1, y + 1); ++sy)
        for (int sx = std::max(0, x - 1); sx <= std::min(p.width() - 1, x + 1); ++sx) {
            const std::uint32_t q = p.row(sy)[sx];
            if (alphaOf(q) < seenAlpha) continue;
            const std::array<int, 3> v{redOf(q), greenOf(q), blueOf(q)};
            for (std::size_t c = 0; c < 3; ++c) {
                low[c] = std::min(low[c], v[c]);
                high[c] = std::max(high[c], v[c]);
            }
        }
    return std::max({high[0] - low[0], high[1] - low[1], high[2] - low[2]}) <= plainWithin;
}

Plain plainOf(const Straight8& p) {
    Plain out;
    for (int y = 0; y < p.height(); ++y)
        for (int x = 0; x < p.width(); ++x) {
            const std::uint32_t q = p.row(y)[x];
            out.all += alphaOf(q);
            if (alphaOf(q) == 0 || !isPlain(p, x, y)) continue;
            out.plain += alphaOf(q);
            out.cells[{redOf(q) >> 3, greenOf(q) >> 3, blueOf(q) >> 3}] += alphaOf(q);
        }
    return out;
}

// Cells that run into each other, as inks; those too small to count are left out.
long long inksOf(const Plain& plain) {
    std::vector<std::pair<std::array<int, 3>, double>> cells(plain.cells.begin(),
                                                             plain.cells.end());
    std::stable_sort(cells.begin(), cells.end(),
                     [](const auto& a, const auto& b) { return a.second > b.second; });
    double covered = 0;
    std::size_t kept = 0;
    while (kept < cells.size() && covered < most * plain.plain) covered += cells[kept++].second;
    cells.resize(kept);
    std::vector<int> ink(kept, -1);
    long long count = 0;
    for (std::size_t i = 0; i < kept; ++i) {
        if (ink[i] >= 0) continue;
        std::vector<std::size_t> todo{i};
        ink[i] = static_cast<int>(i);
        double weight = 0;
        while (!todo.empty()) {
            const std::size_t one = todo.back();
            todo.pop_back();
            weight += cells[one].second;
            for (std::size_t j = 0; j < kept; ++j) {
                if (ink[j] >= 0) continue;
                const auto &a = cells[one].first, &b = cells[j].first;
                if (std::max({std::abs(a[0] - b[0]), std::abs(a[1] - b[1]),
                              std::abs(a[2] - b[2])}) > runsOn)
                    continue;
                ink[j] = static_cast<int>(i);
                todo.push_back(j);
            }
        }
        count += weight >= leastShare * plain.plain;
    }
    return count;
}

}  // namespace

Reading measureColours(const Subject& subject) {
    Reading reading;
    reading.unit = "inks";
    if (!subject.brief->colours) {
        reading.says = {"colours.any", {}};
        return reading;
    }
    const int few = *subject.brief->colours;
    reading.limit = static_cast<double>(few);
    const Plain plain = plainOf(*subject.pixels);
    if (plain.all <= 0) {
        reading.says = {"colours.none", {}};
        return reading;
    }
    if (plain.plain < leastPlain * plain.all) {
        reading.verdict = Verdict::watch;
        reading.shown = "many";
        reading.shownBeside = "inks, none of them plain";
        reading.says = {"colours.no-plain", {static_cast<long long>(few)}};
        return reading;
    }
    const long long count = inksOf(plain);
    reading.value = static_cast<double>(count);
    reading.verdict = count <= few ? Verdict::pass : Verdict::watch;
    reading.rule = Rule{static_cast<double>(count), static_cast<double>(few), 4.0 * few};
    reading.shown = fmt::format("{}", count);
    reading.shownBeside = fmt::format("of {} that read well", few);
    reading.says = count == 1 ? Message{"colours.one", {static_cast<long long>(few)}}
                              : Message{count <= few ? "colours.few" : "colours.many",
                                        {count, static_cast<long long>(few)}};
    return reading;
}

}  // namespace zl
