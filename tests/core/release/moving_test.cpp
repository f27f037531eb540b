// SPDX-License-Identifier: GPL-3.0-or-later
// A moving piece released: each frame as render gives it, alpha, limits, poster and receipt.
#include "release/moving.h"

#include "base/json.h"
#include "film/clip_frames.h"
#include "measure/videos.h"
#include "picture/decode.h"
#include "support/clips.h"
#include "video/burn.h"

namespace zl {
namespace {

using test::good;

// A clip under a bar that comes and goes; `frame` px.
Kit moving(const test::Folder& folder, const std::string& brief = "free-frame",
           PixelSize frame = {96, 54}, int frames = 25) {
    test::clipOf(folder / "clip.mp4", {96, 54}, frames, [](int n) {
        return test::textured({96, 54}, 3 + n);
    });
    Kit kit = good(
        withClipOf(test::kitWith(brief, frame), "p", folder / "clip.mp4", folder / "kit.zlkit"));
    Layer bar;
    bar.name = "Bar";
    bar.what = BarLayer{};
    std::get<BarLayer>(bar.what).place = {10, 12, 40, 20};
    std::get<BarLayer>(bar.what).colour = {210, 40, 30, 255};
    bar.shows = ShowTime{0.2, 0.8, 0.2};
    return good(withLayer(kit, "p", bar));
}

TEST(MovingRelease, EveryFrameIsWhatRenderGivesAtItsMoment) {
    const test::Folder folder;
    const Kit kit = moving(folder);
    const Piece& piece = kit.pieces[0];
    MovingPlan plan{VideoKind::matroska, losslessQuality};
    const Moved told =
        good(writeMoving(piece, kit, folder / "kit.zlkit", plan, folder / "a.mkv", Replace::no));
    EXPECT_EQ(told.frames, 25);
    EXPECT_EQ(told.pictureCodec, "ffv1");
    EXPECT_TRUE(told.soundCodec.empty()) << "the clip is silent";
    Video video = good(Video::open(folder / "a.mkv"));
    ASSERT_EQ(video.facts().frames, 25);
    InkStore store;
    knowVideosOf(store, folder / "kit.zlkit");
    for (const long long n : {0ll, 5ll, 6ll, 12ll, 19ll, 24ll}) {
        const Straight8 seen = good(releaseFrame({piece, kit, static_cast<double>(n) / 25}, store));
        const Straight8 there = good(video.frame(n)).pixels;
        EXPECT_TRUE(std::equal(seen.pixels().begin(), seen.pixels().end(), there.pixels().begin()))
            << "frame " << n;
    }
}

TEST(MovingRelease, SeeThroughPiecesKeepAlphaWhereTheKindCan) {
    const test::Folder folder;
    Kit kit = moving(folder);
    Layer clip = kit.pieces[0].layers[0];
    clip.picture()->place = {30, 10, 48, 27};
    kit = good(withChangedLayer(kit, "p", clip));
    const Piece& piece = kit.pieces[0];
    for (const VideoKind kind : {VideoKind::webm, VideoKind::matroska}) {
        const Path out = folder / ("a" + std::string(factsOf(kind).ending));
        const Moved told =
            good(writeMoving(piece, kit, folder / "kit.zlkit", {kind, 75}, out, Replace::no));
        EXPECT_TRUE(told.alphaKept);
        Video video = good(Video::open(out));
        EXPECT_TRUE(video.facts().alpha);
        const Straight8 frame = good(video.frame(10)).pixels;
        EXPECT_LT(alphaOf(frame.row(2)[2]), 4);
        EXPECT_GT(alphaOf(frame.row(20)[50]), 251);
    }
    Piece matted = piece;
    matted.release.matte = Colour{0, 200, 0, 255};
    const Moved flat = good(writeMoving(matted, kit, folder / "kit.zlkit", {VideoKind::mp4, 90},
                                        folder / "a.mp4", Replace::no));
    EXPECT_FALSE(flat.alphaKept);
    EXPECT_TRUE(flat.alphaLost);
    const Straight8 frame = good(good(Video::open(folder / "a.mp4")).frame(10)).pixels;
    EXPECT_NEAR(greenOf(frame.row(2)[2]), 200, 8);
}

TEST(MovingRelease, ShortOnesAreAnimationsToo) {
    const test::Folder folder;
    const Kit kit = moving(folder, "free-frame", {96, 54}, 10);
    for (const VideoKind kind : {VideoKind::webp, VideoKind::gif}) {
        const Path out = folder / ("a" + std::string(factsOf(kind).ending));
        ASSERT_TRUE(
            writeMoving(kit.pieces[0], kit, folder / "kit.zlkit", {kind, 75}, out, Replace::no));
        const Picture first = good(decode(good(readFile(out)), "a"));
        EXPECT_EQ(first.facts.size, (PixelSize{96, 54}));
        EXPECT_GT(first.facts.pages, 1);
    }
    Piece longer = kit.pieces[0];
    longer.length = 40;
    EXPECT_EQ(writeMoving(longer, kit, folder / "kit.zlkit", {VideoKind::gif, 75}, folder / "b.gif",
                          Replace::no)
                  .error()
                  .code,
              Code::badUsage);
}

TEST(MovingRelease, WritesThePosterAndAReceiptThatIsTrue) {
    const test::Folder folder;
    const Kit kit = moving(folder, "moving-card", {1920, 1080}, 5);
    InkStore store;
    knowVideosOf(store, folder / "kit.zlkit");
    std::filesystem::create_directory(folder / "out");
    const Released told = good(releaseMoving(kit.pieces[0], kit, test::brief("moving-card"), store,
                                             folder / "kit.zlkit", folder / "out", Replace::no));
    EXPECT_EQ(told.file.filename(), "made-for-a-test.mp4");
    const Json receipt =
        good(parseJson(good(readFile(told.receipt)), "made-for-a-test.receipt.json"));
    EXPECT_EQ(receipt["content"], "video/mp4");
    EXPECT_EQ(receipt["codec"], "h264");
    EXPECT_EQ(receipt["sound"], nullptr);
    EXPECT_EQ(receipt["fps"], 25);
    EXPECT_EQ(receipt["frames"], 5);
    EXPECT_NEAR(receipt["length"].get<double>(), 0.2, 1e-9);
    EXPECT_EQ(receipt["sha256"], sha256(good(readFile(told.file))));
    EXPECT_EQ(receipt["bytes"], static_cast<long long>(std::filesystem::file_size(told.file)));
    EXPECT_EQ(receipt["poster"], "made-for-a-test-poster.jpg");
    EXPECT_EQ(
        good(decode(good(readFile(folder / "out/made-for-a-test-poster.jpg")), "p")).facts.size,
        (PixelSize{1920, 1080}));
    EXPECT_EQ(test::one(told.readings, "length").verdict, Verdict::pass);
    EXPECT_EQ(test::one(told.readings, "format").verdict, Verdict::pass);
    EXPECT_EQ(releaseMoving(kit.pieces[0], kit, test::brief("moving-card"), store,
                            folder / "kit.zlkit", folder / "out", Replace::no)
                  .error()
                  .code,
              Code::unwritable)
        << "it stands there already";
}

// Its own clip lies beside it under the name that the release would have.
TEST(MovingRelease, NeverTakesThePlaceOfAVideoOfTheKit) {
    const test::Folder folder;
    Kit kit = moving(folder);
    kit.pieces[0].release.name = "clip";
    const Bytes before = good(readFile(folder / "clip.mp4"));
    InkStore store;
    knowVideosOf(store, folder / "kit.zlkit");
    const auto done = releaseMoving(kit.pieces[0], kit, test::brief("moving-card"), store,
                                    folder / "kit.zlkit", folder.path(), Replace::yes);
    ASSERT_FALSE(done);
    EXPECT_EQ(done.error().code, Code::unwritable);
    EXPECT_NE(done.error().what.find("never overwritten"), std::string::npos);
    EXPECT_EQ(good(readFile(folder / "clip.mp4")), before);
}

TEST(MovingRelease, WhatCannotBeWrittenIsSaidBeforehandAndLeavesNothing) {
    const test::Folder folder;
    Kit kit = moving(folder);
    const auto refused = [&](const Piece& piece, MovingPlan plan) {
        const auto done =
            writeMoving(piece, kit, folder / "kit.zlkit", plan, folder / "x.mp4", Replace::no);
        EXPECT_FALSE(std::filesystem::exists(folder / "x.mp4"));
        return done ? Code::unreadable : done.error().code;
    };
    Piece odd = kit.pieces[0];
    odd.frame = {95, 54};
    EXPECT_EQ(refused(odd, {VideoKind::mp4, 75}), Code::badUsage);
    EXPECT_EQ(refused(kit.pieces[0], {VideoKind::mp4, 75, 900}), Code::limitNotMet);
    Piece still = kit.pieces[0];
    still.layers.erase(still.layers.begin());
    EXPECT_EQ(refused(still, {VideoKind::mp4, 75}), Code::badUsage) << "it does not move";
    for (const double at : {0.1, 0.6}) {
        std::stop_source stop;
        const auto done = writeMoving(
            kit.pieces[0], kit, folder / "kit.zlkit", {VideoKind::mp4, 75}, folder / "x.mp4",
            Replace::no,
            [&](double part) {
                if (part >= at) stop.request_stop();
            },
            stop.get_token());
        EXPECT_EQ(done.error().code, Code::cancelled);
        EXPECT_FALSE(std::filesystem::exists(folder / "x.mp4"));
    }
    std::filesystem::remove(folder / "clip.mp4");
    EXPECT_EQ(refused(kit.pieces[0], {VideoKind::mp4, 75}), Code::unreadable);
}

TEST(MovingReadings, TellFormatLengthAndThatAStillPlaceStaysStill) {
    const test::Folder folder;
    Kit kit = moving(folder, "overlay-loop", {1920, 1080});
    Piece piece = kit.pieces[0];
    InkStore store;
    knowVideosOf(store, folder / "kit.zlkit");
    const auto read = [&](const std::string& brief) {
        return good(readPiece({piece, kit}, test::brief(brief), store, Weighing::exact)).readings;
    };
    EXPECT_EQ(test::one(read("overlay-loop"), "format").verdict, Verdict::pass);
    EXPECT_EQ(test::one(read("overlay-loop"), "weight").verdict, Verdict::notMeasured);
    piece.release.moving = "mp4";
    EXPECT_EQ(test::one(read("overlay-loop"), "format").verdict, Verdict::fail)
        << "an MP4 is not see-through";
    piece.length = 90;
    EXPECT_EQ(test::one(read("overlay-loop"), "length").verdict, Verdict::fail) << "60 s are taken";
    EXPECT_EQ(test::one(read("video-thumbnail"), "format").verdict, Verdict::watch);
}

}  // namespace
}  // namespace zl
