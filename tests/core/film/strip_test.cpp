// SPDX-License-Identifier: GPL-3.0-or-later
// The strip: made once, kept whole or not at all, with a bound on what all of them take.
#include "film/strip.h"

#include <fstream>

#include "edit/edits.h"
#include "film/known_films.h"
#include "film/take_still.h"
#include "measure/measure.h"
#include "support/clips.h"

namespace zl {
namespace {

using test::good;

using test::small;

Path clip(const test::Folder& folder, const std::string& name, unsigned seed, int frames = 75) {
    const test::Ground ground(small, seed);
    return test::clipOf(folder / name, small, frames, [&](int n) { return ground.seen(2.0 * n); });
}

// The mean difference of two pictures of one size, codes.
double apart(const Straight8& a, const Straight8& b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.pixels().size(); ++i)
        sum += std::abs(greenOf(a.pixels()[i]) - greenOf(b.pixels()[i]));
    return sum / static_cast<double>(a.pixels().size());
}

TEST(Strip, APictureIsTheFrameOfItsMoment) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder, "a.mp4", 31)));
    const auto strip = good(Strip::make(video, folder / "strips", "a"));
    ASSERT_GE(strip->size(), 9u) << "three seconds, every quarter";
    for (const double seconds : {0.0, 0.8, 1.6, 2.9}) {
        const auto picture = strip->nearest(seconds);
        ASSERT_TRUE(picture);
        EXPECT_LE(std::abs(picture->time - seconds), 0.25);
        EXPECT_EQ(picture->time, strip->nearestTime(seconds));
        EXPECT_LE(picture->pixels.width(), Strip::pictureWidth);
        const VideoFrame frame = good(video.frame(picture->number));
        ASSERT_EQ(picture->pixels.size(), small) << "it is never enlarged";
        EXPECT_LT(apart(picture->pixels, frame.pixels), 4);
    }
}

TEST(Strip, IsKeptAndFoundAgain) {
    const test::Folder folder;
    const Path file = clip(folder, "a.mp4", 32);
    Video video = good(Video::open(file));
    const std::string identity = identityOf(file);
    ASSERT_FALSE(identity.empty());
    EXPECT_EQ(Strip::kept(folder / "strips", identity), nullptr);
    const auto made = good(Strip::make(video, folder / "strips", identity));
    const auto kept = Strip::kept(folder / "strips", identity);
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->size(), made->size());
    EXPECT_EQ(kept->looked()->cuts, made->looked()->cuts);
    EXPECT_TRUE(
        std::ranges::equal(kept->nearest(1)->pixels.pixels(), made->nearest(1)->pixels.pixels()));
}

TEST(Strip, AnotherFileIsAnotherVideo) {
    const test::Folder folder;
    const Path file = clip(folder, "a.mp4", 33, 30);
    const std::string before = identityOf(file);
    Bytes bytes = good(readFile(file));
    bytes.back() ^= 1;
    ASSERT_TRUE(writeFile(file, bytes, Replace::yes));
    EXPECT_NE(identityOf(file), before);
    EXPECT_EQ(identityOf(folder / "nothing.mp4"), "");
}

TEST(Strip, OneThatIsDamagedIsForgotten) {
    const test::Folder folder;
    const Path file = clip(folder, "a.mp4", 34, 30);
    Video video = good(Video::open(file));
    const Path kept = folder / "strips/id.strip";
    for (const bool cut : {true, false}) {
        good(Strip::make(video, folder / "strips", "id"));
        Bytes bytes = good(readFile(kept));
        if (cut)
            bytes.resize(bytes.size() / 2);
        else  // its index begins elsewhere
            std::fill(bytes.end() - 24, bytes.end() - 16, std::uint8_t{0xff});
        ASSERT_TRUE(writeFile(kept, bytes, Replace::yes));
        EXPECT_EQ(Strip::kept(folder / "strips", "id"), nullptr);
        EXPECT_FALSE(std::filesystem::exists(kept));
    }
}

TEST(Strip, OneThatIsStoppedLeavesNothing) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder, "a.mp4", 35)));
    std::stop_source stop;
    const auto made = Strip::make(
        video, folder / "strips", "id", {},
        [&](double part) {
            if (part > 0.3) stop.request_stop();
        },
        stop.get_token());
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().code, Code::cancelled);
    EXPECT_TRUE(std::filesystem::is_empty(folder / "strips"));
}

TEST(Strip, TheOldestMakeRoom) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder, "a.mp4", 36, 40)));
    const Path strips = folder / "strips";
    good(Strip::make(video, strips, "first"));
    const auto one = static_cast<long long>(std::filesystem::file_size(strips / "first.strip"));
    good(Strip::make(video, strips, "second"));
    // What was used last stays, whenever it was made.
    std::filesystem::last_write_time(
        strips / "second.strip",
        std::filesystem::file_time_type::clock::now() - std::chrono::hours(2));
    ASSERT_TRUE(Strip::kept(strips, "first"));
    good(Strip::make(video, strips, "third", {}, {}, {}, one * 5 / 2));
    EXPECT_TRUE(Strip::kept(strips, "first"));
    EXPECT_FALSE(Strip::kept(strips, "second"));
    EXPECT_TRUE(Strip::kept(strips, "third"));
}

