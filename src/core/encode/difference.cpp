// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/difference.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <vector>

#include "base/parallel.h"
#include "raster/bleed.h"
#include "raster/colour_rows.h"

namespace zl {
namespace {

#define ZL_INLINE static inline __attribute__((always_inline))

constexpr int windowSize = 11;
constexpr double sigma = 1.5;
constexpr float c1 = 0.01f * 255 * 0.01f * 255, c2 = 0.03f * 255 * 0.03f * 255;

// A Gaussian window of `length` taps, at most windowSize, that sums to 1; it is symmetric.
struct Window {
    explicit Window(int length) : taps(length) {
        std::array<double, windowSize> w{};
        double sum = 0;
        for (int i = 0; i < length; ++i) {
            const double d = i - (length - 1) / 2.0;
            sum += w[static_cast<std::size_t>(i)] = std::exp(-d * d / (2 * sigma * sigma));
        }
        for (std::size_t i = 0; i < weight.size(); ++i) weight[i] = static_cast<float>(w[i] / sum);
    }
    int taps;
    std::array<float, windowSize> weight{};
};

// A see-through picture laid on mid grey, an opaque one as it is.
const Straight8& onGrey(const Straight8& raster, Straight8& room) {
    if (isOpaque(raster)) return raster;
    room = raster.clone();
    flattenOnto(room, 128, 128, 128);
    return room;
}

// out[x] = sum of weight[k] * line(k)[x], the two ends of the window added before they are weighed.
template <class Line>
ZL_INLINE void weigh(const Window& window, const Line& line, int count, float* __restrict out) {
    if (window.taps == windowSize) {
        const float *v0 = line(0), *v1 = line(1), *v2 = line(2), *v3 = line(3), *v4 = line(4), *v5 = line(5), *v6 = line(6), *v7 = line(7),
                    *v8 = line(8), *v9 = line(9), *v10 = line(10);
        const float w0 = window.weight[0], w1 = window.weight[1], w2 = window.weight[2], w3 = window.weight[3], w4 = window.weight[4],
                    w5 = window.weight[5];
        for (int x = 0; x < count; ++x)
            out[x] = w0 * (v0[x] + v10[x]) + w1 * (v1[x] + v9[x]) + w2 * (v2[x] + v8[x]) + w3 * (v3[x] + v7[x]) + w4 * (v4[x] + v6[x]) +
                     w5 * v5[x];
        return;
    }
    for (int x = 0; x < count; ++x) {
        float sum = 0;
        for (int k = 0; k < window.taps; ++k) sum += window.weight[static_cast<std::size_t>(k)] * line(k)[x];
        out[x] = sum;
    }
}

constexpr int moments = 4;  // of a pair: its means, the sum of its squares, its product

// One channel of one row: the four moments, each weighed along the row into `out[i]`.
ZL_INLINE void alongRow(const std::uint32_t* one, const std::uint32_t* two, int width, int shift, const Window& window, float* const* raw,
                        float* const* out) {
    float* __restrict p = raw[0], * __restrict q = raw[1], * __restrict squares = raw[2], * __restrict product = raw[3];
    for (int x = 0; x < width; ++x) {
        // Centred on 128, so that the squares keep their digits in float.
        const float a = static_cast<float>(static_cast<int>(one[x] >> shift & 255u) - 128);
        const float b = static_cast<float>(static_cast<int>(two[x] >> shift & 255u) - 128);
        p[x] = a;
        q[x] = b;
        squares[x] = a * a + b * b;
        product[x] = a * b;
    }
    for (int i = 0; i < moments; ++i)
        weigh(
            window, [&](int k) { return raw[i] + k; }, width - window.taps + 1, out[i]);
}

// The index of every window of a row; m holds its four moments.
ZL_INLINE double sumOfRow(const float* const* m, int windows, float* __restrict values) {
    const float *meanA = m[0], *meanB = m[1], *squares = m[2], *product = m[3];
    for (int x = 0; x < windows; ++x) {
        const float a = meanA[x], b = meanB[x], variances = squares[x] - (a * a + b * b), covariance = product[x] - a * b;
        const float trueA = a + 128, trueB = b + 128;
        values[x] = (2 * trueA * trueB + c1) * (2 * covariance + c2) / ((trueA * trueA + trueB * trueB + c1) * (variances + c2));
    }
    constexpr int lanes = 8;  // sums side by side: one alone would wait for itself
    double sums[lanes] = {};
    int x = 0;
    for (; x + lanes <= windows; x += lanes)
        for (int i = 0; i < lanes; ++i) sums[i] += values[x + i];
    for (; x < windows; ++x) sums[0] += values[x];
    return std::accumulate(sums, sums + lanes, 0.0);
}

// The windows whose first row is in [from, to): rows go through a ring of as many lines as the window is high.
ZL_INLINE void band(const Straight8& one, const Straight8& two, const Window& across, const Window& down, int from, int to, double* sums) {
    const int width = one.width(), windows = width - across.taps + 1;
    const auto line = static_cast<std::size_t>(width);
    std::vector<float> room(line * static_cast<std::size_t>(moments * (windowSize + 2)));
    const auto lineOf = [&](int i) { return room.data() + line * static_cast<std::size_t>(i); };
    float *raw[moments], *whole[moments];
    for (int i = 0; i < moments; ++i) {
        raw[i] = lineOf(i);
        whole[i] = lineOf(moments + i);
    }
    const auto ring = [&](int i, int y) { return lineOf(2 * moments + i * windowSize + y % windowSize); };
    for (const int shift : {0, 8, 16})
        for (int y = from; y < to + down.taps - 1; ++y) {
            float* into[moments];
            for (int i = 0; i < moments; ++i) into[i] = ring(i, y);
            alongRow(one.row(y), two.row(y), width, shift, across, raw, into);
            const int first = y - down.taps + 1;
            if (first < from) continue;
            for (int i = 0; i < moments; ++i)
                weigh(
                    down, [&](int k) { return ring(i, first + k); }, windows, whole[i]);
            sums[first] += sumOfRow(whole, windows, raw[0]);
        }
}

void bandPlain(const Straight8& one, const Straight8& two, const Window& across, const Window& down, int from, int to, double* sums) {
    band(one, two, across, down, from, to, sums);
}
#if defined(__x86_64__)
__attribute__((target("avx2"))) void bandAvx2(const Straight8& one, const Straight8& two, const Window& across, const Window& down,
                                              int from, int to, double* sums) {
    band(one, two, across, down, from, to, sums);
}
const bool hasAvx2 = __builtin_cpu_supports("avx2");
#endif

// The value at a share of the sorted list, found in the one bin of a histogram that holds it.
float valueAt(double share, std::vector<float>& values) {
    constexpr int bins = 4096;
    constexpr float perUnit = 32;
    const auto binOf = [](float v) { return std::min(bins - 1, static_cast<int>(v * perUnit)); };
    std::vector<std::size_t> counts(bins);
    for (const float v : values) ++counts[static_cast<std::size_t>(binOf(v))];
    auto rank = static_cast<std::size_t>(std::ceil(share * static_cast<double>(values.size()))) - 1;
    int bin = 0;
    for (; rank >= counts[static_cast<std::size_t>(bin)]; ++bin) rank -= counts[static_cast<std::size_t>(bin)];
    std::erase_if(values, [&](float v) { return binOf(v) != bin; });
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(rank);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

// A row's L*, a*, b*, row by row.
std::vector<float> labOf(const Straight8& raster, int threads) {
    const auto width = static_cast<std::size_t>(raster.width());
    std::vector<float> lab(3 * raster.pixels().size());
    overRows(raster.height(), 32, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y) {
            float* row = lab.data() + 3 * width * static_cast<std::size_t>(y);
            labRow(raster.row(y), raster.width(), row, row + width, row + 2 * width);
        }
    });
    return lab;
}

double percentileOf(const std::vector<float>& lab, PixelSize size, const Straight8& other, int threads) {
    if (lab.empty()) return 0;
    Straight8 room;
    const Straight8& two = onGrey(other, room);
    const auto width = static_cast<std::size_t>(size.width);
    std::vector<float> values(lab.size() / 3);
    overRows(size.height, 32, threads, [&](int from, int to) {
        std::vector<float> lines(3 * width);
        for (int y = from; y < to; ++y) {
            const float *one = lab.data() + 3 * width * static_cast<std::size_t>(y), *it = lines.data();
            labRow(two.row(y), size.width, lines.data(), lines.data() + width, lines.data() + 2 * width);
            differenceRow({one, one + width, one + 2 * width}, {it, it + width, it + 2 * width}, size.width,
                          values.data() + width * static_cast<std::size_t>(y));
        }
    });
    return valueAt(0.99, values);
}

}  // namespace

