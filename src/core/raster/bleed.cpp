// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/bleed.h"

#include <algorithm>
#include <vector>

namespace zl {
namespace {

constexpr std::uint32_t leastInk = 8;  // alpha
constexpr int straightStep = 2,
              slantStep = 3;  // chamfer weights in half px, near enough to 1 and the root of 2

// The colour of the nearest ink, and how far it is.
struct Spread {
    PixelSize size;
    std::vector<int> distance;
    std::vector<std::uint32_t> colour;

    void offer(int x, int y, int fromX, int fromY, int step) {
        if (fromX < 0 || fromY < 0 || fromX >= size.width || fromY >= size.height) return;
        const auto here = index(x, y), there = index(fromX, fromY);
        if (distance[there] + step >= distance[here]) return;
        distance[here] = distance[there] + step;
        colour[here] = colour[there];
    }
    std::size_t index(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) +
               static_cast<std::size_t>(x);
    }
};

}  // namespace

void bleedColour(Straight8& raster, int reach) {
    constexpr int far = 1 << 28;
    Spread spread{raster.size(), std::vector<int>(raster.pixels().size()),
                  std::vector<std::uint32_t>(raster.pixels().size())};
    bool ink = false, clear = false;
    for (std::size_t i = 0; i < spread.distance.size(); ++i) {
        const std::uint32_t p = raster.pixels()[i], alpha = p >> 24;
        // What is all but clear keeps its colour, but has none to give away.
        spread.distance[i] = alpha >= leastInk ? 0 : far;
        spread.colour[i] = p & 0x00FFFFFFu;
        ink |= alpha >= leastInk;
        clear |= alpha == 0;
    }
    if (!ink || !clear) return;
    const int w = raster.width(), h = raster.height();
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            spread.offer(x, y, x - 1, y, straightStep);
            spread.offer(x, y, x, y - 1, straightStep);
            spread.offer(x, y, x - 1, y - 1, slantStep);
            spread.offer(x, y, x + 1, y - 1, slantStep);
        }
    for (int y = h - 1; y >= 0; --y)
        for (int x = w - 1; x >= 0; --x) {
            spread.offer(x, y, x + 1, y, straightStep);
            spread.offer(x, y, x, y + 1, straightStep);
            spread.offer(x, y, x + 1, y + 1, slantStep);
            spread.offer(x, y, x - 1, y + 1, slantStep);
            std::uint32_t& p = raster.row(y)[x];
            const auto i = spread.index(x, y);
            if (p >> 24 == 0) p = spread.distance[i] > reach * straightStep ? 0 : spread.colour[i];
        }
}

void flattenOnto(Straight8& raster, std::uint8_t red, std::uint8_t green, std::uint8_t blue) {
    const int under[3] = {red, green, blue};
    for (int y = 0; y < raster.height(); ++y)
        for (std::uint32_t* p = raster.row(y); p != raster.row(y) + raster.width(); ++p) {
            const int a = alphaOf(*p), ink[3] = {redOf(*p), greenOf(*p), blueOf(*p)};
            int c[3];
            for (int i = 0; i < 3; ++i) c[i] = (ink[i] * a + under[i] * (255 - a) + 127) / 255;
            *p = packed(c[0], c[1], c[2], 255);
        }
}

}  // namespace zl
