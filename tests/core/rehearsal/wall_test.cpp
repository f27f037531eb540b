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

// A page as wide as a surface would be as high as 3,360,000 px for the highest frame there may be.
TEST(Wall, APieceOfAnyShapeIsMetEverywhere) {
    for (const PixelSize frame : {PixelSize{1, 20'000}, {20'000, 1}, {1, 1}})
        for (const Brief& brief : briefs().all) {
            Piece piece;
            piece.brief = brief.id;
            const auto pieces = wallPiecesOf(
                piece, briefs(),
                std::make_shared<const Straight8>(Straight8::cleared(frame, 0xFF4060A0u)));
            std::size_t drawn = 0;
            const auto done =
                drawWall(pieces, "x", {240, 150}, {}, [&](std::size_t, const Tile&) { ++drawn; });
            EXPECT_TRUE(done) << brief.id;
            EXPECT_EQ(drawn, tilesOf(pieces)) << brief.id;
        }
}

TEST(Wall, OfAPictureFarHigherThanWideTheTopIsMet) {
    const auto of = [](PixelSize size) {
        return std::make_shared<const Straight8>(
            painted(size, [](int, int y) { return packed(y % 256, y / 256, 0, 255); }));
    };
    const auto usual = of({100, 800}), high = of({100, 801});
    EXPECT_EQ(asMet(usual), usual);
    const auto met = asMet(high);
    EXPECT_EQ(met->size(), (PixelSize{100, 800}));
    EXPECT_EQ(met->row(799)[99], high->row(799)[99]);
}

}  // namespace
}  // namespace zl::test