double ssim(const Straight8& first, const Straight8& second, int threads) {
    Straight8 firstRoom, secondRoom;
    const Straight8 &one = onGrey(first, firstRoom), &two = onGrey(second, secondRoom);
    if (one.empty()) return 1;
    const Window across(std::min(windowSize, one.width())), down(std::min(windowSize, one.height()));
    const int windowsX = one.width() - across.taps + 1, windowsY = one.height() - down.taps + 1;
    std::vector<double> rows(static_cast<std::size_t>(windowsY));
    auto work = bandPlain;
#if defined(__x86_64__)
    if (hasAvx2) work = bandAvx2;
#endif
    constexpr int rowsAtOnce = 90;
    overRows(windowsY, rowsAtOnce, threads, [&](int from, int to) { work(one, two, across, down, from, to, rows.data()); });
    const double all = std::accumulate(rows.begin(), rows.end(), 0.0);  // in order: the same on any number of threads
    return all / (3.0 * windowsX * windowsY);
}

double de00Percentile99(const Straight8& first, const Straight8& second, int threads) {
    Straight8 room;
    const Straight8& one = onGrey(first, room);
    return percentileOf(labOf(one, threads), one.size(), second, threads);
}

Difference difference(const Straight8& one, const Straight8& two, int threads) {
    return Original(one).to(two, threads);
}

Difference Original::to(const Straight8& other, int threads) const {
    std::call_once(once_, [&] { lab_ = labOf(onGrey(picture_, onGrey_), threads); });
    const Straight8& one = onGrey_.empty() ? picture_ : onGrey_;
    return {zl::ssim(one, other, threads), percentileOf(lab_, one.size(), other, threads)};
}

}  // namespace zl
