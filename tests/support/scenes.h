// SPDX-License-Identifier: GPL-3.0-or-later
// Made scenes with known alpha and ink: what a cut-out should come to.
#pragma once

#include <array>
#include <cmath>

#include "support/support.h"

namespace zl::test {

using Rgb = std::array<double, 3>;

struct Scene {
    PixelSize size;
    std::vector<double> alpha;  // 0..1, exact to 1/256
    std::vector<Rgb> ink;       // at every pixel
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) +
               static_cast<std::size_t>(x);
    }
};

// A disc, a ring, a slanted bar and a star's spikes, by 16 x 16 samples a pixel.
inline bool inShapes(double x, double y) {
    const double disc = std::hypot(x - 82.3, y - 78.6), ring = std::hypot(x - 228.4, y - 84.2);
    if (disc < 55.4 || (ring < 60.3 && ring > 34.7)) return true;
    const double c = std::cos(0.31), s = std::sin(0.31), u = c * (x - 110) + s * (y - 205),
                 v = -s * (x - 110) + c * (y - 205);
    if (std::abs(u) < 78.2 && std::abs(v) < 21.7) return true;
    const double angle = std::atan2(y - 210.5, x - 245.5), r = std::hypot(x - 245.5, y - 210.5);
    return r < 32 + 18 * std::cos(5 * angle);
}

// `slope` code values of ink from the left side to the right.
inline Scene sceneOf(const Rgb& ink, double slope = 24, PixelSize size = {320, 272}) {
    Scene scene{size, {}, {}};
    constexpr int n = 16;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            int inside = 0;
            const int corners = inShapes(x, y) + inShapes(x + 1, y) + inShapes(x, y + 1) +
                                inShapes(x + 1, y + 1) + inShapes(x + 0.5, y + 0.5);
            if (corners % 5 == 0) {
                inside = corners == 5 ? n * n : 0;
            } else {
                for (int j = 0; j < n; ++j)
                    for (int i = 0; i < n; ++i)
                        inside += inShapes(x + (i + 0.5) / n, y + (j + 0.5) / n);
            }
            scene.alpha.push_back(static_cast<double>(inside) / (n * n));
            const double by = slope * x / size.width;
            scene.ink.push_back({std::min(255.0, ink[0] + by), std::min(255.0, ink[1] + by * 0.6),
                                 std::max(0.0, ink[2] - by * 0.5)});
        }
    return scene;
}

inline std::uint32_t rounded(const Rgb& c, int alpha = 255) {
    const auto code = [](double v) {
        return static_cast<int>(std::lround(std::clamp(v, 0.0, 255.0)));
    };
    return packed(code(c[0]), code(c[1]), code(c[2]), alpha);
}

// The scene on a flat background, opaque.
inline Straight8 onto(const Scene& scene, const Rgb& background) {
    return painted(scene.size, [&](int x, int y) {
        const double a = scene.alpha[scene.at(x, y)];
        const Rgb& f = scene.ink[scene.at(x, y)];
        return rounded({a * f[0] + (1 - a) * background[0], a * f[1] + (1 - a) * background[1],
                        a * f[2] + (1 - a) * background[2]});
    });
}

struct Errors {
    double alpha = 0,
           colour = 0;  // means over the band, of 0..1 and of code values on black and on white
    long long pixels = 0;
};

// In the band one pixel wider than the true edge.
inline Errors errorsOf(const Scene& scene, const Straight8& cut) {
    Errors out;
    const auto edge = [&](int x, int y) {
        if (x < 0 || y < 0 || x >= scene.size.width || y >= scene.size.height) return false;
        const double a = scene.alpha[scene.at(x, y)];
        return a > 0 && a < 1;
    };
    for (int y = 0; y < scene.size.height; ++y)
        for (int x = 0; x < scene.size.width; ++x) {
            bool near = false;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) near |= edge(x + dx, y + dy);
            if (!near) continue;
            const std::uint32_t p = cut.row(y)[x];
            const double truth = scene.alpha[scene.at(x, y)], got = alphaOf(p) / 255.0;
            out.alpha += std::abs(truth - got);
            const Rgb &f = scene.ink[scene.at(x, y)],
                      c{static_cast<double>(redOf(p)), static_cast<double>(greenOf(p)),
                        static_cast<double>(blueOf(p))};
            for (std::size_t i = 0; i < 3; ++i)
                for (const double backdrop : {0.0, 255.0})
                    out.colour += std::abs(truth * f[i] + (1 - truth) * backdrop - got * c[i] -
                                           (1 - got) * backdrop) /
                                  6;
            ++out.pixels;
        }
    out.alpha /= static_cast<double>(out.pixels);
    out.colour /= static_cast<double>(out.pixels);
    return out;
}

}  // namespace zl::test
