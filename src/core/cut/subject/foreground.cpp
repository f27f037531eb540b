// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/foreground.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace zl {
namespace {

using Rgb = std::array<float, 3>;

struct Level {
    PixelSize size;
    std::vector<float> alpha;
    std::vector<Rgb> picture, subject, ground;
    std::vector<std::uint8_t> mixed;  // whether the pixel has to be solved
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) +
               static_cast<std::size_t>(x);
    }
};

// The picture and its alpha at the size, by the nearest pixel; the colours of the level before.
Level levelOf(const Straight8& picture, const Plane& alpha, PixelSize size, const Level& before,
              int threads) {
    Level level{size, {}, {}, {}, {}, {}};
    const auto n = static_cast<std::size_t>(size.count());
    level.alpha.resize(n);
    level.picture.resize(n);
    level.subject.resize(n);
    level.ground.resize(n);
    level.mixed.assign(n, 1);
    overRows(size.height, 16, threads, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const auto from = [](int at, int to, int of) {
                    return static_cast<int>((2LL * at + 1) * of / (2LL * to));
                };
                const int u = from(x, size.width, picture.width()),
                          v = from(y, size.height, picture.height());
                const std::size_t i = level.at(x, y);
                const std::uint32_t p = picture.row(v)[u];
                level.alpha[i] = alpha.row(v)[u];
                level.picture[i] = {static_cast<float>(redOf(p)), static_cast<float>(greenOf(p)),
                                    static_cast<float>(blueOf(p))};
                const std::size_t j = before.at(from(x, size.width, before.size.width),
                                                from(y, size.height, before.size.height));
                level.subject[i] = level.alpha[i] >= 1 ? level.picture[i] : before.subject[j];
                level.ground[i] = level.alpha[i] <= 0 ? level.picture[i] : before.ground[j];
            }
    });
    return level;
}

// Far from the edge one of the two is seen as it is, the other is as the level before had it.
void leaveFarPixels(Level& level, int threads) {
    constexpr int near = 2;
    overRows(level.size.height, 16, threads, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < level.size.width; ++x) {
                bool mixed = false;
                const float own = level.alpha[level.at(x, y)];
                for (int v = std::max(0, y - near);
                     v <= std::min(level.size.height - 1, y + near) && !mixed; v += near)
                    for (int u = std::max(0, x - near);
                         u <= std::min(level.size.width - 1, x + near); u += near) {
                        const float a = level.alpha[level.at(u, v)];
                        mixed = mixed || (a > 0 && a < 1) || a != own;
                    }
                level.mixed[level.at(x, y)] = mixed;
            }
    });
}

// One pixel's two colours from its own mixture and from its four neighbours.
void settle(Level& level, int x, int y) {
    constexpr float epsilon = 1e-3F, gradient = 0.1F;
    const std::size_t i = level.at(x, y);
    const float a = level.alpha[i], b = 1 - a;
    float aa = a * a, bb = b * b;
    const float ab = a * b;
    const Rgb& c = level.picture[i];
    Rgb f{a * c[0], a * c[1], a * c[2]}, g{b * c[0], b * c[1], b * c[2]};
    for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
        const int u = std::clamp(x + dx, 0, level.size.width - 1),
                  v = std::clamp(y + dy, 0, level.size.height - 1);
        const std::size_t j = level.at(u, v);
        const float weight = epsilon + gradient * std::abs(a - level.alpha[j]);
        aa += weight;
        bb += weight;
        for (std::size_t k = 0; k < 3; ++k) {
            f[k] += weight * level.subject[j][k];
            g[k] += weight * level.ground[j][k];
        }
    }
    const float by = 1 / (aa * bb - ab * ab);
    for (std::size_t k = 0; k < 3; ++k) {
        level.subject[i][k] = std::clamp(by * (bb * f[k] - ab * g[k]), 0.0F, 255.0F);
        level.ground[i][k] = std::clamp(by * (aa * g[k] - ab * f[k]), 0.0F, 255.0F);
    }
}

}  // namespace

TwoColours coloursUnder(const Straight8& picture, const Plane& alpha, bool everywhere, int threads,
                        const std::stop_token& stop) {
    // The mean of each side to begin with.
    Level level{{1, 1}, {0}, {{}}, {{}}, {{}}, {1}};
    double sums[2][3] = {}, weights[2] = {1e-6, 1e-6};
    for (int y = 0; y < picture.height(); y += 3)
        for (int x = 0; x < picture.width(); x += 3) {
            const std::uint32_t p = picture.row(y)[x];
            const double a = alpha.row(y)[x],
                         c[3] = {static_cast<double>(redOf(p)), static_cast<double>(greenOf(p)),
                                 static_cast<double>(blueOf(p))};
            weights[0] += a;
            weights[1] += 1 - a;
            for (int k = 0; k < 3; ++k) {
                sums[0][k] += a * c[k];
                sums[1][k] += (1 - a) * c[k];
            }
        }
    for (std::size_t k = 0; k < 3; ++k) {
        level.subject[0][k] = static_cast<float>(sums[0][k] / weights[0]);
        level.ground[0][k] = static_cast<float>(sums[1][k] / weights[1]);
    }
    const int longest = std::max(picture.width(), picture.height());
    for (double scale = 1.0 / longest;; scale = std::min(1.0, 2 * scale)) {
        const PixelSize size{std::max(1, static_cast<int>(std::lround(picture.width() * scale))),
                             std::max(1, static_cast<int>(std::lround(picture.height() * scale)))};
        level = levelOf(picture, alpha, size, level, threads);
        constexpr int smallSide = 32, wholeSide = 200;
        if (!everywhere && std::max(size.width, size.height) > wholeSide)
            leaveFarPixels(level, threads);
        const int passes = std::max(size.width, size.height) <= smallSide ? 10 : 3;
        // Every other pixel at a time, like the squares of a board: no order of threads matters.
        for (int pass = 0; pass < 2 * passes; ++pass) {
            if (stop.stop_requested()) break;
            overRows(size.height, 16, threads, [&](int first, int last) {
                for (int y = first; y < last; ++y)
                    for (int x = (y + pass) & 1; x < size.width; x += 2)
                        if (level.mixed[level.at(x, y)]) settle(level, x, y);
            });
        }
        if (scale >= 1) break;
    }
    return {level.size, std::move(level.subject), std::move(level.ground)};
}

}  // namespace zl
