// SPDX-License-Identifier: GPL-3.0-or-later
#include "tone/tone.h"

#include <cmath>
#include <vector>

#include "base/parallel.h"
#include "base/processor.h"
#include "colour/colour.h"
#include "raster/blur.h"

namespace zl {
namespace {

// What happens to one channel by itself: 256 values, 0..1.
using Curve = std::array<float, 256>;

// IEC 61966-2-1, as colour/colour.h has it in double.
long double linear(long double e) {
    return e <= 0.04045L ? e / 12.92L : std::pow((e + 0.055L) / 1.055L, 2.4L);
}
long double encoded(long double l) {
    return l <= 0.0031308L ? l * 12.92L : 1.055L * std::pow(l, 1 / 2.4L) - 0.055L;
}

Curve curveOf(const Tone& tone, double gain) {
    Curve curve{};
    // In long double: the C library's power in double has one way for processors that multiply
    // and add in one step and another for the rest, and the last bit differs between them.
    const long double brighten = std::exp2(-static_cast<long double>(tone.brightness) / 100),
                      steepen = std::exp2(static_cast<long double>(tone.contrast) / 100);
    for (std::size_t i = 0; i < curve.size(); ++i) {
        long double v = static_cast<long double>(i) / 255;
        if (gain != 1) v = encoded(std::min(1.0L, linear(v) * gain));
        if (tone.brightness != 0) v = std::pow(v, brighten);
        if (tone.contrast != 0)
            v = v < 0.5 ? 0.5L * std::pow(2 * v, steepen)
                        : 1 - 0.5L * std::pow(2 * (1 - v), steepen);
        curve[i] = static_cast<float>(v);
    }
    return curve;
}

float lumaOf(std::uint32_t p, const Curve (&curves)[3]) {
    return 0.2126f * curves[0][p & 255u] + 0.7152f * curves[1][p >> 8 & 255u] +
           0.0722f * curves[2][p >> 16 & 255u];
}

// The luma's neighbourhood, `k` times as small: means of squares, blurred, divided by what of the
// blur lies inside the picture. It has no detail, so little is lost, and it costs next to nothing.
struct Neighbourhood {
    Plane small;
    int k = 1;
    // A row of it at full size, between the four nearest means; `line` is room for one of its own
    // rows.
    void row(int y, int width, std::vector<float>& line, float* out) const {
        const float sy = (static_cast<float>(y) + 0.5f) / static_cast<float>(k) - 0.5f;
        const int iy = std::clamp(static_cast<int>(sy), 0, std::max(0, small.height() - 2)),
                  jy = std::min(iy + 1, small.height() - 1);
        const float fy = std::clamp(sy - static_cast<float>(iy), 0.0f, 1.0f);
        const int n = small.width();
        line.resize(static_cast<std::size_t>(n) + 2);
        for (int x = 0; x < n; ++x)
            line[static_cast<std::size_t>(x) + 1] =
                small.row(iy)[x] * (1 - fy) + small.row(jy)[x] * fy;
        line.front() = line[1];
        line.back() = line[static_cast<std::size_t>(n)];
        // From one mean to the next, k pixels of one slope each.
        const float per = 1 / static_cast<float>(k);
        for (int i = 0, x = 0; x < width; ++i) {
            // As far as x lies between the i-th mean and the next.
            const int end = std::min(
                width, static_cast<int>(std::ceil(
                           (static_cast<float>(i) + 0.5f) * static_cast<float>(k) - 0.5f)));
            const float a = line[static_cast<std::size_t>(std::min(i, n + 1))],
                        slope = (line[static_cast<std::size_t>(std::min(i + 1, n + 1))] - a) * per;
            const float from = (static_cast<float>(i) - 0.5f) * static_cast<float>(k) - 0.5f;
            for (; x < end; ++x) out[x] = a + slope * (static_cast<float>(x) - from);
        }
    }
};

Neighbourhood neighbourhoodOf(const Straight8& picture, const Curve (&curves)[3], int threads,
                              const std::stop_token& stop) {
    const double sigma = std::max(1.0, 0.01 * std::hypot(picture.width(), picture.height()));
    Neighbourhood out;
    out.k = std::max(1, static_cast<int>(sigma / 4));
    const int k = out.k, stride = std::clamp(
                             k / 2, 1, 4);  // of a wide blur a few pixels a square tell as much
    out.small = Plane({(picture.width() + k - 1) / k, (picture.height() + k - 1) / k});
    overRows(out.small.height(), 4, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < out.small.width(); ++x) {
                float sum = 0;
                int count = 0;
                for (int sy = y * k; sy < std::min(picture.height(), (y + 1) * k); sy += stride)
                    for (int sx = x * k; sx < std::min(picture.width(), (x + 1) * k);
                         sx += stride) {
                        sum += lumaOf(picture.row(sy)[sx], curves);
                        ++count;
                    }
                out.small.row(y)[x] = sum / static_cast<float>(count);
            }
    });
    Plane soft = blurred(out.small, sigma / k, 0, 0, threads, stop);
    const Plane inside = blurred(Plane(out.small.size(), 1), sigma / k, 0, 0, threads, stop);
    for (int y = 0; y < soft.height(); ++y)
        for (int x = 0; x < soft.width(); ++x) soft.row(y)[x] /= std::max(1e-3f, inside.row(y)[x]);
    out.small = std::move(soft);
    return out;
}

