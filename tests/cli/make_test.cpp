// SPDX-License-Identifier: GPL-3.0-or-later
// letter, finish, over, and the readings and mends of marks: names, options, JSON keys, exit
// status.
#include "picture/decode.h"
#include "raster/ink_box.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::pictureIn;
using test::put;
using test::zledge;

Straight8 spot(PixelSize size, PixelRect ink, std::uint32_t colour = packed(200, 30, 60, 255)) {
    return test::painted(size, [=](int x, int y) {
        return x >= ink.left && x < ink.right && y >= ink.top && y < ink.bottom ? colour : 0u;
    });
}

TEST(LetterCommand, WritesLettersTightToTheirInk) {
    const test::Folder folder;
    const auto ran =
        zledge(folder, "letter --text HELLO --size 80 --colour '#FFC653' --out plain.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Picture plain = pictureIn(folder, "plain.png");
    EXPECT_EQ(inkBoxOf(*plain.pixels, 1), PixelRect::of(plain.facts.size));
    EXPECT_EQ(ran.json()["width"], plain.facts.size.width);
    EXPECT_NEAR(ran.json()["cap_height"].get<double>(), plain.facts.size.height, 3)
        << "capitals are all there is";
    ASSERT_EQ(
        zledge(folder, "letter --text hello --caps --size 80 --outline '6,#102030' --out rim.png")
            .status,
        0);
    EXPECT_NEAR(pictureIn(folder, "rim.png").facts.size.width, plain.facts.size.width + 12, 2);
    ASSERT_EQ(zledge(folder,
                     "letter --text hello --caps --size 80 --shadow '10,20,0,0.5' --out shadow.png")
                  .status,
              0);
    EXPECT_EQ(pictureIn(folder, "shadow.png").facts.size.height, plain.facts.size.height + 20);
    ASSERT_EQ(zledge(folder,
                     "letter --text 'A\\nB' --leading 2 --tracking 50 --align centre --size 40 "
                     "--out two.png")
                  .status,
              0);
    EXPECT_GT(pictureIn(folder, "two.png").facts.size.height, 80);
}

TEST(LetterCommand, TellsWhatAFontLacksAndRefusesWhatCannotBe) {
    const test::Folder folder;
    const auto lacking = zledge(folder, "letter --text 'A☃' --out a.png");
    EXPECT_EQ(lacking.status, 0);
    EXPECT_NE(lacking.err.find("has no letter \"☃\""), std::string::npos);
    EXPECT_NE(zledge(folder, "letter --text A --font 'No Such Font' --out b.png")
                  .err.find("is used instead"),
              std::string::npos);
    put(folder, "broken.ttf", test::bytesOf("this is no font"));
    EXPECT_EQ(zledge(folder, "letter --text A --font-file broken.ttf --out c.png").status, 3);
    for (const char* words :
         {"--text A --size 0", "--text A --size 1000000", "--text A --size nan", "--text ' '",
          "--text A --outline 6", "--text A --outline '-4,#000000'", "--text A --outline '4,red'",
          "--text A --shadow 1,2,3", "--text A --align up",
          "--text A --font X --font-file broken.ttf", "--text A --leading 0"})
        EXPECT_EQ(zledge(folder, std::string("letter --out z.png ") + words).status, 2) << words;
    const std::string longText(100'000, 'x');
    EXPECT_EQ(zledge(folder, "letter --out z.png --text " + longText).status, 2);
    EXPECT_FALSE(std::filesystem::exists(folder / "z.png"));
    EXPECT_EQ(zledge(folder, "letter --text A --out a.png").status, 4) << "it stands there already";
}

TEST(FinishCommand, GrowsTheFrameToHoldWhatItPutsOn) {
    const test::Folder folder;
    put(folder, "in.png", test::png(spot({60, 50}, {5, 10, 55, 40})));
    const auto ran = zledge(folder, "finish in.png --outline '8,#102030' --out out.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    // Ink to 5 px from the left, 10 from the top: 3 px more are needed on two sides, none above and
    // below.
    EXPECT_EQ(pictureIn(folder, "out.png").facts.size, (PixelSize{66, 50}));
    EXPECT_EQ(ran.json()["offset"], (Json{3, 0}));
    const Picture out = pictureIn(folder, "out.png");
    EXPECT_EQ(out.pixels->row(25)[2], packed(16, 32, 48, 255));
    EXPECT_EQ(out.pixels->row(25)[30], packed(200, 30, 60, 255));
    ASSERT_EQ(
        zledge(folder, "finish in.png --outline '8,#102030' --keep-frame --out kept.png").status,
        0);
    EXPECT_EQ(pictureIn(folder, "kept.png").facts.size, (PixelSize{60, 50}));
    ASSERT_EQ(
        zledge(folder, "finish in.png --shadow '4,6,0,1,#0000FF' --trim --out trimmed.png").status,
        0);
    EXPECT_EQ(pictureIn(folder, "trimmed.png").facts.size, (PixelSize{54, 36}));
    ASSERT_EQ(zledge(folder,
                     "finish in.png --glow '10,#FFFF00' --bevel 5,0.5 --outline '2,#000000' "
                     "--outline '2,#FFFFFF' --out all.png")
                  .status,
              0);
    for (const char* words : {"", "--glow 10", "--bevel 5", "--outline '500,#000000'",
                              "--keep-frame --trim --glow '3,#FFFFFF'"})
        EXPECT_EQ(zledge(folder, std::string("finish in.png --out z.png ") + words).status, 2)
            << words;
    EXPECT_EQ(zledge(folder, "finish in.png --glow '3,#FFFFFF' --out in.png --replace").status, 4)
        << "an input is never overwritten";
    EXPECT_EQ(zledge(folder, "finish gone.png --glow '3,#FFFFFF' --out z.png").status, 3);
}

TEST(OverCommand, PlacesAMarkAndResamplesNothingUnasked) {
    const test::Folder folder;
    const Straight8 base = test::textured({200, 100}), mark = test::textured({20, 10}, 60);
    put(folder, "base.png", test::png(base));
    put(folder, "mark.png", test::png(mark));
    const auto ran = zledge(folder, "over base.png mark.png --inset 5%,4 --out out.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(ran.json()["mark_rect"], (Json{170, 86, 20, 10}));
    const Picture out = pictureIn(folder, "out.png");
    for (int y = 0; y < 100; ++y)
        for (int x = 0; x < 200; ++x) {
            const bool on = x >= 170 && x < 190 && y >= 86 && y < 96;
            ASSERT_EQ(out.pixels->row(y)[x], on ? mark.row(y - 86)[x - 170] : base.row(y)[x])
                << x << ',' << y;
        }
    const auto rectAt = [&](const std::string& words) {
        const auto done =
            zledge(folder, "over base.png mark.png --out x.png --replace --json " + words);
        EXPECT_EQ(done.status, 0) << words << done.err;
        return done.json()["mark_rect"].get<std::array<double, 4>>();
    };
    EXPECT_EQ(rectAt("--at top-left --inset 3,7"), (std::array<double, 4>{3, 7, 20, 10}));
    EXPECT_EQ(rectAt("--at centre"), (std::array<double, 4>{90, 45, 20, 10}));
    EXPECT_EQ(rectAt("--at bottom --inset 0,10%"), (std::array<double, 4>{90, 80, 20, 10}));
    EXPECT_EQ(rectAt("--at top-right --width 25"), (std::array<double, 4>{150, 0, 50, 25}));
    EXPECT_EQ(rectAt("--at top-left --rotate 90"), (std::array<double, 4>{0, 0, 10, 20}));
    ASSERT_EQ(
        zledge(folder, "over base.png mark.png --at top-left --opacity 0 --out none.png").status,
        0);
    EXPECT_EQ(pictureIn(folder, "none.png").pixels->row(3)[3], base.row(3)[3]);
    for (const char* words :
         {"--at middle", "--inset 3", "--inset a,b", "--width 0", "--opacity 2", "--rotate nan"})
        EXPECT_EQ(zledge(folder, std::string("over base.png mark.png --out z.png ") + words).status,
                  2)
            << words;
    EXPECT_EQ(zledge(folder, "over base.png mark.png --out base.png --replace").status, 4);
}

TEST(CheckCommand, ReadsAndMendsAMark) {
    const test::Folder folder;
    put(folder, "small.png", test::png(spot({150, 150}, {10, 20, 60, 66})));
    const auto readingOf = [](const Json& json, const std::string& id) {
        for (const auto& one : json["readings"])
            if (one["id"] == id) return one;
        return Json();
    };
    const Json before = zledge(folder, "check small.png --brief corner-mark --json").json();
    for (const char* id : {"standing-out", "cut-off", "margins", "colours"})
        EXPECT_FALSE(readingOf(before, id).is_null()) << id;
    EXPECT_EQ(readingOf(before, "margins")["mends"], (Json{"trim", "centre"}));
    ASSERT_LE(
        zledge(folder, "check small.png --brief corner-mark --mend trim --out trimmed.png").status,
        1);
    const Json after = zledge(folder, "check trimmed.png --brief corner-mark --json").json();
    EXPECT_EQ(readingOf(after, "margins")["verdict"], "pass");
    EXPECT_EQ(readingOf(after, "cut-off")["verdict"], "pass");
    EXPECT_TRUE(readingOf(zledge(folder, "check small.png --brief video-thumbnail --json").json(),
                          "margins")
                    .is_null())
        << "only for what stands free";
}

}  // namespace
}  // namespace zl
