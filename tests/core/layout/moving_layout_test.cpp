// SPDX-License-Identifier: GPL-3.0-or-later
// Moving pieces laid out for other places, and their edits carried over.
#include "edit/edits.h"
#include "film/clip_frames.h"
#include "kit/moving.h"
#include "layout/lay_out.h"
#include "measure/videos.h"
#include "support/clips.h"

namespace zl {
namespace {

using test::good;

TEST(MovingLayout, ClipsAndTimesGoAlongAndLaterEditsFollow) {
    const test::Folder folder;
    test::clipOf(folder / "clip.mp4", {96, 54}, 25, [](int n) {
        return test::textured({96, 54}, 3 + n);
    });
    Kit kit = good(withClipOf(test::kitWith("moving-card", {1920, 1080}), "p", folder / "clip.mp4",
                              folder / "kit.zlkit"));
    kit = test::withLetters(kit, "Back soon", 160, {200, 400});
    Layer title = kit.pieces[0].layers[1];
    title.shows = ShowTime{0.2, {}, 0.1};
    kit = good(withChangedLayer(kit, "p", title));
    InkStore store;
    knowVideosOf(store, folder / "kit.zlkit");
    auto [laid, id] = good(
        withPieceLaidOut(kit, "p", test::brief("moving-card"), test::brief("upright-clip"), store));
    const Piece& upright = *laid.piece(id);
    EXPECT_EQ(upright.frame, (PixelSize{1080, 1920}));
    ASSERT_EQ(upright.layers.size(), 2u);
    ASSERT_TRUE(upright.layers[0].picture()->clip);
    EXPECT_EQ(*upright.layers[0].picture()->clip, *kit.pieces[0].layers[0].picture()->clip);
    EXPECT_EQ(upright.layers[1].shows, title.shows);
    EXPECT_DOUBLE_EQ(lengthOf(upright), 1);
    // Later: another part of the clip, another time, another length.
    Layer clip = laid.piece("p")->layers[0];
    clip.picture()->clip->in = 0.2;
    title.shows = ShowTime{0.4, 0.8, 0};
    laid = good(withChangedLayer(good(withChangedLayer(laid, "p", clip)), "p", title));
    Piece longer = *laid.piece("p");
    longer.length = 3;
    laid = good(withChangedPiece(laid, longer));
    laid = good(withEditsCarriedOver(laid, id, test::brief("upright-clip"), store));
    EXPECT_EQ(laid.piece(id)->layers[0].picture()->clip->in, 0.2);
    EXPECT_EQ(laid.piece(id)->layers[1].shows, title.shows);
    EXPECT_DOUBLE_EQ(lengthOf(*laid.piece(id)), 3);
}

TEST(MovingLayout, ADuplicateAndAVariantMoveAsWell) {
    const test::Folder folder;
    test::clipOf(folder / "clip.mp4", {96, 54}, 5, [](int n) {
        return test::textured({96, 54}, 3 + n);
    });
    const Kit kit = good(withClipOf(test::kitWith("free-frame", {96, 54}), "p", folder / "clip.mp4",
                                    folder / "kit.zlkit"));
    for (const bool asVariant : {false, true}) {
        const Kit two = good(withPieceDoubled(kit, "p", asVariant));
        ASSERT_EQ(two.pieces.size(), 2u);
        EXPECT_TRUE(moves(two.pieces[1]));
        EXPECT_EQ(lengthOf(two.pieces[1]), lengthOf(two.pieces[0]));
    }
}

}  // namespace
}  // namespace zl
