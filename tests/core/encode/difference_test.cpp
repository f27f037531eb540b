// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "colour/colour_rows.h"
#include "core/support/colours.h"
#include "encode/difference.h"
#include "encode/ssim.h"
#include "support/support.h"

namespace zl {
namespace {

// The definition as it is printed (Wang, Bovik, Sheikh and Simoncelli 2004, section III-B), window
// by window, in double precision.
double ssimByDefinition(const Straight8& one, const Straight8& two) {
    const int across = std::min(11, one.width()), down = std::min(11, one.height());
    const auto weight = [](int i, int taps) {
        const double d = i - (taps - 1) / 2.0;
        return std::exp(-d * d / (2 * 1.5 * 1.5));
    };
    double all = 0;
    int windows = 0;
    for (const int shift : {0, 8, 16})
        for (int top = 0; top + down <= one.height(); ++top)
            for (int left = 0; left + across <= one.width(); ++left, ++windows) {
                double sum = 0, a = 0, b = 0, aa = 0, bb = 0, ab = 0;
                for (int y = 0; y < down; ++y)
                    for (int x = 0; x < across; ++x) {
                        const double w = weight(x, across) * weight(y, down);
                        const double p = one.row(top + y)[left + x] >> shift & 255u,
                                     q = two.row(top + y)[left + x] >> shift & 255u;
                        sum += w;
                        a += w * p;
                        b += w * q;
                        aa += w * p * p;
                        bb += w * q * q;
                        ab += w * p * q;
                    }
                for (double* m : {&a, &b, &aa, &bb, &ab}) *m /= sum;
                constexpr double c1 = 0.01 * 255 * 0.01 * 255, c2 = 0.03 * 255 * 0.03 * 255;
                all += (2 * a * b + c1) * (2 * (ab - a * b) + c2) /
                       ((a * a + b * b + c1) * (aa - a * a + bb - b * b + c2));
            }
    return all / windows;
}

Straight8 grainy(PixelSize size) {
    return test::painted(
        size, [](int x, int y) { return packed(x * 3 % 256, (x * y) % 251, 200 - y % 97, 255); });
}

// Sides under the window, at it, at the vectors' ends, and over one strip.
TEST(Ssim, IsTheDefinitionOnAnySizeWithAnyVectorsAndThreads) {
    for (const PixelSize size :
         {PixelSize{7, 5}, {1, 30}, {11, 11}, {12, 40}, {40, 9}, {53, 37}, {1307, 13}}) {
        const Straight8 one = grainy(size), two = disturbed(one, 40);
        const double expected = ssimByDefinition(one, two);
        for (const int lanes : {4, 8, 16}) {
            if (lanes > mostLanes()) continue;
            EXPECT_NEAR(ssimOf(one, two, 1, lanes), expected, 5e-6)
                << size.width << " x " << size.height << ", " << lanes;
        }
    }
    const Straight8 tall = grainy({61, 400}), other = disturbed(tall, 9);
    EXPECT_EQ(ssimOf(tall, other, 1), ssimOf(tall, other, 3));
}

double percentileByDefinition(const Straight8& one, const Straight8& two) {
    std::vector<float> all = everyDifference(one, two);
    std::sort(all.begin(), all.end());
    return all[static_cast<std::size_t>(std::ceil(0.99 * static_cast<double>(all.size()))) - 1];
}

// The guess is made from one row in sixteen: these are like the others, without any harm, and the
// only ones that are harmed.
TEST(Difference, Its99thPercentileIsRightWhateverAFewRowsSay) {
    const Straight8 one = grainy({200, 160}), harmed = disturbed(one, 25);
    const auto where = [&](auto isHarmed) {
        return test::painted(
            one.size(), [&](int x, int y) { return (isHarmed(x, y) ? harmed : one).row(y)[x]; });
    };
    const std::array<Straight8, 6> others{where([](int, int) { return true; }),
                                          where([](int, int y) { return y % 16 != 8; }),
                                          where([](int, int y) { return y % 16 == 8; }),
                                          where([](int x, int y) { return y == 8 && x < 150; }),
                                          where([](int x, int y) { return x == 0 && y < 2; }),
                                          one.clone()};
    for (std::size_t i = 0; i < others.size(); ++i)
        EXPECT_NEAR(de00Percentile99(one, others[i]), percentileByDefinition(one, others[i]), 1e-4)
            << i;
    const Straight8 low = grainy({90, 12}), lowHarmed = disturbed(low, 25);
    EXPECT_NEAR(de00Percentile99(low, lowHarmed, 2), percentileByDefinition(low, lowHarmed), 1e-4);
}

}  // namespace
}  // namespace zl
