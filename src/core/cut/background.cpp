// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/background.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>
#include <vector>

#include "cut/block_code.h"

namespace zl {
namespace {

constexpr int farFromIt = 24;  // code values: beyond it is ink, whatever the noise
constexpr int opaqueEnough = 250;

std::vector<std::uint32_t> borderOf(const Straight8& p) {
    std::vector<std::uint32_t> border;
    for (int x = 0; x < p.width(); ++x) {
        border.push_back(p.row(0)[x]);
        if (p.height() > 1) border.push_back(p.row(p.height() - 1)[x]);
    }
    for (int y = 1; y + 1 < p.height(); ++y) {
        border.push_back(p.row(y)[0]);
        if (p.width() > 1) border.push_back(p.row(y)[p.width() - 1]);
    }
    return border;
}

// How far each pixel is from the background, code values; up to three quarters of one count as
// none.
class Away {
  public:
    Away(const Straight8& picture, const std::array<double, 3>& background)
        : size_(picture.size()), values_(static_cast<std::size_t>(picture.size().count())) {
        std::uint8_t* out = values_.data();
        const auto r = static_cast<float>(background[0]), g = static_cast<float>(background[1]),
                   b = static_cast<float>(background[2]);
        for (const std::uint32_t p : picture.pixels()) {
            const float dr = std::abs(static_cast<float>(redOf(p)) - r),
                        dg = std::abs(static_cast<float>(greenOf(p)) - g),
                        db = std::abs(static_cast<float>(blueOf(p)) - b);
            *out++ = static_cast<std::uint8_t>(std::max(dr, std::max(dg, db)) + 0.25f);
        }
    }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    const std::uint8_t* row(int y) const {
        return values_.data() + static_cast<std::ptrdiff_t>(y) * size_.width;
    }

  private:
    PixelSize size_;
    std::vector<std::uint8_t> values_;
};

// Along every row and every column, to either side: step(place, state) with a state that lives as
// long as the line does. Columns are walked side by side, as memory lies.
template <class Step>
void alongLines(const Away& away, int every, const Step& step) {
    const int w = away.width(), h = away.height();
    for (int y = 0; y < h; y += every) {
        int state = 1 << 20;
        for (int x = 0; x < w; ++x) step(x, y, true, false, state);
        state = 1 << 20;
        for (int x = w - 1; x >= 0; --x) step(x, y, true, true, state);
    }
    std::vector<int> states(static_cast<std::size_t>(w), 1 << 20);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; x += every)
            step(x, y, false, false, states[static_cast<std::size_t>(x)]);
    std::fill(states.begin(), states.end(), 1 << 20);
    for (int y = h - 1; y >= 0; --y)
        for (int x = 0; x < w; x += every)
            step(x, y, false, true, states[static_cast<std::size_t>(x)]);
}

// What counts as strong ink: far from the background, or half as far as the farthest where all ink
// is faint.
int strongOf(const Away& away) {
    std::array<long long, 256> counts{};
    long long all = 0;
    for (int y = 0; y < away.height(); y += 2)
        for (int x = 0; x < away.width(); x += 2) {
            ++counts[away.row(y)[x]];
            ++all;
        }
    long long seen = 0;
    int most = 255;
    for (; most > 0; --most)
        if ((seen += counts[static_cast<std::size_t>(most)]) > std::max(4LL, all / 2000)) break;
    return std::clamp(most / 2, 6, farFromIt);
}

// Calls `tell(x, y)` for background-like pixels 2 to 8 px from strong ink along their row or
// column.
template <class Tell>
void nearInk(const Away& away, int strong, const Tell& tell) {
    constexpr int nearest = 3, farthest = 8;
    const int every = static_cast<long long>(away.width()) * away.height() > 2'000'000 ? 2 : 1;
    alongLines(away, every, [&](int x, int y, bool, bool, int& since) {
        since = away.row(y)[x] >= strong ? 0 : since + 1;
        if (since >= nearest && since <= farthest) tell(x, y);
    });
}

std::optional<Grid> gridOf(const Away& away) {
    // Where a stretch of flat background ends in faint noise: in a JPEG at the ends of blocks.
    std::array<long long, 8> columns{}, rows{};
    constexpr int stretch = 4, outside = 1 << 19;
    alongLines(away, 1, [&](int x, int y, bool alongRow, bool backwards, int& flat) {
        if (flat > outside) flat = 0;
        const int v = away.row(y)[x],
                  place = (alongRow ? x : y) +
                          (backwards ? 1 : 0);  // backwards, the block begins one further on
        if (flat >= stretch && v > 0 && v < farFromIt)
            ++(alongRow ? columns : rows)[static_cast<std::size_t>(place % 8)];
        flat = v == 0 ? flat + 1 : 0;
    });
    // Halved chroma is spread by a pixel: the neighbours of a phase speak for it.
    const auto strongest = [](const std::array<long long, 8>& counts) {
        long long all = 0;
        for (const long long n : counts) all += n;
        std::size_t best = 0;
        double most = 0;
        for (std::size_t i = 0; i < 8; ++i) {
            const double here = static_cast<double>(counts[i]),
                         wide =
                             here + static_cast<double>(counts[(i + 1) % 8] + counts[(i + 7) % 8]);
            if (const double weight = wide + 0.01 * here; weight > most) {
                most = weight;
                best = i;
            }
        }
        const double wide =
            static_cast<double>(counts[best] + counts[(best + 1) % 8] + counts[(best + 7) % 8]);
        return std::tuple(static_cast<int>(best), all,
                          all > 0 ? wide / static_cast<double>(all) : 0.0);
    };
    const auto [x, allX, acrossShare] = strongest(columns);
    const auto [y, allY, downShare] = strongest(rows);
    constexpr long long enough = 48;
    constexpr double clear = 0.55;  // chance: 0.375
    if (allX < enough || allY < enough || acrossShare < clear || downShare < clear) return {};
    return Grid{x, y, std::min(acrossShare, downShare)};
}

}  // namespace

