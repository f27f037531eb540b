// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/turn.h"

#include <cmath>
#include <numbers>
#include <vector>

#include "base/parallel.h"
#include "raster/coverage.h"

namespace zl {
namespace {

// The ink as premultiplied floats, interleaved, 0..1.
std::vector<float> premultiplied(const Ink& ink) {
    std::vector<float> out(static_cast<std::size_t>(ink.box.size().count()) * 4);
    float* to = out.data();
    for (int y = 0; y < ink.box.height(); ++y)
        for (int x = 0; x < ink.box.width(); ++x, to += 4) {
            float v[4];
            if (ink.eight) {
                const std::uint32_t p = ink.eight->row(y + ink.fromY)[x + ink.fromX];
                for (int c = 0; c < 4; ++c) v[c] = static_cast<float>(p >> 8 * c & 255u) / 255.0f;
            } else {
                for (int c = 0; c < 4; ++c)
                    v[c] = static_cast<float>(ink.sixteen->row(c, y)[x]) / 65535.0f;
            }
            for (int c = 0; c < 3; ++c) to[c] = v[c] * v[3];
            to[3] = v[3];
        }
    return out;
}

constexpr int taps = 6;  // Lanczos, a = 3

// Weights for a place between two pixels, in steps of 1/1024, which is far finer than a code value
// can tell.
const std::vector<std::array<float, taps>>& lanczosTable() {
    static const auto table = [] {
        std::vector<std::array<float, taps>> rows(1025);
        for (std::size_t i = 0; i < rows.size(); ++i) {
            double sum = 0;
            std::array<double, taps> w{};
            for (int k = 0; k < taps; ++k) {
                const double x = k - 2 - static_cast<double>(i) / 1024, t = std::numbers::pi * x;
                sum += w[static_cast<std::size_t>(k)] =
                    std::abs(x) < 1e-9 ? 1
                    : std::abs(x) >= 3 ? 0
                                       : 3 * std::sin(t) * std::sin(t / 3) / (t * t);
            }
            for (std::size_t k = 0; k < taps; ++k) rows[i][k] = static_cast<float>(w[k] / sum);
        }
        return rows;
    }();
    return table;
}

std::uint16_t as16(float v) {
    return static_cast<std::uint16_t>(std::clamp(v, 0.0f, 1.0f) * 65535.0f + 0.5f);
}

}  // namespace

Straight8 turnedQuarters(const Straight8& raster, int quarters, bool flipX, bool flipY) {
    const bool swapped = quarters % 2 != 0;
    const int width = raster.width(), height = raster.height();
    Straight8 out(swapped ? PixelSize{height, width} : raster.size());
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const int fx = flipX ? width - 1 - x : x, fy = flipY ? height - 1 - y : y;
            switch (quarters) {
                case 0:
                    out.row(fy)[fx] = raster.row(y)[x];
                    break;
                case 1:
                    out.row(fx)[height - 1 - fy] = raster.row(y)[x];
                    break;
                case 2:
                    out.row(height - 1 - fy)[width - 1 - fx] = raster.row(y)[x];
                    break;
                default:
                    out.row(width - 1 - fx)[fy] = raster.row(y)[x];
            }
        }
    return out;
}

RealRect turnedQuarters(const RealRect& part, PixelSize raster, int quarters, bool flipX,
                        bool flipY) {
    const double width = raster.width, height = raster.height;
    RealRect r = part;
    if (flipX) r.x = width - part.right();
    if (flipY) r.y = height - part.bottom();
    switch (quarters) {
        case 0:
            return r;
        case 1:
            return {height - r.bottom(), r.x, r.height, r.width};
        case 2:
            return {width - r.right(), height - r.bottom(), r.width, r.height};
        default:
            return {r.y, width - r.right(), r.height, r.width};
    }
}

Ink turned(const Ink& ink, const RealRect& place, double degrees, PixelRect want, int threads,
           std::stop_token stop) {
    Ink out;
    const RealPoint centre = place.centre();
    out.box = roundOutwards(boundsOf(place, {degrees, false, false}, centre)).intersected(want);
    if (out.box.empty() || ink.box.empty()) return Ink{};
    const std::vector<float> source = premultiplied(ink);
    const int width = ink.box.width(), height = ink.box.height();
    const double angle = degrees * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    const double perX = width / place.width, perY = height / place.height;
    auto made = std::make_shared<Ink16>(out.box.size());
    const auto& table = lanczosTable();
    overRows(out.box.height(), 8, threads, [&](int firstRow, int lastRow) {
        for (int y = firstRow; y < lastRow && !stop.stop_requested(); ++y)
            for (int x = 0; x < out.box.width(); ++x) {
                const double px = x + out.box.left + 0.5 - centre.x,
                             py = y + out.box.top + 0.5 - centre.y;
                // Back into the place, from its centre.
                const double u = c * px + s * py, v = -s * px + c * py;
                // Each edge's own share of the pixel; opposite edges leave what both leave.
                const auto nx = static_cast<float>(c), ny = static_cast<float>(s);
                const auto side = [&](double off, float x1, float y1) {
                    return coverageOf(static_cast<float>(off), x1, y1);
                };
                const float across =
                    side(place.width / 2 - u, nx, ny) + side(place.width / 2 + u, nx, ny) - 1;
                const float down =
                    side(place.height / 2 - v, -ny, nx) + side(place.height / 2 + v, -ny, nx) - 1;
                const float cover = std::max(0.0f, across) * std::max(0.0f, down);
                float sum[4] = {};
                if (cover > 0) {
                    const double sx = (u + place.width / 2) * perX - 0.5,
                                 sy = (v + place.height / 2) * perY - 0.5;
                    const int ix = static_cast<int>(std::floor(sx)),
                              iy = static_cast<int>(std::floor(sy));
                    const auto& wx = table[static_cast<std::size_t>((sx - ix) * 1024 + 0.5)];
                    const auto& wy = table[static_cast<std::size_t>((sy - iy) * 1024 + 0.5)];
                    for (int j = 0; j < taps; ++j) {
                        const int row = std::clamp(iy + j - 2, 0, height - 1);
                        float line[4] = {};
                        for (int k = 0; k < taps; ++k) {
                            const float* p =
                                source.data() + (static_cast<std::ptrdiff_t>(row) * width +
                                                 std::clamp(ix + k - 2, 0, width - 1)) *
                                                    4;
                            for (int i = 0; i < 4; ++i)
                                line[i] += wx[static_cast<std::size_t>(k)] * p[i];
                        }
                        for (int i = 0; i < 4; ++i)
                            sum[i] += wy[static_cast<std::size_t>(j)] * line[i];
                    }
                }
                const float back = sum[3] > 1e-4f ? 1.0f / sum[3] : 0.0f;
                for (int i = 0; i < 3; ++i) made->row(i, y)[x] = as16(sum[i] * back);
                made->row(3, y)[x] = as16(std::clamp(sum[3], 0.0f, 1.0f) * cover);
            }
    });
    out.sixteen = std::move(made);
    return out;
}

}  // namespace zl
