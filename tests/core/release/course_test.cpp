// SPDX-License-Identifier: GPL-3.0-or-later
// A piece that moves, picture after picture, and burned into a video as it moves.
#include "release/course.h"

#include "film/marking.h"
#include "support/clips.h"
#include "video/burn.h"

namespace zl {
namespace {

using test::good;

const Colour red{210, 40, 30, 255}, blue{30, 60, 220, 255};

// A second in all, at 30 frames a second: a red bar for its first half, a blue one for the other.
Kit blinking() {
    Kit kit = test::kitWith("overlay-loop", {32, 16});
    for (const auto& [colour, from, to] : {std::tuple(red, 0.0, 0.5), std::tuple(blue, 0.5, 1.0)}) {
        Layer bar;
        bar.name = "Bar";
        bar.what = BarLayer{};
        test::barOf(bar)->place = {4, 2, 24, 12};
        test::barOf(bar)->colour = colour;
        bar.shows = ShowTime{from, to, 0};
        kit = good(withLayer(kit, "p", bar));
    }
    Piece piece = kit.pieces.front();
    piece.length = 1;
    return good(withChangedPiece(kit, std::move(piece)));
}

Colour inkOf(const Straight8& picture) {
    const std::uint32_t p = picture.row(8)[16];
    const auto code = [](int v) { return static_cast<std::uint8_t>(v); };
    return {code(redOf(p)), code(greenOf(p)), code(blueOf(p)), code(alphaOf(p))};
}

TEST(Course, APieceBeginsAgainOrItsLastPictureStays) {
    const Kit kit = blinking();
    const PictureAt loops = pictureAt(kit.pieces[0], kit, {}, true),
                    stays = pictureAt(kit.pieces[0], kit, {}, false);
    EXPECT_EQ(inkOf(*good(loops(0))), red);
    EXPECT_EQ(good(loops(0.1)), good(loops(0.2))) << "nothing changed";
    EXPECT_EQ(inkOf(*good(loops(0.5))), blue) << "a moment that is a frame's own";
    EXPECT_EQ(inkOf(*good(loops(7.2))), red);
    EXPECT_EQ(inkOf(*good(loops(7.9))), blue);
    EXPECT_EQ(inkOf(*good(loops(0.2))), red) << "back again, for a second run of an encoder";
    EXPECT_EQ(inkOf(*good(stays(7.2))), blue);
    int made = 0;
    const PictureAt twice = madeInto(loops, [&](const auto& picture) {
        ++made;
        return Result<std::shared_ptr<const Straight8>>(picture);
    });
    for (const double at : {0.0, 0.1, 0.6, 0.7, 1.2}) EXPECT_TRUE(twice(at));
    EXPECT_EQ(made, 3) << "once for each that is another one";
}

// Lossless, so that what is seen is what was blended, within BT.601's codes of an even colour.
TEST(Course, BurnedInItGoesOnMoving) {
    const test::Folder folder;
    const Kit kit = blinking();
    BurnPlan plan;
    plan.video = test::clipOf(folder / "c.mp4", {160, 90}, 50, [](int) {
        return Straight8::cleared({160, 90}, packed(90, 90, 90, 255));
    });
    plan.container = VideoContainer::matroska;
    plan.quality = losslessQuality;
    plan.length = 2;
    plan.time.from = 0.4;
    plan.left = 20;
    plan.top = 10;
    plan.moving = pictureAt(kit.pieces[0], kit, {}, true);
    plan.mark = good(plan.moving(0));
    const Burnt told = good(burn(plan, folder / "out.mkv", Replace::no));
    EXPECT_EQ(told.marked, 40);
    Video video = good(Video::open(folder / "out.mkv"));
    const auto near = [&](long long n, Colour ink) {
        const std::uint32_t p = good(video.frame(n)).pixels.row(18)[36];
        EXPECT_NEAR(redOf(p), ink.red, 4) << n;
        EXPECT_NEAR(greenOf(p), ink.green, 4) << n;
        EXPECT_NEAR(blueOf(p), ink.blue, 4) << n;
    };
    near(9, {90, 90, 90, 255});
    for (const long long n : {10ll, 22ll, 35ll, 47ll}) near(n, red);
    for (const long long n : {23ll, 34ll, 48ll, 49ll}) near(n, blue);
    // A picture that cannot be had ends it, and leaves nothing.
    plan.moving = [](double seconds) -> Result<std::shared_ptr<const Straight8>> {
        if (seconds > 0.5) return fail(Code::unreadable, "It is gone.");
        return std::make_shared<const Straight8>(Straight8::cleared({32, 16}, 0xFFFFFFFFu));
    };
    EXPECT_EQ(burn(plan, folder / "no.mkv", Replace::no).error().what, "It is gone.");
    EXPECT_FALSE(std::filesystem::exists(folder / "no.mkv"));
}

}  // namespace
}  // namespace zl