TEST(Strip, WithoutAFolderItLastsAsLongAsItIsLookedAt) {
    const test::Folder folder;
    Video video = good(Video::open(clip(folder, "a.mp4", 37, 40)));
    ASSERT_TRUE(writeFile(folder / "no-folder", test::bytesOf("a file"), Replace::no));
    const auto strip = good(Strip::make(video, folder / "no-folder", "id"));
    EXPECT_TRUE(strip->looked());
    EXPECT_TRUE(strip->nearest(1));
}

// Known videos, and pictures that are looked for in them.

Kit kitOf(const Straight8& picture, const Path& video) {
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}), picture,
                                {0, 0, 1280, 720});
    return good(withPieceVideo(kit, "p", PieceVideo{video.string(), 3}));
}
Reading fromVideo(const Kit& kit, const std::shared_ptr<const KnownFilms>& films) {
    InkStore store;
    store.knowFilms(films);
    return test::one(good(readPiece({kit.pieces[0], kit}, test::brief("video-thumbnail"), store,
                                    Weighing::quickBound))
                         .readings,
                     "from-video");
}

TEST(FromVideo, APictureIsFoundWithItsSecondAndAStrangerIsNot) {
    const test::Folder folder;
    const test::Ground one(small, 41), two(small, 42), stranger(small, 43);
    const Path file = test::clipOf(folder / "film.mp4", small, 150, [&](int n) {
        return (n < 75 ? one : two).seen(1.5 * (n % 75));
    });
    const auto films = std::make_shared<KnownFilms>(folder / "strips");
    const Kit own = kitOf(two.seen(1.5 * 30, 1.15), file);
    const Reading before = fromVideo(own, films);
    EXPECT_EQ(before.verdict, Verdict::notMeasured);
    EXPECT_EQ(before.says.id, "from-video.unseen");
    Video video = good(Video::open(file));
    good(Strip::make(video, folder / "strips", identityOf(file)));
    const Reading found = fromVideo(own, films);
    EXPECT_EQ(found.verdict, Verdict::pass);
    EXPECT_NEAR(std::get<double>(found.value), 105 / 25.0, 0.5);
    // A part of it, as a crop shows it.
    const Straight8 whole = one.seen(60);
    Kit cropped = kitOf(whole, file);
    Layer layer = cropped.pieces[0].layers[0];
    layer.picture()->crop = {60, 30, 224, 126};
    cropped = good(withChangedLayer(cropped, "p", layer));
    EXPECT_EQ(fromVideo(cropped, films).verdict, Verdict::pass);
    const Reading not_there = fromVideo(kitOf(stranger.seen(0), file), films);
    EXPECT_EQ(not_there.verdict, Verdict::watch);
    ASSERT_EQ(not_there.findings.size(), 1u);
    EXPECT_EQ(not_there.findings[0].layer, 1);
    std::filesystem::remove(file);
    EXPECT_EQ(fromVideo(own, films).says.id, "from-video.gone");
}

TEST(FromVideo, AStillOfItNeedsNoSearch) {
    Kit kit = kitOf(test::textured(small), "/films/film.mp4");
    EXPECT_EQ(fromVideo(kit, nullptr).says.id, "from-video.gone");
    Layer layer = kit.pieces[0].layers[0];
    layer.picture()->still = StillFrom{"/films/film.mp4", 1.5, 45, small};
    kit = good(withChangedLayer(kit, "p", layer));
    const Reading taken = fromVideo(kit, nullptr);
    EXPECT_EQ(taken.verdict, Verdict::pass);
    EXPECT_EQ(std::get<double>(taken.value), 1.5);
    kit = good(withPieceVideo(kit, "p", {}));
    EXPECT_EQ(fromVideo(kit, nullptr).says.id, "from-video.unknown");
    EXPECT_EQ(fromVideo(kit, nullptr).verdict, Verdict::notMeasured);
}

TEST(FromVideo, AKitThatMovesKeepsTheWayToItsVideos) {
    Kit kit = kitOf(test::textured(small), "films/a.mp4");
    Layer layer = kit.pieces[0].layers[0];
    layer.picture()->still = StillFrom{"films/b.mp4", 1.5, 45, small};
    kit = good(withChangedLayer(kit, "p", layer));
    const Kit whole = withWholeVideoPaths(kit, "/kits/me/one.zlkit");
    EXPECT_EQ(whole.pieces[0].video->file, "/kits/me/films/a.mp4");
    EXPECT_EQ(whole.pieces[0].layers[0].picture()->still->file, "/kits/me/films/b.mp4");
    EXPECT_EQ(withWholeVideoPaths(whole, "/elsewhere/one.zlkit"), whole);
}

TEST(FromVideo, APathInTheKitsFolderGoesWithIt) {
    EXPECT_EQ(rememberedAs("/kits/me/films/a.mp4", Path("/kits/me/kit.zlkit")), "films/a.mp4");
    EXPECT_EQ(rememberedAs("/films/a.mp4", Path("/kits/me/kit.zlkit")), "/films/a.mp4");
    EXPECT_EQ(videoAt("films/a.mp4", Path("/elsewhere/kit.zlkit")), "/elsewhere/films/a.mp4");
    EXPECT_EQ(videoAt("/films/a.mp4", Path("/elsewhere/kit.zlkit")), "/films/a.mp4");
}

}  // namespace
}  // namespace zl
