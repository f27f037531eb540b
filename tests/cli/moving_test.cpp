// SPDX-License-Identifier: GPL-3.0-or-later
// burn, legible, render --at, release and check of moving pieces: names, options, JSON keys, exit
// status, and that nothing stands there after a failure.
#include <csignal>

#include "film/clip_frames.h"
#include "store/kit_file.h"
#include "support/clips.h"
#include "support/demo_files.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::Ran;
using test::zledge;

// Light for half of its two seconds, then dark.
void putClip(const test::Folder& folder) {
    test::clipOf(folder / "clip.mp4", {160, 90}, 50, [](int n) {
        return n < 25 ? Straight8::cleared({160, 90}, packed(240, 240, 240, 255))
                      : Straight8::cleared({160, 90}, packed(20, 30, 50, 255));
    });
    test::put(folder, "mark.png", test::png(test::painted({32, 24}, [](int x, int y) {
                  const bool inside = x >= 3 && x < 29 && y >= 3 && y < 21;
                  return inside ? packed(255, 255, 255, 255) : 0u;
              })));
}

TEST(BurnCommand, MarksAVideoAndTellsWhatItDid) {
    const test::Folder folder;
    putClip(folder);
    const Ran ran = zledge(folder,
                           "burn clip.mp4 --mark mark.png --at top-left --inset 10%,8 --from 0.4 "
                           "--to 1.2 --fade 0.1 --opacity 0.5 --out out.mp4 --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    EXPECT_EQ(json["out"], "out.mp4");
    EXPECT_EQ(json["frames"], 50);
    EXPECT_EQ(json["frames_marked"], 20 - 1) << "the first of them is at nothing yet";
    EXPECT_EQ(json["mark_rect"], (Json{16, 8, 32, 24}));
    EXPECT_EQ(json["bytes"],
              static_cast<long long>(std::filesystem::file_size(folder / "out.mp4")));
    EXPECT_EQ(zledge(folder, "burn clip.mp4 --mark mark.png --out out.mp4").status, 4);
    EXPECT_EQ(zledge(folder, "burn clip.mp4 --mark mark.png --out out.mp4 --replace").status, 0);
    EXPECT_EQ(zledge(folder, "burn clip.mp4 --mark mark.png --out w.webm --quality 40").status, 0);
    EXPECT_EQ(zledge(folder, "video w.webm --json").json()["frames"], 50);
    EXPECT_EQ(zledge(folder, "burn clip.mp4 --mark mark.png --out bare --format mkv").status, 0);
}

// A piece of a kit, as it moves: a white bar that is there for the first 0.4 s of each second.
TEST(BurnCommand, APieceOfAKitGoesOnMoving) {
    const test::Folder folder;
    putClip(folder);
    Layer bar;
    bar.name = "Bar";
    bar.what = BarLayer{};
    test::barOf(bar)->place = {0, 0, 32, 24};
    test::barOf(bar)->colour = {250, 250, 250, 255};
    bar.shows = ShowTime{0, 0.4, 0};
    Kit kit = good(withLayer(test::kitWith("overlay-loop", {32, 24}), "p", bar));
    Piece piece = kit.pieces.front();
    piece.length = 1;
    kit = good(withChangedPiece(kit, std::move(piece)));
    ASSERT_TRUE(saveKit(kit, folder / "k.zlkit", Replace::no));
    const Ran ran =
        zledge(folder, "burn clip.mp4 --mark k.zlkit --piece p --at top-left --out out.mp4 --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(ran.json()["frames_marked"], 50);
    Video video = good(Video::open(folder / "out.mp4"));
    const auto light = [&](long long n) { return redOf(good(video.frame(n)).pixels.row(12)[16]); };
    EXPECT_GT(light(30), 220) << "1.2 s: the second time";
    EXPECT_LT(light(45), 60) << "1.8 s: away";
    EXPECT_EQ(zledge(folder, "burn clip.mp4 --mark k.zlkit --piece q --out o.mp4").status, 2);
    EXPECT_EQ(zledge(folder, "burn clip.mp4 --mark mark.png --piece p --out o.mp4").status, 3);
}

TEST(BurnCommand, RefusesWithOneSentence) {
    const test::Folder folder;
    putClip(folder);
    test::put(folder, "words.mp4", test::bytesOf("no video"));
    const std::pair<const char*, int> cases[] = {
        {"burn clip.mp4 --mark mark.png --out clip.mp4 --replace", 4},
        {"burn clip.mp4 --mark mark.png --out out.mov", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --quality 0", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --quality fine", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --from 3", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --from 1 --to 0.5", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --fade 2 --to 1", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --width 150", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --inset 900,900", 2},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --at somewhere", 2},
        {"burn clip.mp4 --out out.mp4", 2},
        {"burn words.mp4 --mark mark.png --out out.mp4", 3},
        {"burn none.mp4 --mark mark.png --out out.mp4", 3},
        {"burn clip.mp4 --mark words.mp4 --out out.mp4", 3},
        {"burn clip.mp4 --mark mark.png --out no/where/out.mp4", 4},
        {"burn clip.mp4 --mark mark.png --out out.mp4 --limit 900", 1}};
    for (const auto& [words, status] : cases) {
        const Ran ran = zledge(folder, words);
        EXPECT_EQ(ran.status, status) << words << ": " << ran.err;
        EXPECT_FALSE(ran.err.empty()) << words;
        EXPECT_FALSE(std::filesystem::exists(folder / "out.mp4")) << words;
    }
}

// However it is killed, the target is whole or not there.
TEST(BurnCommand, KilledAtAnyMomentItLeavesNothing) {
    const test::Folder folder;
    test::clipOf(folder / "long.mp4", {480, 270}, 200, [](int n) {
        return test::textured({480, 270}, 3 + n % 9);
    });
    test::put(folder, "mark.png", test::png(test::textured({60, 40})));
    for (const char* after : {"0.05", "0.3", "0.7"}) {
        const Ran ran = zledge(folder, std::string("--version >/dev/null; timeout -s KILL ") +
                                           after + " '" + test::zledgeProgram() +
                                           "' burn long.mp4 --mark mark.png --out out.mkv "
                                           "--quality lossless >/dev/null; true");
        static_cast<void>(ran);
        if (std::filesystem::exists(folder / "out.mkv")) {
            EXPECT_EQ(zledge(folder, "video out.mkv --json").json()["frames"], 200)
                << "it was quicker, and is whole";
            std::filesystem::remove(folder / "out.mkv");
        }
    }
    for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
        EXPECT_EQ(entry.path().string().find(".part"), std::string::npos) << entry.path();
}

TEST(LegibleCommand, GivesTheCurveTheWorstAndProposals) {
    const test::Folder folder;
    putClip(folder);
    const Ran ran = zledge(folder, "legible mark.png --over clip.mp4 --inset 6,6 --json");
    EXPECT_EQ(ran.status, 1) << "it is lost for half of the time";
    const Json json = ran.json();
    ASSERT_TRUE(json["samples"].is_array());
    EXPECT_GT(json["samples"].size(), 5u);
    EXPECT_TRUE(json["samples"][0].contains("time") && json["samples"][0].contains("share"));
    EXPECT_EQ(json["worst"]["share"], 0.0);
    EXPECT_LT(json["worst"]["time"].get<double>(), 1);
    EXPECT_FALSE(json["proposals"].empty());
    for (const auto& one : json["proposals"]) EXPECT_FALSE(one["says"].get<std::string>().empty());
    EXPECT_EQ(zledge(folder, "legible mark.png --over clip.mp4 --from 1.1").status, 0);
    EXPECT_NE(zledge(folder, "legible mark.png --over clip.mp4").out.find("of the time"),
              std::string::npos);
    EXPECT_EQ(zledge(folder, "legible mark.png --over none.mp4").status, 3);
    EXPECT_EQ(zledge(folder, "legible mark.png").status, 2);
    EXPECT_EQ(zledge(folder, "legible mark.png --over clip.mp4 --width 200").status, 2);
}

TEST(CheckCommand, HoldsMarksAgainstAVideoOfOnesOwn) {
    const test::Folder folder;
    putClip(folder);
    const auto standing = [&](const std::string& words) {
        const Json json = zledge(folder, words).json();
        for (const auto& reading : json["readings"])
            if (reading["id"] == "standing-out") return reading;
        return Json();
    };
    const Json over = standing("check mark.png --brief corner-mark --over clip.mp4 --json");
    EXPECT_EQ(over["verdict"], "fail");
    EXPECT_NEAR(over["value"].get<double>(), 0.5, 0.1) << "the share of the time";
    EXPECT_EQ(over["unit"], "share of the time");
    EXPECT_EQ(zledge(folder, "check mark.png --brief corner-mark --over none.mp4").status, 3);
}

// A kit with a clip of half a second.
void putMovingKit(const test::Folder& folder) {
    test::clipOf(folder / "half.mp4", {96, 54}, 12, [](int n) {
        return test::textured({96, 54}, 3 + n);
    });
    const Kit kit = good(withClipOf(test::kitWith("free-frame", {96, 54}), "p", folder / "half.mp4",
                                    folder / "kit.zlkit"));
    ASSERT_TRUE(saveKit(kit, folder / "kit.zlkit", Replace::no));
}

TEST(MovingCommands, RenderAMomentOrAllOfItAndReleaseIt) {
    const test::Folder folder;
    putMovingKit(folder);
    const std::string render = "render kit.zlkit --piece p ";
    ASSERT_EQ(zledge(folder, render + "--at 0.2 --out a.png").status, 0);
    ASSERT_EQ(zledge(folder, render + "--at 0.44 --out b.png").status, 0);
    EXPECT_NE(good(readFile(folder / "a.png")), good(readFile(folder / "b.png")));
    EXPECT_EQ(zledge(folder, render + "--at 5 --out c.png").status, 2) << "after its end";
    EXPECT_EQ(zledge(folder, render + "--at 0.2 --out c.mp4").status, 2);
    for (const char* ending : {"mp4", "webm", "mkv", "webp", "gif"}) {
        const Ran ran = zledge(folder, render + "--out all." + ending + " --json");
        ASSERT_EQ(ran.status, 0) << ending << ran.err;
        EXPECT_EQ(ran.json()["frames"], 12) << ending;
    }
    const Ran ran = zledge(folder, "release kit.zlkit --out out --poster 0.3 --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json json = ran.json();
    EXPECT_EQ(json["content"], "video/mp4");
    EXPECT_EQ(json["codec"], "h264");
    EXPECT_TRUE(std::filesystem::exists(folder / "out/made-for-a-test.mp4"));
    EXPECT_TRUE(std::filesystem::exists(folder / "out/made-for-a-test-poster.jpg"));
    EXPECT_TRUE(std::filesystem::exists(folder / "out/made-for-a-test.receipt.json"));
    EXPECT_EQ(zledge(folder, "check kit.zlkit --json").json()["pieces"][0]["verdict"], "pass");
    // The clip is another video by now.
    test::clipOf(folder / "half.mp4", {96, 54}, 5, [](int n) {
        return test::textured({96, 54}, 30 + n);
    });
    const Ran changed = zledge(folder, "release kit.zlkit --out other");
    EXPECT_EQ(changed.status, 3);
    EXPECT_NE(changed.err.find("another video"), std::string::npos) << changed.err;
    EXPECT_FALSE(std::filesystem::exists(folder / "other/made-for-a-test.mp4"));
}

}  // namespace
}  // namespace zl