Colour Background::rounded() const {
    const auto code = [&](std::size_t i) {
        return static_cast<std::uint8_t>(std::clamp(std::lround(colour[i]), 0L, 255L));
    };
    return {code(0), code(1), code(2), 255};
}

Background backgroundOf(const Straight8& picture) {
    Background out;
    if (picture.empty()) return out;
    const auto border = borderOf(picture);
    // The commonest cell of 16 code values a side, with its neighbours in mind: the mean of what
    // lies near its own mean.
    std::unordered_map<std::uint32_t, std::array<double, 4>> cells;
    for (const std::uint32_t p : border) {
        if (alphaOf(p) < opaqueEnough) continue;
        auto& cell = cells[(p >> 4 & 0x0F) | (p >> 8 & 0xF0) | (p >> 12 & 0xF00)];
        cell[0] += redOf(p);
        cell[1] += greenOf(p);
        cell[2] += blueOf(p);
        cell[3] += 1;
    }
    const std::array<double, 4>* most = nullptr;
    std::uint32_t mostKey = 0;
    for (const auto& [key, cell] : cells)
        if (!most || cell[3] > (*most)[3] || (cell[3] == (*most)[3] && key < mostKey)) {
            most = &cell;
            mostKey = key;
        }
    if (!most) return out;
    std::array<double, 3> mean{(*most)[0] / (*most)[3], (*most)[1] / (*most)[3],
                               (*most)[2] / (*most)[3]};
    constexpr double same = 12;  // code values
    long long within = 0;
    for (int round = 0; round < 3; ++round) {
        std::array<double, 3> sum{};
        within = 0;
        for (const std::uint32_t p : border) {
            if (alphaOf(p) < opaqueEnough || awayFrom(p, mean) > same) continue;
            sum[0] += redOf(p);
            sum[1] += greenOf(p);
            sum[2] += blueOf(p);
            ++within;
        }
        if (within == 0) break;
        for (std::size_t c = 0; c < 3; ++c) mean[c] = sum[c] / static_cast<double>(within);
    }
    // A colour that most of them have exactly is exact.
    std::unordered_map<std::uint32_t, long long> exact;
    for (const std::uint32_t p : border)
        if (alphaOf(p) >= opaqueEnough && awayFrom(p, mean) <= same) ++exact[p & 0xFFFFFF];
    std::uint32_t commonest = 0;
    long long count = 0;
    for (const auto& [p, n] : exact)
        if (n > count || (n == count && p < commonest)) {
            commonest = p;
            count = n;
        }
    out.exact = 2 * count >= within;
    if (out.exact)
        mean = {static_cast<double>(redOf(commonest)), static_cast<double>(greenOf(commonest)),
                static_cast<double>(blueOf(commonest))};
    out.colour = mean;
    out.share = static_cast<double>(within) / static_cast<double>(border.size());
    return out;
}

std::optional<Grid> blockGridOf(const Straight8& picture, const std::array<double, 3>& background) {
    return gridOf(Away(picture, background));
}

