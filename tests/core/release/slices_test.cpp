// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "core/support/demo.h"
#include "edit/arrange.h"
#include "edit/edits.h"
#include "release/release.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(Slices, AreThePiecesOwnPixelsAndStandBesideIt) {
    const Folder folder;
    const Kit& kit = demoKit();
    const Piece& piece = *kit.piece("page-background");
    InkStore store;
    const auto done = releasePiece(piece, kit, *briefs().find("free-frame"), store, folder.path(),
                                   Replace::no, {}, {}, &briefs());
    ASSERT_TRUE(done) << done.error().sentence();
    ASSERT_EQ(done->beside.size(), 3u);  // the slice, its page, the piece's page
    const Path strip = folder.path() / "mossgate-page-header.png";
    ASSERT_TRUE(std::filesystem::exists(strip));
    const auto cut = decode(readFile(strip).value(), "strip").value();
    ASSERT_EQ(cut.pixels->size(), (PixelSize{970, 150}));
    const auto frame = releaseFrame({piece, kit}, store).value();
    for (int y = 0; y < 150; ++y)
        for (int x = 0; x < 970; ++x)
            ASSERT_EQ(cut.pixels->row(y)[x], frame.row(y + 22)[x + 475]) << x << ' ' << y;
    EXPECT_TRUE(done->pageRefused.empty());
    // Nothing that stands there is replaced, and then nothing at all is written.
    const auto again = releasePiece(piece, kit, *briefs().find("free-frame"), store, folder.path(),
                                    Replace::no, {}, {}, &briefs());
    ASSERT_FALSE(again);
    EXPECT_EQ(again.error().code, Code::unwritable);
}

TEST(Slices, OutsideTheFrameOrTwiceOfANameAreRefused) {
    Piece piece{"p", "P", "free-frame", {100, 100}, {"p"}, {}};
    for (const std::vector<Slice>& bad : {std::vector<Slice>{{"a", {0, 0, 101, 50}}},
                                          {{"a", {5, 5, 5, 50}}},
                                          {{"A b", {0, 0, 9, 9}}},
                                          {{"", {0, 0, 9, 9}}},
                                          {{"a", {0, 0, 9, 9}}, {"a", {9, 9, 19, 19}}}}) {
        piece.slices = bad;
        EXPECT_FALSE(withPiece({}, piece));
    }
    piece.slices = {{"a", {0, 0, 50, 50}}};
    piece.links = {{{10, 10, 40, 40}, "https://example.org", "x"}};
    const Kit kit = withPiece({}, piece).value();
    // They go along when the piece grows, and a frame that shrinks keeps what is left of them.
    const Kit twice = withPieceScaled(kit, "p", 2).value();
    EXPECT_EQ(twice.pieces[0].slices[0].place, (PixelRect{0, 0, 100, 100}));
    EXPECT_EQ(twice.pieces[0].links[0].place, (PixelRect{20, 20, 80, 80}));
    const Kit less = withFrame(kit, "p", {40, 40}, {0, 0}).value();
    EXPECT_EQ(less.pieces[0].slices[0].place, (PixelRect{0, 0, 40, 40}));
}

}  // namespace
}  // namespace zl::test
