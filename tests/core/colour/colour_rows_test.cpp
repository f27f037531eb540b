// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <random>
#include <vector>

#include "colour/colour_rows.h"
#include "core/support/colours.h"
#include "support/support.h"

namespace zl {
namespace {

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
