// SPDX-License-Identifier: GPL-3.0-or-later
// What the readings of an overlay say once the video is known that it is laid over.
#include "film/known_films.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "picture/moments.h"
#include "readings/over_frames.h"
#include "support/support.h"
#include "words/words.h"

namespace zl {
namespace {

using test::good;
using test::one;

// `count` moments, a quarter of a second apart.
std::shared_ptr<const VideoMoments> moments(
    int count, const std::function<std::uint32_t(int moment, int x, int y)>& pixel) {
    auto out = std::make_shared<VideoMoments>();
    out->name = "game.mp4";
    for (int i = 0; i < count; ++i)
        out->all.push_back(
            {i * 0.25, std::make_shared<const Straight8>(test::painted(
                           {480, 270}, [&](int x, int y) { return pixel(i, x, y); }))});
    return out;
}

Reading read(const std::string& id, const Kit& kit,
             const std::shared_ptr<const VideoMoments>& over) {
    InkStore store;
    const auto films = std::make_shared<KnownFilms>(Path{});
    films->holdAllAgainst(over);
    store.knowFilms(films);
    return one(good(readPiece({kit.pieces[0], kit}, test::brief("stream-overlay"), store,
                              Weighing::quickBound))
                   .readings,
               id);
}

Kit titled(Colour colour) {
    Kit kit = test::withLetters(test::kitWith("stream-overlay", {1920, 1080}), "Round seven", 120,
                                {160, 120});
    Piece piece = kit.pieces.front();
    piece.layers.back().finishes.clear();
    piece.layers.back().lettering()->colour = colour;
    return good(withChangedPiece(kit, std::move(piece)));
}

const std::uint32_t night = packed(20, 30, 60, 255), day = packed(244, 244, 244, 255);

// WCAG 2.2: white has 1.05 / (L + 0.05) to a ground of luminance L, over night (L = 0.01405) 16.4,
// over day (L = 0.905) 1.09; thin strokes are a little mixed at 412 px. Without a video it is held
// against white and black: 1 : 1.
TEST(LetteringOverAVideo, IsHeldAgainstItsMomentsAndNotAgainstWhiteAndBlack) {
    const Kit kit = titled({255, 255, 255, 255});
    EXPECT_EQ(read("lettering", kit, nullptr).verdict, Verdict::fail) << "nobody knows the ground";
    const Reading dark = read("lettering", kit, moments(40, [](int, int, int) { return night; }));
    EXPECT_EQ(dark.verdict, Verdict::pass) << english(dark.says);
    ASSERT_TRUE(dark.shownBeside.starts_with("at 412 · ")) << dark.shownBeside;
    EXPECT_NEAR(std::stod(dark.shownBeside.substr(10)), 16.2, 0.3);
    EXPECT_NE(english(dark.says).find("over game.mp4"), std::string::npos) << english(dark.says);
    const Reading bright =
        read("lettering", kit, moments(40, [](int i, int, int) { return i >= 30 ? day : night; }));
    EXPECT_EQ(bright.verdict, Verdict::fail);
    ASSERT_EQ(bright.findings.size(), 1u);
    EXPECT_EQ(english(bright.findings[0].says),
              "\"Round seven\" has a contrast of 1.0 : 1 at 7.50 s of game.mp4; 4.5 : 1 can be "
              "read.");
    ASSERT_EQ(bright.mends, (std::vector<std::string>{"outline-contrast"}));
}

TEST(LetteringOverAVideo, OnlyTheGroundUnderTheLettersCounts) {
    const Kit kit = titled({255, 255, 255, 255});
    // The title stands in the upper left; bright elsewhere is no matter.
    EXPECT_EQ(read("lettering", kit,
                   moments(20, [](int, int x, int y) { return x < 300 && y < 90 ? night : day; }))
                  .verdict,
              Verdict::pass);
    EXPECT_EQ(read("lettering", kit,
                   moments(20, [](int, int x, int y) { return x < 300 && y < 90 ? day : night; }))
                  .verdict,
              Verdict::fail);
}

TEST(LetteringOverAVideo, TwoMomentsInAHundredMayBeLostAndTenAreAWatch) {
    const Kit kit = titled({255, 255, 255, 255});
    const auto lost = [&](int bright) {
        return read("lettering", kit,
                    moments(40, [=](int i, int,
                                    int) { return i % 10 == 5 && i / 10 < bright ? day : night; }))
            .verdict;
    };
    EXPECT_EQ(lost(0), Verdict::pass);
    EXPECT_EQ(lost(1), Verdict::watch) << "2.5 % of the time";
    EXPECT_EQ(lost(4), Verdict::watch) << "10 %";
    EXPECT_EQ(read("lettering", kit,
                   moments(40, [](int i, int, int) { return i % 8 == 3 ? day : night; }))
                  .verdict,
              Verdict::fail)
        << "12.5 %";
}

TEST(LetteringOverAVideo, TheOutlineMendsItEverywhere) {
    const auto over = moments(
        24, [](int i, int x, int y) { return (x / 40 + y / 40 + i) % 2 == 0 ? day : night; });
    const Kit kit = titled({255, 255, 255, 255});
    ASSERT_EQ(read("lettering", kit, over).verdict, Verdict::fail);
    InkStore store;
    const Kit after =
        good(mended("outline-contrast", kit, "p", test::brief("stream-overlay"), store));
    const Reading mendedNow = read("lettering", after, over);
    EXPECT_EQ(mendedNow.verdict, Verdict::pass) << english(mendedNow.says);
}

// A badge of 150 x 90 px takes 1.8 % of the play area's pixels, which are allowed 2 %. What is seen
// in the area moves from the middle, away from it, to under it.
TEST(ZonesOverAVideo, ALittleInkOverWhatMattersMostIsTold) {
    const Straight8 badge =
        test::painted({150, 90}, [](int, int) { return packed(230, 60, 40, 255); });
    const Kit kit = test::withPicture(test::kitWith("stream-overlay", {1920, 1080}), badge,
                                      {400, 230, 150, 90});
    const auto busyAt = [](int left, int top, int i, int x, int y) {
        const bool busy = x >= left && x < left + 60 && y >= top && y < top + 40;
        return busy && (x + y + i) % 2 == 0 ? day : night;
    };
    const auto away = moments(12, [&](int i, int x, int y) { return busyAt(220, 120, i, x, y); });
    const auto under = moments(12, [&](int i, int x, int y) {
        return i == 7 ? busyAt(100, 57, i, x, y) : busyAt(220, 120, i, x, y);
    });
    const auto detail = [&](const Reading& reading) {
        std::vector<std::string> all;
        for (const Finding& finding : reading.findings)
            if (finding.says.id == "zones.detail") all.push_back(english(finding.says));
        return all;
    };
    EXPECT_TRUE(detail(read("zones", kit, nullptr)).empty());
    EXPECT_TRUE(detail(read("zones", kit, away)).empty());
    const auto told = detail(read("zones", kit, under));
    ASSERT_EQ(told.size(), 1u);
    EXPECT_TRUE(told[0].starts_with("Play area: at 1.75 s of game.mp4, ")) << told[0];
}

// Where a mark stands on its largest player; the two ways round are one another's inverse.
TEST(PlaceOver, AMarkKnowsWhereTheVideoIs) {
    const auto over = moments(1, [](int, int, int) { return night; });
    const Straight8 mark = test::painted({150, 150}, [](int, int) { return day; });
    Subject subject;
    subject.brief = &test::brief("corner-mark");
    subject.pixels = &mark;
    subject.moments = over;
    const RealRect there = placeOver(subject, {480, 270}), video = videoPlaceIn(subject);
    const double by = 150 / there.width;
    EXPECT_GT(there.x, 400);
    EXPECT_NEAR(video.x + there.x * by, 0, 1e-9);
    EXPECT_NEAR(video.y + there.y * by, 0, 1e-9);
    EXPECT_NEAR(video.width, 480 * by, 1e-9);
    subject.brief = &test::brief("stream-overlay");
    const Straight8 overlay(PixelSize{1920, 1080});
    subject.pixels = &overlay;
    EXPECT_EQ(placeOver(subject, {480, 270}), (RealRect{0, 0, 480, 270}));
    // A capture of 4:3 has bars of 80 of its px at both sides.
    EXPECT_EQ(placeOver(subject, {480, 360}), (RealRect{-80, 0, 640, 360}));
}

}  // namespace
}  // namespace zl
