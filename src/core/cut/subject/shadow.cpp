// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/shadow.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "raster/carry_on.h"
#include "raster/components.h"

namespace zl {
namespace {

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
