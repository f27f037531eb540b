// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/resample.h"

#include <cmath>
#include <numbers>
#include <vector>

#include "base/parallel.h"
#include "base/processor.h"

namespace zl {
namespace {

constexpr double lobes = 3.0;

// Lanczos' windowed sinc (Turkowski 1990), a = 3.
double lanczos(double x) {
    if (x == 0) return 1;
    if (std::abs(x) >= lobes) return 0;
    const double t = std::numbers::pi * x;
    return lobes * std::sin(t) * std::sin(t / lobes) / (t * t);
}

// The source pixels and weights of each wanted pixel along one axis.
struct Axis {
    std::vector<int> first;       // first source pixel
    std::vector<int> count;       // how many
    std::vector<float> weights;   // `most` for each pixel, summing to 1
    std::vector<float> coverage;  // share of the frame pixel that the place covers, 0..1
    int most = 0;
    int low = 0, high = 0;  // source pixels used at all: [low, high)
};

Axis axisOf(double boxStart, double boxLength, double placeStart, double placeLength, int from,
            int to, int sourceLength) {
    Axis axis;
    const double scale = boxLength / placeLength, widen = std::max(1.0, scale),
                 support = lobes * widen;
    axis.most = static_cast<int>(std::ceil(support)) * 2 + 1;
    axis.weights.resize(static_cast<std::size_t>(to - from) * static_cast<std::size_t>(axis.most));
    axis.low = sourceLength;
    std::vector<double> row(static_cast<std::size_t>(axis.most));
    for (int i = from; i < to; ++i) {
        const double centre = boxStart + (i + 0.5 - placeStart) * scale;
        const int first =
            std::clamp(static_cast<int>(std::ceil(centre - support - 0.5)), 0, sourceLength - 1);
        const int last = std::clamp(static_cast<int>(std::floor(centre + support - 0.5)), first,
                                    sourceLength - 1);
        const int count = std::min(last - first + 1, axis.most);
        double sum = 0;
        for (int k = 0; k < count; ++k)
            sum += row[static_cast<std::size_t>(k)] = lanczos((first + k + 0.5 - centre) / widen);
        // Far outside the source no weight is left: the nearest pixel stands for all.
        const bool lost = std::abs(sum) < 1e-6;
        for (int k = 0; k < count; ++k)
            axis.weights[static_cast<std::size_t>(i - from) * static_cast<std::size_t>(axis.most) +
                         static_cast<std::size_t>(k)] =
                static_cast<float>(lost ? (k == 0 ? 1.0 : 0.0)
                                        : row[static_cast<std::size_t>(k)] / sum);
        axis.first.push_back(first);
        axis.count.push_back(count);
        axis.low = std::min(axis.low, first);
        axis.high = std::max(axis.high, first + count);
        axis.coverage.push_back(static_cast<float>(std::clamp(
            std::min(i + 1.0, placeStart + placeLength) - std::max<double>(i, placeStart), 0.0,
            1.0)));
    }
    return axis;
}

ZL_INLINE float asFloat(std::uint32_t v) {
    return static_cast<float>(static_cast<int>(v));
}

// Adds `weight` of a source row, premultiplied, to four float planes of `width`.
ZL_INLINE void addPixels(const std::uint32_t* __restrict source, int width, float weight,
                         float* __restrict planes) {
    float* __restrict red = planes;
    float* __restrict green = planes + width;
    float* __restrict blue = planes + 2 * static_cast<std::ptrdiff_t>(width);
    float* __restrict alpha = planes + 3 * static_cast<std::ptrdiff_t>(width);
    for (int i = 0; i < width; ++i) {
        const std::uint32_t p = source[i];
        const float a = asFloat(p >> 24) * weight, c = a * (1.0f / 255.0f);
        red[i] += asFloat(p & 255u) * c;
        green[i] += asFloat(p >> 8 & 255u) * c;
        blue[i] += asFloat(p >> 16 & 255u) * c;
        alpha[i] += a;
    }
}

ZL_FOR_THIS_PROCESSOR(void, addRow,
                      (const std::uint32_t* source, int width, float weight, float* planes),
                      addPixels(source, width, weight, planes));

// Red, green, blue and alpha side by side: weighed together, in an order of their own each, so that
// every processor gives the same.
using Four = float __attribute__((vector_size(16)));
using Ints = int __attribute__((vector_size(16)));

void sideBySide(const std::vector<float>& planes, int width, std::vector<Four>& columns) {
    const float *red = planes.data(), *green = red + width, *blue = green + width,
                *alpha = blue + width;
    for (int i = 0; i < width; ++i)
        columns[static_cast<std::size_t>(i)] = Four{red[i], green[i], blue[i], alpha[i]};
}

// Along the row: weighs the columns, then leaves premultiplied float for straight 16 bit.
void finishRow(const std::vector<Four>& columns, const Axis& across, float rowCoverage, Ink16& out,
               int y) {
    const int n = static_cast<int>(across.first.size());
    std::uint16_t *red = out.row(0, y), *green = out.row(1, y), *blue = out.row(2, y),
                  *alpha = out.row(3, y);
    for (int x = 0; x < n; ++x) {
        const auto column = static_cast<std::size_t>(x);
        const float* weights =
            across.weights.data() + column * static_cast<std::size_t>(across.most);
        const Four* from = columns.data() + (across.first[column] - across.low);
        Four sum{0, 0, 0, 0};
        for (int k = 0; k < across.count[column]; ++k) sum += weights[k] * from[k];
        const float back = sum[3] > 1e-3f ? 1.0f / sum[3] : 0.0f;
        Four all = sum * Four{back, back, back, 0};
        all[3] = sum[3] * (1.0f / 255.0f) * across.coverage[column] * rowCoverage;
        const Four none{0, 0, 0, 0}, whole{1, 1, 1, 1};
        all = all < none ? none : all;
        all = all > whole ? whole : all;
        const Ints codes = __builtin_convertvector(all * 65535.0f + 0.5f, Ints);
        red[x] = static_cast<std::uint16_t>(codes[0]);
        green[x] = static_cast<std::uint16_t>(codes[1]);
        blue[x] = static_cast<std::uint16_t>(codes[2]);
        alpha[x] = static_cast<std::uint16_t>(codes[3]);
    }
}

bool nearly(double a, double b) {
    return std::abs(a - b) < 1e-9;
}
bool whole(double v) {
    return nearly(v, std::round(v));
}

}  // namespace

Ink resampled(std::shared_ptr<const Straight8> source, bool sourceOpaque, RealRect box,
              RealRect place, PixelRect want, int threads, std::stop_token stop) {
    Ink ink;
    want = want.intersected(roundOutwards(place));
    if (source->empty() || want.empty() || !(box.area() > 0) || !(place.area() > 0)) return ink;
    ink.box = want;
    const bool unscaled = nearly(box.width, place.width) && nearly(box.height, place.height) &&
                          whole(box.x - place.x) && whole(box.y - place.y) && whole(place.x) &&
                          whole(place.y) && whole(place.width) && whole(place.height);
    const bool inside = box.x > -1e-9 && box.y > -1e-9 && box.right() < source->width() + 1e-9 &&
                        box.bottom() < source->height() + 1e-9;
    if (unscaled && inside) {
        ink.fromX = want.left + static_cast<int>(std::lround(box.x - place.x));
        ink.fromY = want.top + static_cast<int>(std::lround(box.y - place.y));
        ink.eight = std::move(source);
        ink.opaque = sourceOpaque;
        return ink;
    }
    const Axis across =
        axisOf(box.x, box.width, place.x, place.width, want.left, want.right, source->width());
    const Axis down =
        axisOf(box.y, box.height, place.y, place.height, want.top, want.bottom, source->height());
    auto made = std::make_shared<Ink16>(want.size());
    const int width = across.high - across.low;
    overRows(want.height(), 16, threads, [&](int firstRow, int lastRow) {
        std::vector<float> planes(static_cast<std::size_t>(width) * 4);
        std::vector<Four> columns(static_cast<std::size_t>(width));
        for (int y = firstRow; y < lastRow && !stop.stop_requested(); ++y) {
            const auto row = static_cast<std::size_t>(y);
            std::fill(planes.begin(), planes.end(), 0.0f);
            for (int k = 0; k < down.count[row]; ++k)
                addRow(source->row(down.first[row] + k) + across.low, width,
                       down.weights[row * static_cast<std::size_t>(down.most) +
                                    static_cast<std::size_t>(k)],
                       planes.data());
            sideBySide(planes, width, columns);
            finishRow(columns, across, down.coverage[row], *made, y);
        }
    });
    const auto full = [](const std::vector<float>& c) {
        return std::all_of(c.begin(), c.end(), [](float v) { return v >= 1.0f; });
    };
    ink.opaque = sourceOpaque && full(across.coverage) && full(down.coverage);
    ink.sixteen = std::move(made);
    return ink;
}

Straight8 rounded8(const Ink& ink) {
    Straight8 out(ink.box.size());
    const Ink atOrigin = ink.moved(-ink.box.left, -ink.box.top);
    blendOver({&atOrigin, 1}, PixelRect::of(out.size()), out, coreCount());
    return out;
}

}  // namespace zl
