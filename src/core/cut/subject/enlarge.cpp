// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/enlarge.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"
#include "cut/subject/matte.h"

namespace zl {
namespace {

constexpr int radius = 2;

// alpha = r R + g G + b B + rest, code values as 0..1.
struct Line {
    float r = 0, g = 0, b = 0, rest = 0;
};

bool isMixed(const Plane& alpha, int x, int y, int within) {
    const float own = alpha.row(y)[x];
    for (int v = std::max(0, y - within); v <= std::min(alpha.height() - 1, y + within); ++v)
        for (int u = std::max(0, x - within); u <= std::min(alpha.width() - 1, x + within); ++u) {
            const float a = alpha.row(v)[u];
            if ((a > 0 && a < 1) || a != own) return true;
        }
    return false;
}

// The line that fits alpha best to the colours round a pixel.
Line fitted(const Plane& alpha, const Straight8& small, int cx, int cy) {
    double n = 0, s[3] = {}, p[6] = {}, sa = 0, pa[3] = {};
    for (int y = std::max(0, cy - radius); y <= std::min(alpha.height() - 1, cy + radius); ++y)
        for (int x = std::max(0, cx - radius); x <= std::min(alpha.width() - 1, cx + radius); ++x) {
            const std::uint32_t q = small.row(y)[x];
            const double c[3] = {redOf(q) / 255.0, greenOf(q) / 255.0, blueOf(q) / 255.0};
            const double a = alpha.row(y)[x];
            n += 1;
            sa += a;
            for (int k = 0, m = 0; k < 3; ++k) {
                s[k] += c[k];
                pa[k] += a * c[k];
                for (int l = k; l < 3; ++l) p[m++] += c[k] * c[l];
            }
        }
    constexpr double epsilon = 1e-5;
    double v[6], t[3];
    for (int k = 0, m = 0; k < 3; ++k) {
        t[k] = pa[k] / n - s[k] * sa / (n * n);
        for (int l = k; l < 3; ++l, ++m)
            v[m] = p[m] / n - s[k] * s[l] / (n * n) + (k == l ? epsilon : 0);
    }
    const double rr = v[3] * v[5] - v[4] * v[4], rg = v[2] * v[4] - v[1] * v[5],
                 rb = v[1] * v[4] - v[2] * v[3], gg = v[0] * v[5] - v[2] * v[2],
                 gb = v[1] * v[2] - v[0] * v[4], bb = v[0] * v[3] - v[1] * v[1];
    const double det = v[0] * rr + v[1] * rg + v[2] * rb;
    const double r = (rr * t[0] + rg * t[1] + rb * t[2]) / det,
                 g = (rg * t[0] + gg * t[1] + gb * t[2]) / det,
                 b = (rb * t[0] + gb * t[1] + bb * t[2]) / det;
    return {static_cast<float>(r), static_cast<float>(g), static_cast<float>(b),
            static_cast<float>((sa - r * s[0] - g * s[1] - b * s[2]) / n)};
}

}  // namespace

Between::Between(int x, int y, PixelSize size, PixelSize plane) {
    const auto at = [](int pixel, int from, int to, int& first, int& second) {
        const double exact = std::clamp((pixel + 0.5) * to / from - 0.5, 0.0, to - 1.0);
        first = static_cast<int>(exact);
        second = std::min(to - 1, first + 1);
        return static_cast<float>(exact - first);
    };
    right = at(x, size.width, plane.width, x0, x1);
    down = at(y, size.height, plane.height, y0, y1);
}

Plane enlargedAlpha(const Plane& alpha, const Straight8& small, const Straight8& picture,
                    int threads) {
    const PixelSize from = alpha.size(), size = picture.size();
    std::vector<Line> lines(static_cast<std::size_t>(from.count())), means(lines.size());
    const auto at = [&](int x, int y) {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(from.width) +
               static_cast<std::size_t>(x);
    };
    Plane mixed(from);
    overRows(from.height, 16, threads, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < from.width; ++x) {
                if (isMixed(alpha, x, y, radius))
                    lines[at(x, y)] = fitted(alpha, small, x, y);
                else
                    lines[at(x, y)].rest = alpha.row(y)[x];
                mixed.row(y)[x] = isMixed(alpha, x, y, 1) ? 1 : 0;
            }
    });
    overRows(from.height, 16, threads, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < from.width; ++x) {
                if (mixed.row(y)[x] == 0) {
                    means[at(x, y)] = lines[at(x, y)];
                    continue;
                }
                Line sum;
                float n = 0;
                for (int v = std::max(0, y - radius); v <= std::min(from.height - 1, y + radius);
                     ++v)
                    for (int u = std::max(0, x - radius); u <= std::min(from.width - 1, x + radius);
                         ++u) {
                        const Line& l = lines[at(u, v)];
                        sum = {sum.r + l.r, sum.g + l.g, sum.b + l.b, sum.rest + l.rest};
                        n += 1;
                    }
                means[at(x, y)] = {sum.r / n, sum.g / n, sum.b / n, sum.rest / n};
            }
    });
    Plane out(size);
    overRows(size.height, 16, threads, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const Between there(x, y, size, from);
                float& a = out.row(y)[x];
                a = alpha.row(there.y0)[there.x0];
                if (mixed.row(there.y0)[there.x0] == 0 && mixed.row(there.y1)[there.x1] == 0)
                    continue;
                const std::uint32_t p = picture.row(y)[x];
                const auto line = [&](float Line::*part) {
                    return there.of([&](int u, int v) { return means[at(u, v)].*part; });
                };
                a = settledAlpha(line(&Line::r) * static_cast<float>(redOf(p)) / 255 +
                                 line(&Line::g) * static_cast<float>(greenOf(p)) / 255 +
                                 line(&Line::b) * static_cast<float>(blueOf(p)) / 255 +
                                 line(&Line::rest));
            }
    });
    return out;
}

}  // namespace zl
