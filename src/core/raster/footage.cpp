// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/footage.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace zl {
namespace {

std::uint32_t hashed(std::uint32_t x, std::uint32_t y, std::uint32_t seed) {
    std::uint32_t n = x * 2654435761u ^ y * 2246822519u ^ seed * 3266489917u;
    n ^= n >> 15;
    n *= 0x2c1b3c6du;
    n ^= n >> 12;
    return n * 0x297a2d39u >> 8;
}

// Smooth noise 0..1 over cells of `cell` px.
double smooth(int x, int y, int cell, std::uint32_t seed) {
    const auto corner = [&](int i, int j) {
        return hashed(static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(j), seed) % 1024 /
               1023.0;
    };
    const int i = x / cell, j = y / cell;
    const double fx = static_cast<double>(x % cell) / cell,
                 fy = static_cast<double>(y % cell) / cell;
    const double u = fx * fx * (3 - 2 * fx), v = fy * fy * (3 - 2 * fy);
    return (corner(i, j) * (1 - u) + corner(i + 1, j) * u) * (1 - v) +
           (corner(i, j + 1) * (1 - u) + corner(i + 1, j + 1) * u) * v;
}

int code(double v) {
    return std::clamp(static_cast<int>(std::lround(v)), 0, 255);
}

// The patch with the nearest centre, of a grid whose centres are shifted about.
std::uint32_t patch(int x, int y) {
    constexpr int cell = 20;
    std::uint32_t best = 0;
    double least = 1e18;
    for (int j = y / cell - 1; j <= y / cell + 1; ++j)
        for (int i = x / cell - 1; i <= x / cell + 1; ++i) {
            const std::uint32_t n =
                hashed(static_cast<std::uint32_t>(i + 7), static_cast<std::uint32_t>(j + 7), 3);
            const double dx = i * cell + n % cell - x, dy = j * cell + n / 64 % cell - y,
                         away = dx * dx + dy * dy;
            if (away < least) {
                least = away;
                best = n;
            }
        }
    return best;
}

}  // namespace

std::string_view nameOf(Footage footage) {
    constexpr std::array<std::string_view, 3> names{"light", "dark", "busy"};
    return names[static_cast<std::size_t>(footage)];
}

Straight8 footageOf(Footage footage, PixelSize size) {
    Straight8 out(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double down = static_cast<double>(y) / std::max(1, size.height);
            std::uint32_t p = 0;
            if (footage == Footage::light) {
                const double v = 206 + 34 * down + 8 * smooth(x, y, 40, 1);
                p = packed(code(v - 8 * (1 - down)), code(v - 3 * (1 - down)), code(v), 255);
            } else if (footage == Footage::dark) {
                const double v = 8 + 24 * smooth(x, y, 60, 2) + 6 * down;
                p = packed(code(v), code(v * 0.9), code(v * 1.25), 255);
            } else {
                const std::uint32_t n = patch(x, y);
                const double v = 12 + n % 232, tint = static_cast<double>(n / 256 % 60) - 30;
                p = packed(code(v + tint), code(v), code(v - tint), 255);
            }
            out.row(y)[x] = p;
        }
    return out;
}

}  // namespace zl
