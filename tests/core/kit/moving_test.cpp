// SPDX-License-Identifier: GPL-3.0-or-later
// When clips and layers of a moving piece are seen, how long it is, and how fast.
#include "kit/moving.h"

#include "store/kit_file.h"
#include "support/support.h"

namespace zl {
namespace {

Clip clipOf(double length) {
    Clip clip;
    clip.file = "media/a.mp4";
    clip.identity = "abc";
    clip.length = length;
    clip.fps = 25;
    return clip;
}

Piece pieceWith(const Clip& clip) {
    Piece piece;
    Layer layer;
    layer.id = 1;
    PictureLayer picture;
    picture.clip = clip;
    layer.what = picture;
    piece.layers = {layer};
    return piece;
}

TEST(Moving, AClipIsSeenFromItsBeginAndThenStaysGoesOrBeginsAgain) {
    Clip clip = clipOf(4);
    clip.in = 1;
    clip.out = 3;
    clip.begins = 0.5;
    EXPECT_FALSE(clip.timeAt(0.4)) << "before it begins";
    EXPECT_DOUBLE_EQ(*clip.timeAt(0.5), 1);
    EXPECT_DOUBLE_EQ(*clip.timeAt(2), 2.5);
    EXPECT_DOUBLE_EQ(*clip.timeAt(9), 3) << "its last frame stays";
    clip.holds = false;
    EXPECT_FALSE(clip.timeAt(2.5));
    EXPECT_TRUE(clip.timeAt(2.4));
    clip.loops = true;
    EXPECT_NEAR(*clip.timeAt(2.5), 1, 1e-5) << "it begins again";
    EXPECT_NEAR(*clip.timeAt(3.25), 1.75, 1e-5);
}

TEST(Moving, APieceIsAsLongAsItsClipsOrAsItIsTold) {
    Clip clip = clipOf(4);
    clip.begins = 1;
    Piece piece = pieceWith(clip);
    EXPECT_TRUE(moves(piece));
    EXPECT_DOUBLE_EQ(lengthOf(piece), 5);
    EXPECT_EQ(frameCountOf(piece), 125);
    piece.length = 2;
    EXPECT_DOUBLE_EQ(lengthOf(piece), 2);
    piece.layers[0].hidden = true;
    EXPECT_FALSE(moves(piece)) << "nothing of it moves that is seen";
    EXPECT_DOUBLE_EQ(lengthOf(piece), 0);
    piece.layers[0].hidden = false;
    piece.layers[0].picture()->clip.reset();
    EXPECT_FALSE(moves(piece));
    piece.layers[0].shows = ShowTime{0.5, 1.5, 0};
    EXPECT_TRUE(moves(piece)) << "a length, and a layer that comes and goes";
}

// 30000/1001 and 24000/1001 are the rates of SMPTE ST 12-1's television; others are as they are.
TEST(Moving, TelevisionsRatesStayExact) {
    const auto rate = [](double fps) {
        Clip clip = clipOf(1);
        clip.fps = fps;
        return rateOf(pieceWith(clip));
    };
    EXPECT_EQ(rate(25), (FrameRate{25, 1}));
    EXPECT_EQ(rate(30000.0 / 1001), (FrameRate{30000, 1001}));
    EXPECT_EQ(rate(24000.0 / 1001), (FrameRate{24000, 1001}));
    EXPECT_EQ(rate(60000.0 / 1001), (FrameRate{60000, 1001}));
    EXPECT_EQ(rate(12.5), (FrameRate{12500, 1000}));
    EXPECT_EQ(rate(240), (FrameRate{60, 1})) << "at most";
    EXPECT_EQ(rateOf(Piece{}), (FrameRate{30, 1}));
}

TEST(Moving, AFadeIsAStraightLineAndGoesOnlyWhereItGoes) {
    const ShowTime shows{1, 4.0, 0.5};
    EXPECT_DOUBLE_EQ(strengthAt(shows, 0.99, 6), 0);
    EXPECT_DOUBLE_EQ(strengthAt(shows, 1.25, 6), 0.5);
    EXPECT_DOUBLE_EQ(strengthAt(shows, 2, 6), 1);
    EXPECT_DOUBLE_EQ(strengthAt(shows, 3.75, 6), 0.5);
    EXPECT_DOUBLE_EQ(strengthAt(shows, 4, 6), 0);
    EXPECT_DOUBLE_EQ(strengthAt(ShowTime{0, {}, 1}, 5.9, 6), 1) << "to the end, without a fade";
    EXPECT_DOUBLE_EQ(strengthAt(std::nullopt, 3, 6), 1);
}

TEST(Moving, TheTellingMomentIsTheFirstAtWhichAllIsSeen) {
    Piece piece = pieceWith(clipOf(5));
    Layer title;
    title.id = 2;
    title.what = BarLayer{};
    title.shows = ShowTime{1, 3.0, 0.25};
    piece.layers.push_back(title);
    EXPECT_DOUBLE_EQ(tellingMoment(piece), 1.25);
    piece.layers[1].shows.reset();
    EXPECT_DOUBLE_EQ(tellingMoment(piece), 0);
}

TEST(Moving, WhatCannotBeIsRefused) {
    Clip clip = clipOf(4);
    EXPECT_TRUE(checkClip(clip));
    for (const auto& spoil : std::initializer_list<std::function<void(Clip&)>>{
             [](Clip& c) { c.in = 4; }, [](Clip& c) { c.out = 5; },
             [](Clip& c) { c.in = 2, c.out = 1; }, [](Clip& c) { c.begins = -1; },
             [](Clip& c) { c.loudness = 3; }, [](Clip& c) { c.length = 0; },
             [](Clip& c) { c.in = std::numeric_limits<double>::quiet_NaN(); }}) {
        Clip bad = clip;
        spoil(bad);
        EXPECT_EQ(checkClip(bad).error().code, Code::badUsage);
    }
    EXPECT_FALSE(checkShowTime({2, 1.0, 0}));
    EXPECT_FALSE(checkShowTime({-1, {}, 0}));
    EXPECT_TRUE(checkShowTime({1, 2.0, 3})) << "a long fade is a weak layer, no error";
}

TEST(Moving, AKitKeepsClipsTimesAndLengths) {
    const test::Folder folder;
    Kit kit = test::withPicture(test::kitWith("moving-card", {1920, 1080}),
                                test::textured({64, 36}), {0, 0, 1920, 1080});
    Layer layer = kit.pieces[0].layers[0];
    Clip clip = clipOf(7);
    clip.in = 1;
    clip.out = 5;
    clip.begins = 0.25;
    clip.loops = true;
    clip.holds = false;
    clip.muted = true;
    clip.loudness = 0.5;
    clip.sounds = true;
    layer.picture()->clip = clip;
    layer.shows = ShowTime{0.5, 6.0, 0.25};
    kit = test::good(withChangedLayer(kit, "p", layer));
    Piece piece = kit.pieces[0];
    piece.length = 8;
    piece.release.moving = "webm";
    kit = test::good(withChangedPiece(kit, piece));
    ASSERT_TRUE(saveKit(kit, folder / "k.zlkit", Replace::no));
    EXPECT_EQ(test::good(openKit(folder / "k.zlkit")).pieces, kit.pieces);
    layer.picture()->clip->in = 9;
    EXPECT_FALSE(withChangedLayer(kit, "p", layer)) << "outside of its video";
}

}  // namespace
}  // namespace zl
