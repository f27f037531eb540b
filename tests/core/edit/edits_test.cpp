// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(Edits, AMatteIsSolid) {
    Kit kit = test::kitWith("corner-mark", {150, 150});
    kit.pieces[0].release.matte = Colour{1, 2, 3, 128};
    EXPECT_FALSE(withChangedPiece(kit, kit.pieces[0])) << "a kit that could not be opened again";
    kit.pieces[0].release.matte = Colour{1, 2, 3, 255};
    EXPECT_TRUE(withChangedPiece(kit, kit.pieces[0]));
}

}  // namespace
}  // namespace zl
