// SPDX-License-Identifier: GPL-3.0-or-later
// Clips in pieces: their frames at a moment, their sound, what happens when the video is gone.
#include <sys/stat.h>

#include <cmath>

#include "edit/edits.h"
#include "film/clip_frames.h"
#include "film/marking.h"
#include "film/piece_sound.h"
#include "film/strip.h"
#include "film/take_still.h"
#include "kit/moving.h"
#include "raster/turn.h"
#include "render/render.h"
#include "support/clips.h"

namespace zl {
namespace {

using test::good;

// Each frame of one grey, 8 codes apart.
Path greys(const test::Folder& folder, int frames = 20) {
    return test::clipOf(folder / "greys.mp4", {64, 36}, frames, [](int n) {
        const int v = 20 + 8 * n;
        return Straight8::cleared({64, 36}, packed(v, v, v, 255));
    });
}

Kit kitWithClip(const test::Folder& folder, PixelSize frame = {64, 36}) {
    return good(
        withClipOf(test::kitWith("free-frame", frame), "p", greys(folder), folder / "kit.zlkit"));
}

std::shared_ptr<ClipFrames> framesFor(const test::Folder& folder) {
    auto clips = std::make_shared<ClipFrames>();
    clips->kitLiesAt(folder / "kit.zlkit");
    return clips;
}

int greyOf(const Straight8& frame) {
    return redOf(frame.row(frame.height() / 2)[frame.width() / 2]);
}

TEST(Clips, TheFirstFillsTheFrameAndKnowsItsVideo) {
    const test::Folder folder;
    const Kit kit = kitWithClip(folder);
    const PictureLayer& picture = *kit.pieces[0].layers[0].picture();
    ASSERT_TRUE(picture.clip);
    EXPECT_EQ(picture.clip->file, "greys.mp4") << "from the kit's folder on";
    EXPECT_EQ(picture.clip->identity, contentOf(folder / "greys.mp4"));
    EXPECT_NEAR(picture.clip->length, 0.8, 1e-6);
    EXPECT_EQ(picture.clip->fps, 25);
    EXPECT_FALSE(picture.clip->sounds);
    EXPECT_EQ(picture.place, (RealRect{0, 0, 64, 36}));
    // A further one is laid on top, wholly in the frame.
    const Kit two = good(withClipOf(kit, "p", folder / "greys.mp4", folder / "kit.zlkit"));
    ASSERT_EQ(two.pieces[0].layers.size(), 2u);
    EXPECT_TRUE(two.pieces[0].layers[1].picture()->clip);
}

TEST(Clips, AMomentShowsItsFrame) {
    const test::Folder folder;
    const Kit kit = kitWithClip(folder);
    InkStore store;
    store.knowClips(framesFor(folder));
    for (const int n : {0, 7, 19, 3}) {
        const Straight8 frame = good(releaseFrame({kit.pieces[0], kit, n / 25.0 + 0.01}, store));
        EXPECT_NEAR(greyOf(frame), 20 + 8 * n, 3) << "frame " << n;
    }
    EXPECT_EQ(layerAt(kit.pieces[0], store, {5, 5}), kit.pieces[0].layers[0].id);
}

TEST(Clips, WithoutTheVideoItsPosterStandsThereAndNothingIsReleased) {
    const test::Folder folder;
    const Kit kit = kitWithClip(folder);
    EXPECT_TRUE(checkClips(kit.pieces[0], folder / "kit.zlkit"));
    std::filesystem::remove(folder / "greys.mp4");
    InkStore store;
    store.knowClips(framesFor(folder));
    const Straight8 frame = good(releaseFrame({kit.pieces[0], kit, 0.7}, store));
    EXPECT_NEAR(greyOf(frame), 20 + 8 * 2, 3) << "the frame at a tenth of it";
    EXPECT_NE(checkClips(kit.pieces[0], folder / "kit.zlkit").error().what.find("not there"),
              std::string::npos);
    // Another video of the same name.
    test::clipOf(folder / "greys.mp4", {64, 36}, 5, [](int) {
        return Straight8::cleared({64, 36}, packed(1, 2, 3, 255));
    });
    EXPECT_NE(checkClips(kit.pieces[0], folder / "kit.zlkit").error().what.find("another video"),
              std::string::npos);
}

TEST(Clips, OnlyWhatChangedIsDrawnAgainAndComesOutTheSame) {
    const test::Folder folder;
    Kit kit = kitWithClip(folder, {128, 72});
    Layer clip = kit.pieces[0].layers[0];
    clip.picture()->place = {20, 10, 64, 36};
    clip.finishes = {outlineOf(3, {200, 30, 30, 255})};
    kit = good(withChangedLayer(kit, "p", clip));
    Layer title;
    title.name = "bar";
    title.what = BarLayer{};
    std::get<BarLayer>(title.what).place = {60, 30, 50, 30};
    title.shows = ShowTime{0.2, 0.6, 0.2};
    kit = good(withLayer(kit, "p", title));
    const Piece& piece = kit.pieces[0];
    InkStore store;
    store.knowClips(framesFor(folder));
    Straight8 frame = good(render({piece, kit, 0}, store));
    Piece before = atMoment(piece, 0, store);
    for (const double moment : {0.04, 0.24, 0.3, 0.4, 0.64, 0.76}) {
        const Piece now = atMoment(piece, moment, store);
        const PixelRect damage = damageBetween(before, {now, kit}, store);
        EXPECT_LT(damage.width(), 128) << "not all of it";
        ASSERT_TRUE(renderInto(frame, damage, {now, kit}, store));
        before = now;
        const Straight8 whole = good(render({piece, kit, moment}, store));
        EXPECT_TRUE(
            std::equal(whole.pixels().begin(), whole.pixels().end(), frame.pixels().begin()))
            << moment;
    }
}

// A clip with a tone of 0.5 at 48 kHz, one second long.
Path tone(const test::Folder& folder) {
    const std::string made =
        "ffmpeg -v error -y -f lavfi -i color=c=gray:s=64x36:r=25:d=1 -f lavfi -i "
        "'aevalsrc=0.5*sin(2*PI*1000*t)|0.5*sin(2*PI*1000*t):s=48000:d=1' -c:v libx264 -pix_fmt "
        "yuv420p -c:a pcm_s16le " +
        (folder / "tone.mov").string();
    if (std::system(made.c_str()) != 0) throw std::runtime_error("no clip");
    return folder / "tone.mov";
}

double loudest(const std::vector<float>& samples, double from, double to) {
    double most = 0;
    for (auto i = static_cast<std::size_t>(from * 96'000) / 2 * 2;
         i < std::min(samples.size(), static_cast<std::size_t>(to * 96'000)); ++i)
        most = std::max(most, static_cast<double>(std::abs(samples[i])));
    return most;
}

std::vector<float> heardOf(const Piece& piece, const Path& kitFile) {
    const auto sound = soundOf(piece, kitFile);
    if (!sound) return {};
    sound->seek(0);
    std::vector<float> all(static_cast<std::size_t>(lengthOf(piece) * 96'000) + 2);
    all.resize(sound->read(all));
    return all;
}

TEST(PieceSound, BeginsLoopsFadesAndMixesAsTheClipSays) {
    const test::Folder folder;
    Kit kit = good(
        withClipOf(test::kitWith("free-frame", {64, 36}), "p", tone(folder), folder / "kit.zlkit"));
    Piece piece = kit.pieces[0];
    Clip& clip = *piece.layers[0].picture()->clip;
    EXPECT_TRUE(clip.sounds);
    clip.begins = 0.5;
    piece.length = 3;
    std::vector<float> heard = heardOf(piece, folder / "kit.zlkit");
    EXPECT_EQ(heard.size(), 3u * 96'000) << "to the sample";
    EXPECT_LT(loudest(heard, 0, 0.499), 1e-4) << "before it begins";
    EXPECT_NEAR(loudest(heard, 0.55, 1.45), 0.5, 0.01);
    EXPECT_LT(loudest(heard, 1.51, 3), 1e-4) << "a picture may stay, its sound does not";
    clip.loops = true;
    clip.loudness = 0.5;
    heard = heardOf(piece, folder / "kit.zlkit");
    EXPECT_NEAR(loudest(heard, 1.6, 2.4), 0.25, 0.01) << "again, half as loud";
    piece.layers[0].shows = ShowTime{0, 2.0, 1};
    heard = heardOf(piece, folder / "kit.zlkit");
    EXPECT_NEAR(loudest(heard, 1.45, 1.5), 0.25 * 0.55, 0.02) << "it fades with its layer";
    EXPECT_LT(loudest(heard, 2.02, 3), 1e-4);
    clip.muted = true;
    EXPECT_TRUE(heardOf(piece, folder / "kit.zlkit").empty());
}

// Whatever rate and however many channels the sound has, it is as long as the piece.
TEST(PieceSound, OddLayoutsAndRatesAreHeard) {
    const test::Folder folder;
    for (const char* sound : {"-ar 22050 -ac 1", "-ar 44100 -ac 6", "-ar 8000 -ac 2"}) {
        const Path file = folder / "odd.mov";
        const std::string made =
            "ffmpeg -v error -y -f lavfi -i color=c=gray:s=64x36:r=25:d=1 -f lavfi -i "
            "sine=440:d=1 -c:v libx264 -pix_fmt yuv420p -c:a pcm_s16le " +
            std::string(sound) + " " + file.string();
        ASSERT_EQ(std::system(made.c_str()), 0);
        const Kit kit = good(
            withClipOf(test::kitWith("free-frame", {64, 36}), "p", file, folder / "kit.zlkit"));
        const std::vector<float> heard = heardOf(kit.pieces[0], folder / "kit.zlkit");
        EXPECT_EQ(heard.size(), 96'000u) << sound;
        EXPECT_GT(loudest(heard, 0.3, 0.7), 0.02) << sound;
        EXPECT_LT(loudest(heard, 0.3, 0.7), 0.6) << sound;
    }
}

TEST(Clips, TwoOfDifferentRatesRunAtThatOfTheLowest) {
    const test::Folder folder;
    const std::string made =
        "ffmpeg -v error -y -f lavfi -i testsrc2=s=64x36:r=10:d=2 -c:v libx264 -pix_fmt yuv420p " +
        (folder / "ten.mp4").string();
    ASSERT_EQ(std::system(made.c_str()), 0);
    Kit kit = kitWithClip(folder);
    kit = good(withClipOf(kit, "p", folder / "ten.mp4", folder / "kit.zlkit"));
    const Piece& piece = kit.pieces[0];
    EXPECT_EQ(rateOf(piece), (FrameRate{25, 1}));
    EXPECT_NEAR(lengthOf(piece), 2, 1e-6) << "both are seen once";
    InkStore store;
    store.knowClips(framesFor(folder));
    // The upper one covers the lower one; its frame changes ten times a second.
    const auto seen = [&](double at) { return good(releaseFrame({piece, kit, at}, store)); };
    const Straight8 first = seen(0.2), second = seen(0.24), third = seen(0.32);
    EXPECT_TRUE(std::equal(first.pixels().begin(), first.pixels().end(), second.pixels().begin()));
    EXPECT_FALSE(std::equal(first.pixels().begin(), first.pixels().end(), third.pixels().begin()));
}

TEST(Clips, AStillThatReplacesAClipStandsStill) {
    const test::Folder folder;
    const Kit kit = kitWithClip(folder);
    VideoFrame frame;
    frame.pixels = test::textured({64, 36});
    const Kit next =
        good(withStill(kit, "p", kit.pieces[0].layers[0].id, good(stillOf(frame, "greys.mp4")),
                       frame.pixels, {"greys.mp4", 0, 0, {64, 36}}));
    EXPECT_FALSE(next.pieces[0].layers[0].picture()->clip);
    EXPECT_FALSE(moves(next.pieces[0]));
}

TEST(Clips, WholePathsFollowAKitToAnotherFolder) {
    const test::Folder folder;
    const Kit kit = kitWithClip(folder);
    const Kit whole = withWholeVideoPaths(kit, folder / "kit.zlkit");
    EXPECT_EQ(whole.pieces[0].layers[0].picture()->clip->file, (folder / "greys.mp4").string());
}

TEST(Clips, AHostileFileIsAnErrorAndNoHang) {
    const test::Folder folder;
    ASSERT_EQ(::mkfifo((folder / "pipe.mp4").c_str(), 0600), 0);
    ASSERT_TRUE(writeFile(folder / "list.mp4",
                          test::bytesOf("ffconcat version 1.0\nfile greys.mp4\n"), Replace::no));
    greys(folder);
    const Kit empty = test::kitWith("free-frame", {64, 36});
    for (const char* name : {"pipe.mp4", "list.mp4", "none.mp4"})
        EXPECT_EQ(withClipOf(empty, "p", folder / name, folder / "kit.zlkit").error().code,
                  Code::unreadable)
            << name;
    ClipFrames clips;
    for (const char* name : {"pipe.mp4", "list.mp4", "none.mp4"}) {
        EXPECT_EQ(clips.numberAt((folder / name).string(), 0), std::nullopt) << name;
        EXPECT_EQ(clips.frame((folder / name).string(), 0, {}).error().code, Code::unreadable);
    }
    EXPECT_TRUE(clips.numberAt((folder / "greys.mp4").string(), 99))
        << "the last one after its end";
}

TEST(Marking, StandsAtNinePlacesOffTheRim) {
    const PixelSize mark{40, 20}, frame{200, 100};
    const auto at = [&](StampAt place) {
        const RealRect r = placeOf({place, {5, 7}, 0}, mark, frame);
        return RealPoint{r.x, r.y};
    };
    EXPECT_EQ(at(StampAt::topLeft), (RealPoint{5, 7}));
    EXPECT_EQ(at(StampAt::top), (RealPoint{80, 7}));
    EXPECT_EQ(at(StampAt::right), (RealPoint{155, 40}));
    EXPECT_EQ(at(StampAt::bottomRight), (RealPoint{155, 73}));
    EXPECT_EQ(at(StampAt::centre), (RealPoint{80, 40}));
    const RealRect wide = placeOf({StampAt::topLeft, {}, 0.5}, mark, frame);
    EXPECT_EQ(wide, (RealRect{0, 0, 100, 50})) << "half as wide as the frame";
    EXPECT_FALSE(checkPlace({0, 0, 201, 20}, frame)) << "wider than the frame";
    EXPECT_FALSE(checkPlace({300, 0, 20, 20}, frame)) << "outside";
    EXPECT_TRUE(checkPlace({190, 90, 40, 20}, frame)) << "partly outside";
}

// The frame with the coded mark, shown as the video says, has the mark where it was asked for.
TEST(Marking, IsTurnedAgainstTheTurnOfTheVideo) {
    const auto mark = std::make_shared<const Straight8>(test::textured({12, 8}));
    const RealRect place{30, 10, 12, 8};
    for (int quarters = 0; quarters < 4; ++quarters)
        for (const bool mirrored : {false, true}) {
            VideoFacts facts;
            facts.size = {80, 60};
            facts.quarters = quarters;
            facts.mirrored = mirrored;
            facts.shown = quarters % 2 == 0 ? PixelSize{80, 60} : PixelSize{60, 80};
            const CodedMark coded = codedMark(mark, place, facts);
            Straight8 frame = Straight8::cleared(facts.size);
            for (int y = 0; y < coded.pixels->height(); ++y)
                std::copy_n(coded.pixels->row(y), coded.pixels->width(),
                            frame.row(coded.top + y) + coded.left);
            const Straight8 shown = turnedQuarters(frame, quarters, mirrored, false);
            for (int y = 0; y < 8; ++y)
                EXPECT_TRUE(std::equal(mark->row(y), mark->row(y) + 12, shown.row(10 + y) + 30))
                    << quarters << mirrored << " row " << y;
        }
}

TEST(Marking, IsNarrowedAsThePixelsAreWide) {
    VideoFacts facts;
    facts.size = {72, 60};
    facts.shown = {96, 60};
    facts.pixelAspect = 4.0 / 3;
    const auto mark =
        std::make_shared<const Straight8>(Straight8::cleared({16, 8}, packed(9, 99, 199, 255)));
    const CodedMark coded = codedMark(mark, {40, 20, 16, 8}, facts);
    EXPECT_EQ(coded.left, 30);
    EXPECT_EQ(coded.top, 20);
    EXPECT_EQ(coded.pixels->size(), (PixelSize{12, 8}));
    EXPECT_EQ(coded.pixels->row(3)[5], packed(9, 99, 199, 255));
}

}  // namespace
}  // namespace zl
