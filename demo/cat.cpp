// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/cat.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"

namespace zl::demo {
namespace {

// All places are in shares of the picture's height, x to the right from where the cat stands.
constexpr double where = 0.74, large = 0.85;  // of the picture's width; of what it is drawn as
struct Vec {
    double x = 0, y = 0;
};
using Rgb = std::array<double, 3>;

double hashed(int x, int y, int salt) {
    // A negative place wraps round, as it should in a hash.
    const auto whole = [](int v) { return static_cast<std::uint32_t>(v); };
    std::uint32_t h = whole(x) * 374761393U + whole(y) * 668265263U + whole(salt) * 2246822519U;
    h = (h ^ (h >> 13)) * 1274126177U;
    return static_cast<double>((h ^ (h >> 16)) & 0xFFFFU) / 65535.0;
}

// Smooth noise, 0..1.
double noise(double x, double y, int salt) {
    const double fx = std::floor(x), fy = std::floor(y);
    const auto ease = [](double t) { return t * t * (3 - 2 * t); };
    const double u = ease(x - fx), v = ease(y - fy);
    const int i = static_cast<int>(fx), j = static_cast<int>(fy);
    const double above = hashed(i, j, salt) * (1 - u) + hashed(i + 1, j, salt) * u,
                 below = hashed(i, j + 1, salt) * (1 - u) + hashed(i + 1, j + 1, salt) * u;
    return above * (1 - v) + below * v;
}

double ellipse(Vec p, Vec c, double a, double b, double turn = 0) {
    const double s = std::sin(turn), k = std::cos(turn), dx = p.x - c.x, dy = p.y - c.y;
    const double x = (k * dx + s * dy) / a, y = (k * dy - s * dx) / b;
    return (std::hypot(x, y) - 1) * std::min(a, b);
}

// A stretch of even width, as a leg or a tail.
double limb(Vec p, Vec a, Vec b, double r) {
    const double dx = b.x - a.x, dy = b.y - a.y, px = p.x - a.x, py = p.y - a.y;
    const double t = std::clamp((px * dx + py * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    return std::hypot(px - t * dx, py - t * dy) - r;
}

double ear(Vec p, double side) {
    const Vec tip{0.13 + side * 0.135, -0.335}, out{0.13 + side * 0.15, -0.16},
        in{0.13 + side * 0.03, -0.235};
    const auto half = [&](Vec a, Vec b) {
        const double length = std::hypot(b.x - a.x, b.y - a.y);
        return side * ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / length;
    };
    return -std::min({half(tip, out), half(out, in), half(in, tip)});
}

// Below 0 inside the cat.
double catAt(Vec p) {
    double d = ellipse(p, {-0.02, 0.13}, 0.255, 0.185, -0.12);    // the body
    d = std::min(d, ellipse(p, {0.11, 0.06}, 0.135, 0.2, 0.25));  // the chest
    d = std::min(d, ellipse(p, {0.13, -0.135}, 0.148, 0.122));    // the head
    d = std::min({d, ear(p, -1), ear(p, 1)});
    for (const Vec foot : {Vec{0.2, 0.325}, Vec{0.09, 0.325}, Vec{-0.16, 0.325}})
        d = std::min(d, limb(p, {foot.x - 0.03, 0.16}, foot, 0.042));
    d = std::min(d, limb(p, {-0.23, 0.21}, {-0.4, 0.14}, 0.034));  // the tail
    d = std::min(d, limb(p, {-0.4, 0.14}, {-0.45, -0.06}, 0.031));
    return std::min(d, limb(p, {-0.45, -0.06}, {-0.39, -0.17}, 0.029));
}

// Its rim is fur: the edge wanders in fine tufts and ends softly.
double coverAt(Vec p, double px) {
    const double d = catAt(p);
    const double tufts = (noise(p.x * 150, p.y * 150, 3) - 0.5) * 0.011 +
                         (noise(p.x * 420, p.y * 420, 4) - 0.5) * 0.006;
    const double soft = std::max(px, 0.0045);
    return std::clamp(0.5 - (d + tufts) / soft, 0.0, 1.0);
}

Rgb mix(const Rgb& a, const Rgb& b, double t) {
    return {a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t};
}

Rgb furAt(Vec p) {
    const Rgb light{226, 158, 88}, dark{133, 70, 34}, pale{247, 228, 200};
    // Stripes across the body, finer on the head.
    const double sway = 4 * noise(p.x * 7, p.y * 7, 5);
    const auto striped = [&](double along, double most) {
        const double wave = std::sin(along * 52 + sway);
        return mix(light, dark, std::clamp(0.5 + 0.9 * wave, 0.0, 1.0) * most);
    };
    const double head = std::min({ellipse(p, {0.13, -0.135}, 0.148, 0.122), ear(p, -1), ear(p, 1)});
    Rgb fur =
        mix(striped(p.x + 0.35 * p.y, 0.8), striped(std::abs(p.x - 0.13) * 1.1 + p.y * 0.9, 0.45),
            std::clamp(0.5 - head / 0.012, 0.0, 1.0));
    const double muzzle = ellipse(p, {0.135, -0.085}, 0.062, 0.045),
                 chest = ellipse(p, {0.155, 0.09}, 0.055, 0.12, 0.2);
    fur = mix(fur, pale, std::clamp(0.5 - std::min(muzzle, chest) / 0.02, 0.0, 1.0));
    for (const double side : {-1.0, 1.0}) {
        const double eye = ellipse(p, {0.13 + side * 0.062, -0.15}, 0.027, 0.021);
        fur = mix(fur, {214, 205, 92}, std::clamp(0.5 - eye / 0.004, 0.0, 1.0));
        const double pupil = ellipse(p, {0.13 + side * 0.062, -0.15}, 0.007, 0.019);
        fur = mix(fur, {18, 16, 14}, std::clamp(0.5 - pupil / 0.004, 0.0, 1.0));
    }
    const double nose = ellipse(p, {0.135, -0.105}, 0.016, 0.011);
    fur = mix(fur, {168, 84, 78}, std::clamp(0.5 - nose / 0.004, 0.0, 1.0));
    const double hairs = 0.82 + 0.36 * noise(p.x * 190 + 40 * p.y, p.y * 55, 6);
    const double lit = hairs * (1.04 - 0.5 * std::max(0.0, p.y));
    return {fur[0] * lit, fur[1] * lit, fur[2] * lit};
}

// The cat looks to the left and leaves the middle to what a player lays there.
Vec ofCat(Vec p) {
    return {-p.x / large, p.y / large};
}

// A bank of leaves above, weathered boards below, and the cat's shadow on them.
Rgb groundAt(Vec p) {
    constexpr double boards = 0.27;
    Rgb out;
    if (p.y < boards) {
        const double u = p.x + 0.4 * p.y, v = p.y - 0.3 * p.x;
        const double leaf = noise(u * 15, v * 26, 7) * 0.55 + noise(u * 34, v * 52, 8) * 0.3 +
                            noise(u * 90, v * 120, 11) * 0.15;
        out = mix({24, 46, 38}, {92, 132, 76}, std::clamp(1.9 * leaf - 0.45, 0.0, 1.0));
        const double gap = noise(p.x * 6 + 9, p.y * 8, 9);
        out = mix(out, {150, 176, 188}, std::clamp(4 * gap - 3.1, 0.0, 1.0) * 0.8);
    } else {
        const double down = (p.y - boards) / (0.5 - boards);
        const double grain = noise(p.x * 9 + 30 * down, 60 * down, 10);
        out = mix({88, 92, 98}, {140, 143, 146}, grain);
        const double seam = std::abs(std::remainder(p.x / (0.6 + 0.6 * down), 0.2));
        out = mix({40, 42, 46}, out, std::clamp(seam * 90, 0.0, 1.0));
    }
    const double shadow = ellipse(ofCat(p), {-0.02, 0.352}, 0.36, 0.042);
    const double dark = 0.62 * std::clamp(0.5 - shadow / 0.05, 0.0, 1.0) * (p.y > boards ? 1 : 0);
    return {out[0] * (1 - dark), out[1] * (1 - dark), out[2] * (1 - dark)};
}

}  // namespace

Straight8 catOnTheBoards(PixelSize size) {
    Straight8 out(size);
    const double px = 1.0 / size.height;
    overRows(size.height, 16, coreCount(), [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                double alpha = 0;
                Vec middle;
                for (int k = 0; k < 4; ++k) {
                    const Vec p{(x + 0.25 + 0.5 * (k % 2) - where * size.width) * px,
                                (y + 0.25 + 0.5 * (k / 2)) * px - 0.5};
                    alpha += coverAt(ofCat(p), px / large) / 4;
                    middle = p;
                }
                const Rgb shown = mix(groundAt(middle), furAt(ofCat(middle)), alpha);
                int code[3];
                for (std::size_t k = 0; k < 3; ++k)
                    code[k] = static_cast<int>(std::lround(
                        std::clamp(shown[k] + 7 * (hashed(x, y, 20 + static_cast<int>(k)) - 0.5),
                                   0.0, 255.0)));
                out.row(y)[x] = packed(code[0], code[1], code[2], 255);
            }
    });
    return out;
}

RealRect catBox(PixelSize size) {
    const double h = size.height;
    return {std::round(where * size.width - 0.289 * h), std::round(0.185 * h),
            std::round(0.723 * h), std::round(0.655 * h)};
}

}  // namespace zl::demo