std::uint32_t code(float v) {
    return static_cast<std::uint32_t>(std::clamp(v, 0.0f, 1.0f) * 255.0f + 0.5f);
}

// A row between its curves and its pixels, 0..1; `soft` is the luma's neighbourhood.
struct Row {
    float *red, *green, *blue, *soft;
};

ZL_INLINE void mix(const Row& row, const std::uint32_t* __restrict source, int width, float clarity,
                   float saturate, std::uint32_t* __restrict target) {
    const auto byte = [](float v) {
        return static_cast<std::int32_t>(std::min(std::max(v, 0.0f), 1.0f) * 255.0f + 0.5f);
    };
    for (int x = 0; x < width; ++x) {
        float r = row.red[x], g = row.green[x], b = row.blue[x];
        const float by = clarity * (0.2126f * r + 0.7152f * g + 0.0722f * b - row.soft[x]);
        r += by * (1.0f - std::abs(2.0f * r - 1.0f));
        g += by * (1.0f - std::abs(2.0f * g - 1.0f));
        b += by * (1.0f - std::abs(2.0f * b - 1.0f));
        const float grey = 0.2126f * r + 0.7152f * g + 0.0722f * b;
        r = grey + (r - grey) * saturate;
        g = grey + (g - grey) * saturate;
        b = grey + (b - grey) * saturate;
        target[x] = static_cast<std::uint32_t>(byte(r) | byte(g) << 8 | byte(b) << 16) |
                    (source[x] & 0xFF000000u);
    }
}
ZL_FOR_THIS_PROCESSOR(void, mixAndPack,
                      (const Row& row, const std::uint32_t* source, int width, float clarity,
                       float saturate, std::uint32_t* target),
                      mix(row, source, width, clarity, saturate, target));

PixelRect regionOf(const Veil& veil, PixelSize size) {
    return roundOutwards(veil.region).intersected(PixelRect::of(size));
}

void coarsen(Straight8& picture, const Veil& veil) {
    const PixelRect region = regionOf(veil, picture.size());
    const int side = std::max(1, static_cast<int>(std::lround(veil.px)));
    for (int top = region.top; top < region.bottom; top += side)
        for (int left = region.left; left < region.right; left += side) {
            const PixelRect square =
                PixelRect{left, top, left + side, top + side}.intersected(region);
            double sum[4] = {};
            for (int y = square.top; y < square.bottom; ++y)
                for (int x = square.left; x < square.right; ++x) {
                    const std::uint32_t p = picture.row(y)[x];
                    const double a = alphaOf(p);
                    sum[0] += redOf(p) * a;
                    sum[1] += greenOf(p) * a;
                    sum[2] += blueOf(p) * a;
                    sum[3] += a;
                }
            const auto mean = [&](int c) {
                return sum[3] > 0 ? static_cast<int>(std::lround(sum[c] / sum[3])) : 0;
            };
            const auto alpha =
                static_cast<int>(std::lround(sum[3] / static_cast<double>(square.size().count())));
            const std::uint32_t flat = packed(mean(0), mean(1), mean(2), alpha);
            for (int y = square.top; y < square.bottom; ++y)
                std::fill(picture.row(y) + square.left, picture.row(y) + square.right, flat);
        }
}

