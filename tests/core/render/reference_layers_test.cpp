// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/support/pieces_read.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(ReferenceLayers, AreSeenAndNeverReleased) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                Straight8::cleared({64, 36}, packed(10, 200, 30, 255)),
                                {0, 0, 1280, 720}, "Screenshot 3.png");
    const Reading before = ofPiece("naming", kit);
    EXPECT_EQ(before.mends, (std::vector<std::string>{"to-reference", "rename"}));
    kit = after("to-reference", kit);
    EXPECT_TRUE(kit.pieces[0].layers[0].isReference());
    EXPECT_EQ(ofPiece("naming", kit).verdict, Verdict::pass) << "counted, not blamed";
    InkStore store;
    EXPECT_EQ(good(render({kit.pieces[0], kit}, store)).row(100)[100], packed(10, 200, 30, 255));
    EXPECT_EQ(good(releaseFrame({kit.pieces[0], kit}, store)).row(100)[100], 0u);
    EXPECT_EQ(ofPiece("enlargement", kit).verdict, Verdict::notMeasured)
        << "what is not released is not measured";
}

}  // namespace
}  // namespace zl
