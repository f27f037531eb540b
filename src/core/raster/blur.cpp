// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/blur.h"

#include <cmath>
#include <vector>

#include "base/parallel.h"
#include "base/processor.h"

namespace zl {
namespace {

// Weights of the source pixels first, first + 1, ... about a pixel; they sum to 1.
struct Kernel {
    int first = 0;
    std::vector<float> weights;
};

// A Gaussian about -`shift`: what lands on a pixel stood `shift` px before it. Without a sigma it
// is a straight line between the two nearest pixels.
Kernel kernelOf(double sigma, double shift) {
    constexpr double tails = 4;  // beyond it lie 0.006 % of the whole
    Kernel kernel;
    if (sigma < 0.05) {
        const double at = -shift;
        kernel.first = static_cast<int>(std::floor(at));
        const double part = at - kernel.first;
        kernel.weights = {static_cast<float>(1 - part)};
        if (part > 1e-9) kernel.weights.push_back(static_cast<float>(part));
        return kernel;
    }
    kernel.first = static_cast<int>(std::floor(-shift - tails * sigma));
    const int last = static_cast<int>(std::ceil(-shift + tails * sigma));
    std::vector<double> w;
    double sum = 0;
    for (int i = kernel.first; i <= last; ++i) {
        const double d = i + shift;
        w.push_back(std::exp(-d * d / (2 * sigma * sigma)));
        sum += w.back();
    }
    for (const double v : w) kernel.weights.push_back(static_cast<float>(v / sum));
    return kernel;
}

ZL_INLINE void addWeighed(const float* __restrict from, float weight, int count,
                          float* __restrict to) {
    for (int i = 0; i < count; ++i) to[i] += weight * from[i];
}
ZL_FOR_THIS_PROCESSOR(void, add, (const float* from, float weight, int count, float* to),
                      addWeighed(from, weight, count, to));

bool isZero(const float* row, int width) {
    return std::all_of(row, row + width, [](float v) { return v == 0; });
}

Plane convolved(const Plane& plane, const Kernel& across, const Kernel& down, int threads,
                const std::stop_token& stop) {
    const int width = plane.width(), height = plane.height();
    Plane half(plane.size()), out(plane.size());
    std::vector<char> empty(static_cast<std::size_t>(height));
    overRows(height, 16, threads, [&](int from, int to) {
        for (int y = from; y < to && !stop.stop_requested(); ++y) {
            const float* source = plane.row(y);
            empty[static_cast<std::size_t>(y)] = isZero(source, width);
            if (empty[static_cast<std::size_t>(y)]) continue;
            // In stretches that stay in the first-level cache, through all weights.
            constexpr int stretch = 1024;
            for (int left = 0; left < width; left += stretch) {
                const int right = std::min(width, left + stretch);
                for (std::size_t k = 0; k < across.weights.size(); ++k) {
                    const int shift = across.first + static_cast<int>(k);
                    const int low = std::max(left, -shift), high = std::min(right, width - shift);
                    if (low < high)
                        add(source + low + shift, across.weights[k], high - low, half.row(y) + low);
                }
            }
        }
    });
    overRows(height, 16, threads, [&](int from, int to) {
        constexpr int stretch = 1024;
        for (int left = 0; left < width; left += stretch) {
            const int count = std::min(stretch, width - left);
            for (int y = from; y < to && !stop.stop_requested(); ++y)
                for (std::size_t k = 0; k < down.weights.size(); ++k) {
                    const int source = y + down.first + static_cast<int>(k);
                    if (source < 0 || source >= height || empty[static_cast<std::size_t>(source)])
                        continue;
                    add(half.row(source) + left, down.weights[k], count, out.row(y) + left);
                }
        }
    });
    return out;
}

// Means of k x k squares; the last ones reach past the plane, into 0.
Plane shrunk(const Plane& plane, int k, int threads) {
    Plane out({(plane.width() + k - 1) / k, (plane.height() + k - 1) / k});
    overRows(out.height(), 8, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int sy = y * k; sy < std::min(plane.height(), (y + 1) * k); ++sy) {
                const float* source = plane.row(sy);
                for (int x = 0; x < plane.width(); ++x)
                    out.row(y)[x / k] += source[x] / static_cast<float>(k * k);
            }
    });
    return out;
}

// Catmull and Rom's cubic between the four nearest.
void cubic(double part, float (&w)[4]) {
    const auto t = static_cast<float>(part);
    w[0] = ((-0.5f * t + 1.0f) * t - 0.5f) * t;
    w[1] = (1.5f * t - 2.5f) * t * t + 1.0f;
    w[2] = ((-1.5f * t + 2.0f) * t + 0.5f) * t;
    w[3] = (0.5f * t - 0.5f) * t * t;
}

Plane enlarged(const Plane& small, int k, PixelSize size, double dx, double dy, int threads) {
    Plane out(size);
    struct At {
        int first;
        float w[4];
    };
    const auto along = [&](int count, double shift) {
        std::vector<At> all(static_cast<std::size_t>(count));
        for (int i = 0; i < count; ++i) {
            const double at = (i + 0.5 - shift) / k - 0.5;
            all[static_cast<std::size_t>(i)].first = static_cast<int>(std::floor(at)) - 1;
            cubic(at - std::floor(at), all[static_cast<std::size_t>(i)].w);
        }
        return all;
    };
    const auto columns = along(size.width, dx), rows = along(size.height, dy);
    overRows(size.height, 16, threads, [&](int from, int to) {
        std::vector<float> line(static_cast<std::size_t>(small.width()));
        for (int y = from; y < to; ++y) {
            const At& row = rows[static_cast<std::size_t>(y)];
            std::fill(line.begin(), line.end(), 0.0f);
            for (int j = 0; j < 4; ++j)
                if (row.first + j >= 0 && row.first + j < small.height())
                    add(small.row(row.first + j), row.w[j], small.width(), line.data());
            for (int x = 0; x < size.width; ++x) {
                const At& column = columns[static_cast<std::size_t>(x)];
                float sum = 0;
                for (int j = 0; j < 4; ++j)
                    if (column.first + j >= 0 && column.first + j < small.width())
                        sum += column.w[j] * line[static_cast<std::size_t>(column.first + j)];
                out.row(y)[x] = std::max(0.0f, sum);
            }
        }
    });
    return out;
}

}  // namespace

Plane blurred(const Plane& plane, double sigma, double dx, double dy, int threads,
              std::stop_token stop) {
    if (plane.empty()) return {};
    // A wide blur holds no detail: it is made smaller first. Squares of k px have a variance of
    // (k^2 - 1) / 12 themselves.
    constexpr double finest = 6;
    const int k = static_cast<int>(sigma / finest);
    if (k < 2) return convolved(plane, kernelOf(sigma, dx), kernelOf(sigma, dy), threads, stop);
    const double left = std::sqrt(sigma * sigma - (k * k - 1) / 12.0) / k;
    const Plane small = shrunk(plane, k, threads);
    // Room round it, so that what is blurred out and moved back in is not lost.
    const int room = static_cast<int>(std::ceil(4 * left)) + 2;
    Plane wide({small.width() + 2 * room, small.height() + 2 * room});
    for (int y = 0; y < small.height(); ++y)
        std::copy_n(small.row(y), small.width(), wide.row(y + room) + room);
    const Kernel kernel = kernelOf(left, 0);
    const Plane soft = convolved(wide, kernel, kernel, threads, stop);
    return enlarged(soft, k, plane.size(), dx - static_cast<double>(room) * k,
                    dy - static_cast<double>(room) * k, threads);
}

}  // namespace zl
