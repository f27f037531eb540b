// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/clean.h"

#include <cmath>
#include <optional>

#include "base/parallel.h"
#include "cut/edge_scan.h"
#include "raster/coverage.h"

namespace zl {
namespace {

// The colour of the nearest deep ink; nothing where a stroke is too thin to have any.
std::optional<std::uint32_t> nearestInk(const Straight8& ink, const Spot& at, bool deeper) {
    constexpr int reach = 6;
    for (const Spot& o : nearestFirst(reach)) {
        const int x = at.x + o.x, y = at.y + o.y;
        if (x < 0 || y < 0 || x >= ink.width() || y >= ink.height()) continue;
        if (isDeep(ink, x, y, deeper)) return ink.row(y)[x] & 0xFFFFFF;
    }
    return {};
}

void takeFringeOff(const Straight8& ink, Straight8& out, int threads) {
    const EdgePixels edges = edgePixelsOf(ink, threads);
    const Fringe fringe = fringeOf(ink, edges, 1 << 28);
    constexpr double noticed = 4;  // CIEDE2000: what nobody sees is left alone
    if (!fringe.told || fringe.damage <= noticed) return;
    // A matte is in every partly covered pixel of a crisp edge.
    for (const Spot& at : edges.crisp) {
        const std::uint32_t p = ink.row(at.y)[at.x];
        const auto clean = nearestInk(ink, at, false);
        if (!clean) continue;
        // Where much is covered F is solved from C = aF + (1 - a)B, B in its strength; where little
        // is, it is the ink's near by.
        const double a = alphaOf(p) / 255.0, k = fringe.hardEdge ? 0 : fringe.strength * (1 - a);
        constexpr double solvedFrom = 0.4, solvedAlone = 0.7;
        const double weight =
            k > 0 ? std::clamp((a - solvedFrom) / (solvedAlone - solvedFrom), 0.0, 1.0) : 0;
        const auto free = [&](int c, int f, int b) {
            const double solved = std::clamp((c - k * b) / (1 - k), 0.0, 255.0);
            return static_cast<int>(std::lround(weight * solved + (1 - weight) * f));
        };
        out.row(at.y)[at.x] =
            packed(free(redOf(p), redOf(*clean), fringe.matte.red),
                   free(greenOf(p), greenOf(*clean), fringe.matte.green),
                   free(blueOf(p), blueOf(*clean), fringe.matte.blue), alphaOf(p));
    }
    if (!fringe.hardEdge) return;
    const double b[3] = {static_cast<double>(fringe.matte.red),
                         static_cast<double>(fringe.matte.green),
                         static_cast<double>(fringe.matte.blue)};
    const auto mend = [&](int x, int y) {
        const std::uint32_t p = ink.row(y)[x];
        if (alphaOf(p) <= edge::clear || isDeep(ink, x, y, true)) return;
        const auto clean = nearestInk(ink, {x, y}, true);
        if (!clean) return;
        double square = 0, along = 0;
        for (int c = 0; c < 3; ++c) {
            const double f = static_cast<double>(*clean >> 8 * c & 255u), d = f - b[c];
            square += d * d;
            along += d * (static_cast<double>(p >> 8 * c & 255u) - b[c]);
        }
        if (square < 64) return;
        const double covered = std::clamp(along / square, 0.0, 1.0);
        if (covered > 0.97) return;
        out.row(y)[x] = *clean | static_cast<std::uint32_t>(std::lround(covered * alphaOf(p)))
                                     << 24;
    };
    std::vector<char> seen(static_cast<std::size_t>(ink.size().count()));
    for (const Spot& at : edges.hard)
        for (int y = std::max(0, at.y - 1); y <= std::min(ink.height() - 1, at.y + 1); ++y)
            for (int x = std::max(0, at.x - 1); x <= std::min(ink.width() - 1, at.x + 1); ++x) {
                char& was =
                    seen[static_cast<std::size_t>(y) * static_cast<std::size_t>(ink.width()) +
                         static_cast<std::size_t>(x)];
                if (!was) mend(x, y);
                was = 1;
            }
}

// The longest straight piece through the spot tells its slope best.
ContourLine longestLineAt(const Straight8& ink, const Spot& at) {
    for (const int window : {25, 17, 9})
        if (const ContourLine line = contourAt(ink, at, window); line.found) return line;
    return {};
}

void softenSteps(const Straight8& ink, Straight8& out, int threads) {
    const EdgePixels edges = edgePixelsOf(ink, threads);
    const Steps steps = stepsOf(ink, edges, 1 << 28);
    struct Wish {
        double sum = 0, weight = 0;
    };
    const auto width = static_cast<std::size_t>(ink.width());
    std::vector<Wish> wishes(static_cast<std::size_t>(ink.size().count()));
    for (const Spot& at : steps.stepped) {
        const ContourLine line = longestLineAt(ink, at);
        if (!line.found) continue;
        constexpr int reach = 2;
        for (int y = std::max(0, at.y - reach); y <= std::min(ink.height() - 1, at.y + reach); ++y)
            for (int x = std::max(0, at.x - reach); x <= std::min(ink.width() - 1, at.x + reach);
                 ++x) {
                const double t = line.t - line.nx * (x + 0.5) - line.ny * (y + 0.5);
                if (std::abs(t) > 1.2) continue;
                // Near its middle a line is sure.
                const double weight = 1.0 / (1 + (x - at.x) * (x - at.x) + (y - at.y) * (y - at.y));
                Wish& wish =
                    wishes[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x)];
                wish.sum += weight * coverageOf(static_cast<float>(t), static_cast<float>(line.nx),
                                                static_cast<float>(line.ny));
                wish.weight += weight;
            }
    }
    for (int y = 0; y < ink.height(); ++y)
        for (int x = 0; x < ink.width(); ++x) {
            const Wish& wish =
                wishes[static_cast<std::size_t>(y) * width + static_cast<std::size_t>(x)];
            if (wish.weight <= 0) continue;
            const auto alpha =
                static_cast<std::uint32_t>(std::lround(255 * wish.sum / wish.weight));
            std::uint32_t colour = ink.row(y)[x] & 0xFFFFFF;
            if (alphaOf(ink.row(y)[x]) <= edge::clear) {
                // What was nothing has no colour of its own.
                for (const Spot& o : nearestFirst(4)) {
                    const int sx = x + o.x, sy = y + o.y;
                    if (sx < 0 || sy < 0 || sx >= ink.width() || sy >= ink.height() ||
                        alphaOf(ink.row(sy)[sx]) < edge::contour)
                        continue;
                    colour = ink.row(sy)[sx] & 0xFFFFFF;
                    break;
                }
            }
            out.row(y)[x] = alpha == 0 ? 0 : colour | alpha << 24;
        }
}

void fillPinholes(const Straight8& ink, double scale, Straight8& out) {
    for (const Dirt::Piece& hole : dirtOf(ink, scale).pinholes) {
        int sum[3] = {}, count = 0;
        for (int y = hole.box.top - 1; y <= hole.box.bottom; ++y)
            for (int x = hole.box.left - 1; x <= hole.box.right; ++x) {
                const std::uint32_t p = ink.row(y)[x];
                if (alphaOf(p) < edge::opaque) continue;
                for (int c = 0; c < 3; ++c) sum[c] += static_cast<int>(p >> 8 * c & 255u);
                ++count;
            }
        // With the hole goes its soft rim.
        for (int y = hole.box.top - 1; y <= hole.box.bottom; ++y)
            for (int x = hole.box.left - 1; x <= hole.box.right; ++x)
                if (alphaOf(ink.row(y)[x]) < edge::opaque && count > 0)
                    out.row(y)[x] =
                        packed((sum[0] + count / 2) / count, (sum[1] + count / 2) / count,
                               (sum[2] + count / 2) / count, 255);
    }
}

void unpremultiply(Straight8& out) {
    for (int y = 0; y < out.height(); ++y)
        for (std::uint32_t* p = out.row(y); p != out.row(y) + out.width(); ++p) {
            const int a = alphaOf(*p);
            if (a == 0 || a == 255) continue;
            const auto straight = [&](int v) { return std::min(255, (v * 255 + a / 2) / a); };
            *p = packed(straight(redOf(*p)), straight(greenOf(*p)), straight(blueOf(*p)), a);
        }
}

}  // namespace

Straight8 cleaned(const Straight8& ink, const CleanCut& clean, int threads) {
    Straight8 out = ink.clone();
    if (ink.empty()) return out;
    switch (clean.what) {
        case Cleaning::fringe:
            takeFringeOff(ink, out, threads);
            break;
        case Cleaning::steps:
            softenSteps(ink, out, threads);
            break;
        case Cleaning::specks:
            for (const Dirt::Piece& speck : dirtOf(ink, clean.scale).specks)
                for (const Spot& at : speck.pixels) out.row(at.y)[at.x] = 0;
            break;
        case Cleaning::haze:
            // What is left of a veil is a veil again, until nothing is.
            for (int round = 0; round < 8; ++round) {
                const auto haze = dirtOf(out, clean.scale).haze;
                if (haze.empty()) break;
                for (const Spot& at : haze) out.row(at.y)[at.x] = 0;
            }
            break;
        case Cleaning::pinholes:
            fillPinholes(ink, clean.scale, out);
            break;
        case Cleaning::premultiplied:
            unpremultiply(out);
    }
    return out;
}

}  // namespace zl
