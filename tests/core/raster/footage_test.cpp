// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/footage.h"
#include "raster/ink_box.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(Footage, IsWhatItIsCalled) {
    for (const Footage footage : allFootage) {
        const Straight8 picture = footageOf(footage, {90, 70});
        int low = 255, high = 0;
        for (const std::uint32_t p : picture.pixels()) {
            low = std::min(low, greenOf(p));
            high = std::max(high, greenOf(p));
            ASSERT_EQ(alphaOf(p), 255);
        }
        EXPECT_GE(low, footage == Footage::light ? 190 : 0);
        EXPECT_LE(high, footage == Footage::dark ? 60 : 255);
        EXPECT_GT(high - low, footage == Footage::busy ? 150 : 5);
        const Straight8 again = footageOf(footage, {90, 70});
        EXPECT_TRUE(
            std::equal(picture.pixels().begin(), picture.pixels().end(), again.pixels().begin()));
    }
}

}  // namespace
}  // namespace zl
