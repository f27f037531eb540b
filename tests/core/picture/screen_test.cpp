// SPDX-License-Identifier: GPL-3.0-or-later
#include <array>
#include <cmath>

#include "core/support/noise.h"
#include "picture/content.h"
#include "picture/shrink.h"
#include "raster/over.h"
#include "raster/resample.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(Screen, ShowsAreaMeansOverTheBackdrop) {
    const Straight8 frame = test::painted(
        {4, 2}, [](int x, int) { return x < 2 ? packed(100, 0, 0, 255) : packed(0, 0, 0, 0); });
    std::array<std::uint32_t, 2> out{};
    showOnScreen(frame, {0.5, 0, 0}, {false, {0, 0, 255, 255}, {}}, {1, 2, 3, 255}, {0, 0, 2, 1},
                 out.data(), 2);
    EXPECT_EQ(out[0], 0xFF640000u);
    EXPECT_EQ(out[1], 0xFF0000FFu);
    std::array<std::uint32_t, 3> beyond{};
    showOnScreen(frame, {1, 0.5, 0}, {false, {0, 0, 255, 255}, {}}, {0, 0, 0, 255}, {-1, 0, 2, 1},
                 beyond.data(), 3);
    EXPECT_EQ(beyond[0], 0xFF000000u);
    EXPECT_EQ(beyond[1], 0xFF320000u) << "half of the pixel shows the frame";
}

// What a screen pixel shows, in double precision: the mean of the premultiplied frame area over a
// colour.
std::array<double, 3> shownInDouble(const Straight8& frame, const Mapping& m, const Colour& back,
                                    const Colour& outside, int x, int y) {
    const auto range = [](int at, double origin, double scale) {
        return std::pair{(at - origin) / scale, (at + 1 - origin) / scale};
    };
    const auto [left, right] = range(x, m.originX, m.scale);
    const auto [top, bottom] = range(y, m.originY, m.scale);
    std::array<double, 3> sum{};
    double inside = 0;
    for (int fy = std::max(0, static_cast<int>(std::floor(top)));
         fy < std::min<double>(frame.height(), std::ceil(bottom)); ++fy)
        for (int fx = std::max(0, static_cast<int>(std::floor(left)));
             fx < std::min<double>(frame.width(), std::ceil(right)); ++fx) {
            const double share =
                std::max(0.0, std::min(right, fx + 1.0) - std::max(left, fx * 1.0)) *
                std::max(0.0, std::min(bottom, fy + 1.0) - std::max(top, fy * 1.0)) * m.scale *
                m.scale;
            const std::uint32_t p = frame.row(fy)[fx];
            const double a = alphaOf(p) / 255.0;
            sum[0] += share * (redOf(p) * a + back.red * (1 - a));
            sum[1] += share * (greenOf(p) * a + back.green * (1 - a));
            sum[2] += share * (blueOf(p) * a + back.blue * (1 - a));
            inside += share;
        }
    return {sum[0] + (1 - inside) * outside.red, sum[1] + (1 - inside) * outside.green,
            sum[2] + (1 - inside) * outside.blue};
}

// Solid and see-through stretches in one row, at scales where a screen pixel shows one, a few and
// many of the frame's.
TEST(Screen, IsWithinACodeValueOfDoublePrecisionOnAnyNumberOfThreads) {
    const Straight8 frame = test::painted({900, 600}, [](int x, int y) {
        const std::uint32_t n = static_cast<std::uint32_t>(x * 31 + y * 17) * 2654435761u;
        const int alpha = x < 300   ? 255
                          : x < 600 ? static_cast<int>(n >> 24)
                                    : (x / 7 + y / 5) % 2 * 255;
        return (n & 0xFFFFFFu) | static_cast<std::uint32_t>(alpha) << 24;
    });
    const Colour back{30, 90, 200, 255}, outside{9, 8, 7, 255};
    for (const double scale : {0.05, 0.29, 0.35, 0.5, 1.0, 2.5}) {
        const Mapping mapping{scale, 7.25, -3.5};
        const PixelRect want{-2, -1, static_cast<int>(900 * scale) + 12,
                             static_cast<int>(600 * scale) + 3};
        const auto drawn = [&](int threads) {
            std::vector<std::uint32_t> out(static_cast<std::size_t>(want.size().count()));
            showOnScreen(frame, mapping, {false, back, {}}, outside, want, out.data(), want.width(),
                         threads);
            return out;
        };
        const auto alone = drawn(1);
        EXPECT_EQ(alone, drawn(3)) << scale;
        double worst = 0;
        for (int y = want.top; y < want.bottom; y += 3)
            for (int x = want.left; x < want.right; x += 2) {
                const std::uint32_t p =
                    alone[static_cast<std::size_t>((y - want.top) * want.width() + x - want.left)];
                const auto true3 = shownInDouble(frame, mapping, back, outside, x, y);
                for (int c = 0; c < 3; ++c)
                    worst = std::max(worst, std::abs((p >> (16 - 8 * c) & 255u) -
                                                     true3[static_cast<std::size_t>(c)]));
            }
        EXPECT_LT(worst, 0.51) << scale;
    }
}

TEST(Screen, ChecksAreSquaresThatStandWithTheFrame) {
    const Straight8 nothing = Straight8::cleared({64, 64}, 0);
    const Backdrop checks{true, {255, 255, 255, 255}, {10, 20, 30, 255}};
    std::vector<std::uint32_t> out(40 * 40);
    showOnScreen(nothing, {1, -20, -4}, checks, {}, {0, 0, 40, 40}, out.data(), 40);
    const auto at = [&](int x, int y) { return out[static_cast<std::size_t>(y * 40 + x)]; };
    EXPECT_EQ(at(4, 4), at(11, 11)) << "one square is 8 px wide, from the corner of the frame on";
    EXPECT_NE(at(4, 4), at(12, 4));
    EXPECT_NE(at(3, 4), at(4, 4));
    EXPECT_EQ(at(3, 3), at(4, 4));
    EXPECT_EQ(std::min(at(4, 4), at(12, 4)), 0xFF0A141Eu);
}

}  // namespace
}  // namespace zl
