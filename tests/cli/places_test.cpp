// SPDX-License-Identifier: GPL-3.0-or-later
// resize, release, rehearse: names, options, JSON keys, exit status.
#include "picture/decode.h"
#include "store/kit_file.h"
#include "support/demo_files.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::pictureIn;
using test::put;
using test::zledge;

TEST(ResizeCommand, CoversContainsAndPadsAndNeverStretchesUnasked) {
    const test::Folder folder;
    put(folder, "in.png", test::png(Straight8::cleared({400, 400}, packed(40, 80, 120, 255))));
    const auto ran = zledge(folder, "resize in.png --size 320x180 --out cover.png --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(ran.json()["width"], 320);
    EXPECT_EQ(ran.json()["height"], 180);
    ASSERT_EQ(zledge(folder, "resize in.png --size 320x180 --fit contain --out contain.png").status,
              0);
    EXPECT_EQ(pictureIn(folder, "contain.png").facts.size, (PixelSize{180, 180}));
    ASSERT_EQ(
        zledge(
            folder,
            "resize in.png --brief video-thumbnail --fit pad --pad-colour '#FF0000' --out pad.png")
            .status,
        0);
    const Picture padded = pictureIn(folder, "pad.png");
    EXPECT_EQ(padded.facts.size, (PixelSize{1280, 720}));
    EXPECT_EQ(padded.pixels->row(10)[10], packed(255, 0, 0, 255));
    EXPECT_EQ(padded.pixels->row(360)[640], packed(40, 80, 120, 255));
    ASSERT_EQ(zledge(folder, "resize in.png --size 320x180 --stretch --out stretched.webp").status,
              0);
    EXPECT_EQ(pictureIn(folder, "stretched.webp").facts.content, Content::webp);
    for (const char* words :
         {"--size 320", "", "--size 320x180 --brief video-thumbnail", "--brief free-frame",
          "--size 320x180 --fit squash", "--size 320x180 --pad-colour '#FF0000'"})
        EXPECT_EQ(zledge(folder, std::string("resize in.png --out z.png ") + words).status, 2)
            << words;
}

TEST(ReleaseCommand, LeavesVariantsOutUntilTheyAreAskedFor) {
    const test::Folder folder;
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                test::textured({1280, 720}, 4), {0, 0, 1280, 720});
    kit = good(withPieceDoubled(kit, "p", true));
    ASSERT_TRUE(saveKit(kit, folder / "kit.zlkit", Replace::no));
    EXPECT_EQ(zledge(folder, "release kit.zlkit --out . --json").json()["files"].size(), 1u);
    const auto asked =
        zledge(folder, "release kit.zlkit --piece " + kit.pieces[1].id + " --out . --json");
    EXPECT_EQ(asked.status, 0) << asked.err;
    EXPECT_EQ(asked.json()["files"].size(), 1u);
}

TEST(ReleaseCommand, WritesEveryPieceWithItsReceipt) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const auto ran = zledge(folder,
                            "release kit/mossgate-signals.zlkit --piece thumbnail --piece "
                            "corner-mark --out out --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    ASSERT_EQ(json["files"].size(), 2u);
    for (const auto& file : json["files"]) {
        for (const char* key :
             {"out", "content", "bytes", "limit", "quality", "alpha_kept", "difference", "tried"})
            EXPECT_TRUE(file.contains(key)) << key;
        const Bytes bytes = good(readFile(folder / file["out"].get<std::string>()));
        EXPECT_EQ(bytes.size(), file["bytes"].get<std::size_t>());
        EXPECT_LE(file["bytes"], file["limit"]);
        const Json receipt =
            good(parseJson(good(readFile(folder / file["receipt"].get<std::string>())), "receipt"));
        for (const char* key : {"piece", "brief", "file", "content", "width", "height", "bytes",
                                "limit", "sha256", "alpha_kept", "readings"})
            EXPECT_TRUE(receipt.contains(key)) << key;
        EXPECT_EQ(receipt["sha256"], sha256(bytes));
    }
    EXPECT_EQ(
        zledge(folder, "release kit/mossgate-signals.zlkit --piece thumbnail --out out").status, 4)
        << "it stands there already";
    EXPECT_EQ(
        zledge(folder, "release kit/mossgate-signals.zlkit --piece thumbnail --out out --replace")
            .status,
        0);
    EXPECT_EQ(zledge(folder, "release kit/mossgate-signals.zlkit --piece nobody --out out").status,
              2);
    const auto all = zledge(folder, "release kit/mossgate-signals.zlkit --out all --json");
    EXPECT_EQ(all.status, 1) << "six pieces have failing readings";
    EXPECT_EQ(all.json()["files"].size(), 17u);
    const Json written = all.json();  // a range over a temporary's part would outlive it
    for (const auto& file : written["files"])
        if (!file["limit"].is_null()) {
            EXPECT_LE(file["bytes"], file["limit"]) << file["piece"];
        }
}

TEST(RehearseCommand, WritesEachSurfaceOrTheReasons) {
    const test::Folder folder;
    put(folder, "good.png", test::png(test::textured({1280, 720})));
    const auto ran = zledge(folder, "rehearse good.png --brief video-thumbnail --out r --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json =
        good(parseJson(good(readFile(folder / "r/rehearsal.json")), "rehearsal.json"));
    EXPECT_EQ(json, ran.json());
    EXPECT_EQ(json["accepted"], true);
    EXPECT_EQ(json["state"], "published");
    EXPECT_TRUE(json["reasons"].empty());
    ASSERT_EQ(json["surfaces"].size(), 11u);
    for (const auto& surface : json["surfaces"]) {
        const Picture picture = pictureIn(folder, "r/" + surface["file"].get<std::string>());
        EXPECT_EQ(picture.facts.size, (PixelSize{surface["width"], surface["height"]}));
        const auto rect = surface["piece_rect"].get<std::array<int, 4>>();
        EXPECT_NEAR(rect[2] * 9.0 / 16, rect[3], 0.51) << surface["id"];
        EXPECT_LE(rect[0] + rect[2], picture.facts.size.width);
    }
    put(folder, "tiny.png", test::png(test::textured({320, 180})));
    const auto refused = zledge(folder, "rehearse tiny.png --brief video-thumbnail --out t --json");
    EXPECT_EQ(refused.status, 1);
    EXPECT_EQ(refused.json()["accepted"], false);
    EXPECT_EQ(refused.json()["reasons"].size(), 1u);
    EXPECT_TRUE(refused.json()["surfaces"].empty());
    EXPECT_EQ(zledge(folder, "rehearse missing.png --brief video-thumbnail --out m").status, 3);
    EXPECT_EQ(zledge(folder, "rehearse good.png --brief nowhere --out m").status, 2);
    EXPECT_EQ(zledge(folder, "rehearse good.png --brief video-thumbnail --out r").status, 4)
        << "rehearsal.json stands there";
}

TEST(FitCommand, TakesEveryFormat) {
    const test::Folder folder;
    put(folder, "in.png", test::png(test::textured({320, 180}, 60)));
    for (const char* format : {"png", "jpeg", "gif", "webp"}) {
        const auto ran = zledge(folder, std::string("fit in.png --limit 90000 --formats ") +
                                            format + " --out out --json --replace");
        ASSERT_EQ(ran.status, 0) << format << ran.err;
        EXPECT_EQ(ran.json()["content"], std::string("image/") + format);
        EXPECT_LE(ran.json()["bytes"], 90'000);
    }
}

}  // namespace
}  // namespace zl
