// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "core/support/demo.h"
#include "layout/lay_out.h"
#include "store/kit_file.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(KitFile, KeepsLinksSlicesAndTwins) {
    Kit kit = demoKit();
    InkStore store;
    auto laid = withPieceLaidOut(kit, "thumbnail", *briefs().find("video-thumbnail"),
                                 *briefs().find("square-post"), store);
    ASSERT_TRUE(laid);
    laid->first.pieces.front().ownScreen = true;
    const Folder folder;
    ASSERT_TRUE(saveKit(laid->first, folder.path() / "k.zlkit", Replace::no));
    const auto back = openKit(folder.path() / "k.zlkit");
    ASSERT_TRUE(back) << back.error().sentence();
    EXPECT_EQ(back->pieces, laid->first.pieces);
    EXPECT_EQ(back->piece(laid->second)->laidFrom, "thumbnail");
    EXPECT_EQ(back->piece(laid->second)->layers.front().twin, 1);
}

}  // namespace
}  // namespace zl::test
