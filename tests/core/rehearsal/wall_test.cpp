// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "core/support/demo.h"
#include "rehearsal/wall.h"
#include "render/render.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(Wall, HoldsEverySurfaceOfEveryPieceOnce) {
    InkStore store;
    std::vector<WallPiece> pieces;
    for (const Piece& piece : demoKit().pieces) {
        auto frame = releaseFrame({piece, demoKit()}, store);
        ASSERT_TRUE(frame);
        for (WallPiece& one :
             wallPiecesOf(piece, briefs(), std::make_shared<const Straight8>(std::move(*frame))))
            pieces.push_back(std::move(one));
    }
    std::set<std::size_t> seen;
    std::set<std::string> ofPieces;
    const auto done =
        drawWall(pieces, "Mossgate Signals", {240, 150}, {}, [&](std::size_t at, const Tile& tile) {
            EXPECT_TRUE(seen.insert(at).second);
            ofPieces.insert(tile.piece);
            EXPECT_EQ(tile.title.starts_with("header: "), tile.piece == "page-background")
                << "its header is met where headers are: " << tile.title;
            EXPECT_LE(tile.picture.width(), 240);
            EXPECT_LE(tile.picture.height(), 150);
        });
    ASSERT_TRUE(done);
    EXPECT_EQ(seen.size(), tilesOf(pieces));
    EXPECT_GT(seen.size(), 45u);
    // A free frame has no surface; of the two that are there, one has a slice that has.
    EXPECT_EQ(ofPieces.size(), demoKit().pieces.size() - 1);
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(drawWall(pieces, "x", {240, 150}, stop.get_token(), [](std::size_t, const Tile&) {})
                  .error()
                  .code,
              Code::cancelled);
}

}  // namespace
}  // namespace zl::test
