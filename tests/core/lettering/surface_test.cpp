// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "measure/measure.h"
#include "rehearsal/board.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(Lettering, CountsWhereABannerIsSmallest) {
    // Capitals of League Spartan ExtraBold are 0.7 em high or so: 40 px letters are 28 px on the
    // frame and 7.5 px on a phone.
    const Brief& banner = brief("channel-banner");
    Kit kit = kitWith("channel-banner", {2560, 1440});
    kit = withPicture(kit, textured({2560, 1440}, 0), {0, 0, 2560, 1440});
    kit = withLetters(kit, "Small words", 40, {1100, 700});
    InkStore store;
    const Reading reading =
        one(good(readPiece({kit.pieces[0], kit}, banner, store, Weighing::quickBound)).readings,
            "lettering");
    const double height = std::get<double>(reading.value);
    EXPECT_GT(height, 6);
    EXPECT_LT(height, 9);
    EXPECT_NE(reading.shownBeside.find("412"), std::string::npos);
}

}  // namespace
}  // namespace zl::test
