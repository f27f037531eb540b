// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <random>
#include <vector>

#include "colour/colour.h"
#include "colour/colour_rows.h"
#include "core/support/colours.h"
#include "support/support.h"

namespace zl {
namespace {

// The bounds that spare the formula never say anything else than it does, at any limit; near pairs
// and grey ones too.
TEST(Colour, WhetherTwoDifferIsToldAsTheFormulaHasIt) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> anyCode(0, 255), anyLimit(0.1, 40);
    std::normal_distribution<double> near(0, 12);
    const auto any = [&] { return labOf(anyCode(random), anyCode(random), anyCode(random)); };
    int over = 0;
    for (int i = 0; i < 60'000; ++i) {
        const Lab one = any();
        Lab two = any();
        if (i % 3 == 1) two = {one.l + near(random), one.a + near(random), one.b + near(random)};
        if (i % 3 == 2) two = {one.l + near(random) / 9, one.a + near(random), one.b};
        const double limit = anyLimit(random), difference = differenceCie2000(one, two);
        ASSERT_EQ(differsCie2000(one, two, limit), difference >= limit)
            << one.l << ' ' << one.a << ' ' << one.b << " and " << two.l << ' ' << two.a << ' '
            << two.b << ": " << difference << " at " << limit;
        over += difference >= limit;
    }
    EXPECT_GT(over, 10'000);
    EXPECT_LT(over, 50'000);
}

// Sharma, Wu and Dalal 2005, the formula; what is left out must be what is not over, in every
// corner of the colours.
TEST(ColourRows, LeavesOutNoDifferenceThatIsOver) {
    std::mt19937 random(3);
    const Straight8 any =
        test::painted({2'531, 3}, [&](int, int) { return random() | 0xFF000000u; });
    const Straight8 blues = test::painted(
        {2'531, 3}, [](int x, int y) { return packed(x % 60, y * 20, 90 + x % 160, 255); });
    for (const Straight8* one : {&any, &blues})
        for (const int by : {2, 12, 255}) {
            const Straight8 two = disturbed(*one, by);
            const std::vector<float> all = everyDifference(*one, two);
            for (const float least : {-1.0f, 0.0f, 0.7f, 3.0f, 20.0f}) {
                std::vector<float> expected, found(all.size());
                std::copy_if(all.begin(), all.end(), std::back_inserter(expected),
                             [&](float v) { return v > least; });
                const int count = differencesOver(least, Labs(*one), Labs(two),
                                                  static_cast<int>(all.size()), found.data());
                ASSERT_EQ(count, static_cast<int>(expected.size())) << by << ", " << least;
                for (std::size_t i = 0; i < expected.size(); ++i)
                    ASSERT_NEAR(found[i], expected[i], 1e-4);
            }
        }
}

}  // namespace
}  // namespace zl