void soften(Straight8& picture, const Veil& veil, int threads) {
    const PixelRect region = regionOf(veil, picture.size());
    const double sigma = veil.px / 2;
    const int room = static_cast<int>(std::ceil(4 * sigma)) + 1;
    const PixelRect around =
        PixelRect{region.left - room, region.top - room, region.right + room, region.bottom + room}
            .intersected(PixelRect::of(picture.size()));
    Plane planes[5];  // colour premultiplied, alpha, and what of the blur lies inside the picture
    for (Plane& plane : planes) plane = Plane(around.size(), 1);
    for (int y = 0; y < around.height(); ++y)
        for (int x = 0; x < around.width(); ++x) {
            const std::uint32_t p = picture.row(y + around.top)[x + around.left];
            const float a = static_cast<float>(alphaOf(p)) / 255.0f;
            for (int c = 0; c < 3; ++c)
                planes[c].row(y)[x] = static_cast<float>(p >> 8 * c & 255u) / 255.0f * a;
            planes[3].row(y)[x] = a;
        }
    for (Plane& plane : planes) plane = blurred(plane, sigma, 0, 0, threads);
    for (int y = region.top; y < region.bottom; ++y)
        for (int x = region.left; x < region.right; ++x) {
            const auto v = [&](int i) { return planes[i].row(y - around.top)[x - around.left]; };
            const float back = v(3) > 1e-6f ? 1.0f / v(3) : 0.0f;
            picture.row(y)[x] = code(v(0) * back) | code(v(1) * back) << 8 |
                                code(v(2) * back) << 16 | code(v(3) / std::max(1e-6f, v(4))) << 24;
        }
}

constexpr auto starts = std::to_array<ToneStart>({
    {"lifted", {22, 8, 6, 0, 0, 12}},
    {"deep", {-10, 26, 10, 0, 0, 18}},
    {"lamplight", {4, 10, 8, 34, 4, 0}},
    {"frost", {8, 6, -14, -32, 0, 10}},
    {"faded", {12, -24, -30, 8, 0, 0}},
    {"grey", {0, 12, -100, 0, 0, 8}},
});

}  // namespace

Straight8 toned(const Straight8& picture, const Tone& tone, int threads, std::stop_token stop) {
    if (tone.neutral() || picture.empty()) return picture.clone();
    const double warm = 0.35 * tone.warmth / 100;
    const Curve curves[3] = {curveOf(tone, std::exp2(warm)),
                             curveOf(tone, std::exp2(-0.3 * tone.tint / 100)),
                             curveOf(tone, std::exp2(-warm))};
    Neighbourhood around;
    const auto clarity = static_cast<float>(0.8 * tone.clarity / 100),
               saturate = static_cast<float>(1 + tone.saturation / 100);
    if (clarity != 0) around = neighbourhoodOf(picture, curves, threads, stop);
    Straight8 out(picture.size());
    overRows(picture.height(), 32, threads, [&](int from, int to) {
        const int width = picture.width();
        const auto n = static_cast<std::size_t>(width);
        std::vector<float> line, room(4 * n);
        Row row{room.data(), room.data() + n, room.data() + 2 * n, room.data() + 3 * n};
        for (int y = from; y < to && !stop.stop_requested(); ++y) {
            if (clarity != 0) around.row(y, width, line, row.soft);
            const std::uint32_t* source = picture.row(y);
            for (int x = 0; x < width; ++x) {
                row.red[x] = curves[0][source[x] & 255u];
                row.green[x] = curves[1][source[x] >> 8 & 255u];
                row.blue[x] = curves[2][source[x] >> 16 & 255u];
            }
            mixAndPack(row, source, width, clarity, saturate, out.row(y));
        }
    });
    return out;
}

Straight8 veiled(const Straight8& picture, std::span<const Veil> veils, int threads) {
    Straight8 out = picture.clone();
    for (const Veil& veil : veils) {
        if (regionOf(veil, out.size()).empty()) continue;
        veil.kind == Veil::Kind::coarse ? coarsen(out, veil) : soften(out, veil, threads);
    }
    return out;
}

Histogram histogramOf(const Straight8& picture) {
    Histogram h;
    long long low = 0, high = 0;
    for (const std::uint32_t p : picture.pixels()) {
        if (alphaOf(p) == 0) continue;
        const int r = redOf(p), g = greenOf(p), b = blueOf(p);
        ++h.counts[0][static_cast<std::size_t>(r)];
        ++h.counts[1][static_cast<std::size_t>(g)];
        ++h.counts[2][static_cast<std::size_t>(b)];
        ++h.counts[3][static_cast<std::size_t>(luma709(r, g, b) + 0.5)];
        ++h.pixels;
        low += r == 0 || g == 0 || b == 0;
        high += r == 255 || g == 255 || b == 255;
    }
    if (h.pixels > 0) {
        h.clippedLow = static_cast<double>(low) / static_cast<double>(h.pixels);
        h.clippedHigh = static_cast<double>(high) / static_cast<double>(h.pixels);
    }
    return h;
}

std::span<const ToneStart> toneStarts() {
    return starts;
}

}  // namespace zl
