// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/difference.h"

#include <array>
#include <cmath>
#include <mutex>
#include <numeric>
#include <vector>

#include "base/parallel.h"
#include "raster/bleed.h"
#include "raster/colour.h"

namespace zl {
namespace {

constexpr int windowSize = 11;
constexpr double sigma = 1.5, c1 = 0.01 * 255 * 0.01 * 255, c2 = 0.03 * 255 * 0.03 * 255;

std::array<float, windowSize> gaussian(int length) {
    std::array<double, windowSize> w{};
    double sum = 0;
    for (int i = 0; i < length; ++i) {
        const double d = i - (length - 1) / 2.0;
        sum += w[static_cast<std::size_t>(i)] = std::exp(-d * d / (2 * sigma * sigma));
    }
    std::array<float, windowSize> out{};
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = static_cast<float>(w[i] / sum);
    return out;
}

Straight8 onGrey(const Straight8& raster) {
    Straight8 copy = raster.clone();
    flattenOnto(copy, 128, 128, 128);
    return copy;
}

// The five moments of a channel pair: means, squares and product, weighed down a column.
struct Moments {
    explicit Moments(std::size_t n) : a(n), b(n), aa(n), bb(n), ab(n) {}
    std::vector<float> a, b, aa, bb, ab;
};

void addRow(Moments& m, const std::uint32_t* one, const std::uint32_t* two, int width, int shift, float w) {
    float *a = m.a.data(), *b = m.b.data(), *aa = m.aa.data(), *bb = m.bb.data(), *ab = m.ab.data();
    for (int x = 0; x < width; ++x) {
        // Centred on 128, so that the squares keep their digits in float.
        const float p = static_cast<float>(static_cast<int>(one[x] >> shift & 255u) - 128);
        const float q = static_cast<float>(static_cast<int>(two[x] >> shift & 255u) - 128);
        a[x] += w * p;
        b[x] += w * q;
        aa[x] += w * p * p;
        bb[x] += w * q * q;
        ab[x] += w * p * q;
    }
}

double acrossRow(const Moments& m, const std::array<float, windowSize>& weights, int taps, int windows) {
    double sum = 0;
    for (int x = 0; x < windows; ++x) {
        float v[5] = {};
        const float* from[5] = {m.a.data() + x, m.b.data() + x, m.aa.data() + x, m.bb.data() + x, m.ab.data() + x};
        for (int k = 0; k < taps; ++k)
            for (int i = 0; i < 5; ++i) v[i] += weights[static_cast<std::size_t>(k)] * from[i][k];
        const double meanA = v[0], meanB = v[1];
        const double varA = v[2] - meanA * meanA, varB = v[3] - meanB * meanB, cov = v[4] - meanA * meanB;
        const double trueA = meanA + 128, trueB = meanB + 128;
        sum += (2 * trueA * trueB + c1) * (2 * cov + c2) / ((trueA * trueA + trueB * trueB + c1) * (varA + varB + c2));
    }
    return sum;
}

}  // namespace

double ssim(const Straight8& first, const Straight8& second) {
    const Straight8 one = onGrey(first), two = onGrey(second);
    if (one.empty()) return 1;
    const int tapsX = std::min(windowSize, one.width()), tapsY = std::min(windowSize, one.height());
    const auto wx = gaussian(tapsX), wy = gaussian(tapsY);
    const int windowsX = one.width() - tapsX + 1, windowsY = one.height() - tapsY + 1;
    std::vector<double> rows(static_cast<std::size_t>(windowsY));
    overRows(windowsY, 16, coreCount(), [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (const int shift : {0, 8, 16}) {
                Moments m(static_cast<std::size_t>(one.width()));
                for (int k = 0; k < tapsY; ++k)
                    addRow(m, one.row(y + k), two.row(y + k), one.width(), shift, wy[static_cast<std::size_t>(k)]);
                rows[static_cast<std::size_t>(y)] += acrossRow(m, wx, tapsX, windowsX);
            }
    });
    const double all = std::accumulate(rows.begin(), rows.end(), 0.0);  // in order: the same on any number of threads
    return all / (3.0 * windowsX * windowsY);
}

double de00Percentile99(const Straight8& first, const Straight8& second) {
    const Straight8 one = onGrey(first), two = onGrey(second);
    if (one.empty()) return 0;
    std::vector<float> values(one.pixels().size());
    overRows(one.height(), 32, coreCount(), [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < one.width(); ++x) {
                const std::uint32_t p = one.row(y)[x], q = two.row(y)[x];
                values[static_cast<std::size_t>(y) * static_cast<std::size_t>(one.width()) + static_cast<std::size_t>(x)] =
                    p == q ? 0.0f
                           : static_cast<float>(
                                 differenceCie2000(labOf(redOf(p), greenOf(p), blueOf(p)), labOf(redOf(q), greenOf(q), blueOf(q))));
            }
    });
    const auto at = static_cast<std::ptrdiff_t>(std::ceil(0.99 * static_cast<double>(values.size()))) - 1;
    std::nth_element(values.begin(), values.begin() + at, values.end());
    return values[static_cast<std::size_t>(at)];
}

Difference difference(const Straight8& one, const Straight8& two) {
    return {ssim(one, two), de00Percentile99(one, two)};
}

}  // namespace zl
