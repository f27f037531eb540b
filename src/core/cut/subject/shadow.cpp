// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/shadow.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "raster/components.h"

namespace zl {
namespace {

// Weighted means, by halves: where a pixel has no weight of its own, those of larger and larger
// squares stand in (pull and push; Gortler et al., The lumigraph, 1996).
void carryOn(Plane& value, Plane& weight) {
    const PixelSize size = value.size();
    if (size.width <= 1 && size.height <= 1) return;
    const PixelSize half{(size.width + 1) / 2, (size.height + 1) / 2};
    Plane small(half), smallWeight(half);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            small.row(y / 2)[x / 2] += weight.row(y)[x] * value.row(y)[x];
            smallWeight.row(y / 2)[x / 2] += weight.row(y)[x];
        }
    for (int y = 0; y < half.height; ++y)
        for (int x = 0; x < half.width; ++x)
            if (smallWeight.row(y)[x] > 0) {
                small.row(y)[x] /= smallWeight.row(y)[x];
                smallWeight.row(y)[x] = std::min(1.0F, smallWeight.row(y)[x]);
            }
    carryOn(small, smallWeight);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const float own = weight.row(y)[x];
            if (own >= 1) continue;
            const auto near = [&](float at, int most) {
                return std::clamp(static_cast<int>(std::floor(at)), 0, most - 1);
            };
            const float u = static_cast<float>(x) / 2 - 0.25F,
                        v = static_cast<float>(y) / 2 - 0.25F;
            const int x0 = near(u, half.width), x1 = near(u + 1, half.width),
                      y0 = near(v, half.height), y1 = near(v + 1, half.height);
            const float right = u - std::floor(u), down = v - std::floor(v);
            const float above = small.row(y0)[x0] * (1 - right) + small.row(y0)[x1] * right,
                        below = small.row(y1)[x0] * (1 - right) + small.row(y1)[x1] * right;
            value.row(y)[x] =
                own * value.row(y)[x] + (1 - own) * (above * (1 - down) + below * down);
        }
}

// The mean over a square of the pixels that are ground.
Plane groundMean(const Plane& value, const Labels& labels, int radius) {
    const PixelSize size = value.size();
    Plane sums(size), counts(size), out(size);
    const auto slide = [&](const auto& get, const auto& put, int count) {
        float sum = 0, n = 0;
        for (int i = -radius; i < count; ++i) {
            if (i + radius < count) {
                const auto [v, w] = get(i + radius);
                sum += v;
                n += w;
            }
            if (i - radius - 1 >= 0) {
                const auto [v, w] = get(i - radius - 1);
                sum -= v;
                n -= w;
            }
            if (i >= 0) put(i, sum, n);
        }
    };
    for (int y = 0; y < size.height; ++y)
        slide(
            [&](int x) {
                const bool ground = labels.at(x, y) == ofGround;
                return std::pair{ground ? value.row(y)[x] : 0.0F, ground ? 1.0F : 0.0F};
            },
            [&](int x, float sum, float n) {
                sums.row(y)[x] = sum;
                counts.row(y)[x] = n;
            },
            size.width);
    for (int x = 0; x < size.width; ++x)
        slide(
            [&](int y) {
                return std::pair{sums.row(y)[x], counts.row(y)[x]};
            },
            [&](int y, float sum, float n) { out.row(y)[x] = n > 0.5F ? sum / n : -1; },
            size.height);
    return out;
}

}  // namespace

Plane shadowOf(const Working& working, const Labels& labels) {
    const PixelSize size = working.size();
    const float reach = 0.14F * static_cast<float>(std::max(size.width, size.height));
    const Plane depth = depthOf(labels);
    Plane out(size), least(size, 1), most(size, 0);
    for (int channel = 0; channel < 3; ++channel) {
        Plane value(size), weight(size);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const std::uint32_t p = working.pixels.row(y)[x];
                value.row(y)[x] = static_cast<float>(channel == 0   ? redOf(p)
                                                     : channel == 1 ? greenOf(p)
                                                                    : blueOf(p)) +
                                  4;
                weight.row(y)[x] =
                    labels.at(x, y) == ofGround && depth.row(y)[x] > reach ? 1.0F : 0.0F;
            }
        const Plane here = groundMean(value, labels, 3);
        carryOn(value, weight);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float dark = here.row(y)[x] < 0 || value.row(y)[x] < 8
                                       ? 0
                                       : 1 - here.row(y)[x] / value.row(y)[x];
                least.row(y)[x] = std::min(least.row(y)[x], dark);
                most.row(y)[x] = std::max(most.row(y)[x], dark);
            }
    }
    constexpr float seen = 0.06F, uneven = 0.18F;
    // It lies where the subject stands; higher up, what is dark is rather another thing.
    const PixelRect box = boxOf(labels, ofSubject);
    const int from = box.top + box.height() * 3 / 5;
    const auto isShadow = [&](int x, int y) {
        return y >= from && labels.at(x, y) == ofGround && depth.row(y)[x] < reach &&
               least.row(y)[x] > seen && most.row(y)[x] - least.row(y)[x] < uneven;
    };
    // What touches the subject.
    const Components parts(size, Neighbours::eight, isShadow);
    std::vector<bool> touches(parts.all().size(), false);
    for (const Components::Run& run : parts.runs())
        for (int x = run.from; x < run.to; ++x)
            if (depth.row(run.y)[x] < 2) touches[static_cast<std::size_t>(run.component)] = true;
    Plane weight(size);
    for (const Components::Run& run : parts.runs())
        for (int x = run.from; x < run.to && touches[static_cast<std::size_t>(run.component)];
             ++x) {
            // It ends softly where it is looked for no further.
            const float soft = std::clamp(2 * (1 - depth.row(run.y)[x] / reach), 0.0F, 1.0F);
            out.row(run.y)[x] = soft * std::max(0.0F, least.row(run.y)[x] - seen) / (1 - seen);
        }
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            weight.row(y)[x] = labels.at(x, y) == ofGround ? 1.0F : 0.0F;
    carryOn(out, weight);
    constexpr float under = 4;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (labels.at(x, y) == ofSubject && depth.row(y)[x] > under) out.row(y)[x] = 0;
    return out;
}

}  // namespace zl
