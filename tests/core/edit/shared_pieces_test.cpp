// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "base/shared.h"
#include "edit/edits.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

// One step of a drag: of 200 pieces, 199 are the ones of the kit before.
TEST(Kit, AnEditCopiesThePieceThatItChanges) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {160, 90}), test::textured({32, 18}),
                                {3, 2, 120, 70});
    for (int i = 0; i < 199; ++i) {
        Piece more = std::as_const(kit).pieces[0];
        more.id = "p" + std::to_string(i);
        kit.pieces.push_back(more);
    }
    const Kit before = kit;
    const Layer layer = *before.piece("p")->layer(1);
    const Kit after = good(withChangedLayer(before, "p", moved(layer, 1, 0)));
    std::size_t own = 0;
    for (std::size_t i = 0; i < after.pieces.size(); ++i)
        own += !after.pieces.shares(before.pieces, i);
    EXPECT_EQ(own, 1u);
    EXPECT_FALSE(after.pieces.shares(before.pieces, 0));
    EXPECT_FALSE(after == before);
    EXPECT_EQ(before.piece("p")->layer(1)->picture()->place.x, 3);
}

}  // namespace
}  // namespace zl