bool hasHalfChroma(const Straight8& picture) {
    // For each phase: how far middle differences are from the mean of their neighbours, and from 0;
    // and how large they are at all.
    struct Phase {
        double offMean = 0, offZero = 0, all = 0;
    };
    std::array<Phase, 2> phases;
    const std::array<int (*)(std::uint32_t), 2> chromas{
        [](std::uint32_t p) { return redOf(p) - greenOf(p); },
        [](std::uint32_t p) { return blueOf(p) - greenOf(p); }};
    const auto clipped = [](std::uint32_t p) {
        return std::max({redOf(p), greenOf(p), blueOf(p)}) == 255 ||
               std::min({redOf(p), greenOf(p), blueOf(p)}) == 0;
    };
    constexpr double edge = 6;  // code values of chroma
    for (int y = 0; y < picture.height(); ++y) {
        const std::uint32_t* row = picture.row(y);
        for (int x = 2; x + 2 < picture.width(); ++x) {
            if (row[x - 1] == row[x] && row[x] == row[x + 1]) continue;
            if (clipped(row[x - 1]) || clipped(row[x]) || clipped(row[x + 1]) ||
                clipped(row[x + 2]))
                continue;
            for (const auto chroma : chromas) {
                const double before = chroma(row[x]) - chroma(row[x - 1]),
                             middle = chroma(row[x + 1]) - chroma(row[x]),
                             after = chroma(row[x + 2]) - chroma(row[x + 1]);
                if (std::abs(before) + std::abs(middle) + std::abs(after) < edge) continue;
                Phase& phase = phases[static_cast<std::size_t>(x % 2)];
                phase.offMean += std::abs(middle - (before + after) / 2);
                phase.offZero += std::abs(middle);
                phase.all += (std::abs(before) + std::abs(middle) + std::abs(after)) / 3;
            }
        }
    }
    constexpr double enough = 200, clear = 0.55;
    for (std::size_t i = 0; i < 2; ++i) {
        const Phase &one = phases[i], &other = phases[1 - i];
        if (one.all < enough || other.all < enough) continue;
        const double mean = one.offMean / one.all, otherMean = other.offMean / other.all,
                     zero = one.offZero / one.all;
        if ((mean < 0.45 && mean < clear * otherMean) || zero < 0.15) return true;
    }
    return false;
}

namespace {

// What few pixels are rougher than.
int roughLevel(const std::array<long long, 256>& rough, long long count) {
    long long seen = 0;
    constexpr double mostRough = 0.03;  // of them may be rougher than the noise is said to be
    int level = 255;
    for (; level > 0; --level) {
        seen += rough[static_cast<std::size_t>(level)];
        if (static_cast<double>(seen) > mostRough * static_cast<double>(count)) break;
    }
    return level;
}

}  // namespace

Noise noiseOf(const Straight8& picture, const std::array<double, 3>& background) {
    Noise out;
    if (picture.width() < 3 || picture.height() < 3) return out;
    const Away away(picture, background);
    const int strong = strongOf(away);
    // Roughness, not distance: a soft shadow is far from the background too, but smooth.
    std::array<long long, 256> rough{};
    long long count = 0, calm = 0, ruffled = 0;
    double luma = 0, chroma = 0;
    nearInk(away, strong, [&](int x, int y) {
        if (x < 1 || y < 1 || x + 1 >= picture.width() || y + 1 >= picture.height()) return;
        const std::uint8_t* here = away.row(y) + x;
        if (*here >= strong || here[-1] >= strong || here[1] >= strong ||
            away.row(y - 1)[x] >= strong || away.row(y + 1)[x] >= strong)
            return;
        const std::uint32_t p = picture.row(y)[x];
        const std::array<std::uint32_t, 4> around{picture.row(y)[x - 1], picture.row(y)[x + 1],
                                                  picture.row(y - 1)[x], picture.row(y + 1)[x]};
        std::array<double, 3> bend{redOf(p) * 1.0, greenOf(p) * 1.0, blueOf(p) * 1.0};
        for (const std::uint32_t q : around) {
            bend[0] -= redOf(q) / 4.0;
            bend[1] -= greenOf(q) / 4.0;
            bend[2] -= blueOf(q) / 4.0;
        }
        const double most = std::max({std::abs(bend[0]), std::abs(bend[1]), std::abs(bend[2])});
        ++rough[static_cast<std::size_t>(std::min(255.0, std::ceil(most)))];
        ++count;
        // Where all is near the background, thin or light ink of a lossless picture is left out.
        constexpr int faint = 8;
        if (std::max({*here, here[-1], here[1], away.row(y - 1)[x], away.row(y + 1)[x]}) <= faint) {
            ++calm;
            ruffled += most > 1;
        }
        const std::array<double, 3> d{redOf(p) - background[0], greenOf(p) - background[1],
                                      blueOf(p) - background[2]};
        const double dy = 0.299 * d[0] + 0.587 * d[1] + 0.114 * d[2];
        luma += dy * dy;
        const double cb = 0.564 * (d[2] - dy), cr = 0.713 * (d[0] - dy);
        chroma += (cb * cb + cr * cr) / 2;
    });
    if (count < 16) return out;
    const int level = roughLevel(rough, count);
    // The blocks' fine coefficients tell, where there are blocks with an edge that is not clipped.
    // Else, and for what was changed since: a lossless edge has nothing beside it, and a JPEG's
    // ringing is nearly everywhere.
    auto coded = wasCodedInBlocks(picture);
    if (const auto grid = gridOf(away); grid && coded != true)
        if (const auto there = wasCodedInBlocks(picture, grid->x, grid->y)) coded = there;
    out.lossy = ruffled * 4 > calm || (coded ? *coded : ruffled * 50 > calm);
    if (!out.lossy) return out;
    out.halfChroma = hasHalfChroma(picture);
    out.luma = std::sqrt(luma / static_cast<double>(count));
    out.chroma = std::sqrt(chroma / static_cast<double>(count));
    out.tolerance = std::clamp(1.0 + level, 3.0, 20.0);
    return out;
}

}  // namespace zl
