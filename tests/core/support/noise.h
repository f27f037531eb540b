// SPDX-License-Identifier: GPL-3.0-or-later
// Noise, the same at every run, and inks of it.
#pragma once

#include "raster/over.h"
#include "support/support.h"

namespace zl {

using test::good;

inline std::uint32_t hashed(std::uint32_t v) {
    v = (v ^ 61) ^ (v >> 16);
    v *= 9;
    v ^= v >> 4;
    v *= 0x27d4eb2d;
    return v ^ v >> 15;
}

inline Straight8 noise(PixelSize size, std::uint32_t seed) {
    return test::painted(size, [=](int x, int y) {
        const std::uint32_t n = hashed(static_cast<std::uint32_t>(x + 8191 * y) + seed * 77777u);
        const std::uint32_t alphas[] = {0, 1, 16, 128, 254, 255, n >> 24, n >> 16 & 255u};
        return (n & 0xFFFFFFu) | alphas[n % 8] << 24;
    });
}

inline Ink wide(const Ink& eight) {
    auto made = std::make_shared<Ink16>(eight.box.size());
    for (int y = 0; y < eight.box.height(); ++y)
        for (int x = 0; x < eight.box.width(); ++x) {
            const std::uint32_t p = eight.eight->row(y)[x];
            const int channels[4] = {redOf(p), greenOf(p), blueOf(p), alphaOf(p)};
            for (int c = 0; c < 4; ++c)
                made->row(c, y)[x] = static_cast<std::uint16_t>(channels[c] * 257);
        }
    Ink ink = eight;
    ink.eight = nullptr;
    ink.sixteen = made;
    return ink;
}

}  // namespace zl
