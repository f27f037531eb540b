// SPDX-License-Identifier: GPL-3.0-or-later
// video and still: names, options, JSON keys, exit status; what is no video, or hostile.
#include <sys/stat.h>

#include <algorithm>
#include <set>

#include "zledge.h"

namespace zl {
namespace {

// Two seconds of 160 x 90 at 30 frames a second, with a cut in the middle.
void clipIn(const test::Folder& folder) {
    const std::string made =
        "ffmpeg -v error -y -f lavfi -i testsrc2=s=160x90:r=30:d=1 -f lavfi -i "
        "mandelbrot=s=160x90:r=30 -filter_complex '[1]trim=duration=1[b];[0][b]concat' -t 2 -c:v "
        "libx264 -pix_fmt yuv420p " +
        (folder / "clip.mp4").string();
    ASSERT_EQ(std::system(made.c_str()), 0);
}

TEST(VideoCommand, TellsFactsAsJsonAndInWords) {
    const test::Folder folder;
    clipIn(folder);
    const auto ran = zledge(folder, "video clip.mp4 --json");
    ASSERT_EQ(ran.status, 0);
    const Json json = ran.json();
    for (const char* key :
         {"width", "height", "shown_width", "shown_height", "rotation", "fps", "variable_rate",
          "duration", "frames", "depth", "alpha", "interlaced", "colour", "sound"})
        EXPECT_TRUE(json.contains(key)) << key;
    EXPECT_EQ(json["frames"], 60);
    EXPECT_EQ(json["sound"].size(), 0u);
    EXPECT_EQ(json["colour"]["matrix"]["told"], false);
    EXPECT_NE(zledge(folder, "video clip.mp4").out.find("60 frames"), std::string::npos);
}

TEST(StillCommand, TakesAFrameByTimeOrByNumber) {
    const test::Folder folder;
    clipIn(folder);
    const auto byTime = zledge(folder, "still clip.mp4 --at 0.51 --out a.png --json");
    ASSERT_EQ(byTime.status, 0) << byTime.err;
    const Json json = byTime.json();
    EXPECT_EQ(json["out"], "a.png");
    EXPECT_EQ(json["frame"], 15) << "the one that is shown at 0.51 s began at 0.5";
    EXPECT_NEAR(json["time"].get<double>(), 0.5, 1e-6);
    EXPECT_EQ(json["width"], 160);
    EXPECT_EQ(json["height"], 90);
    ASSERT_EQ(zledge(folder, "still clip.mp4 --at '#15' --out b.png").status, 0);
    EXPECT_EQ(test::good(readFile(folder / "a.png")), test::good(readFile(folder / "b.png")));
    // Into a folder it is named after the video and the time.
    std::filesystem::create_directory(folder / "stills");
    ASSERT_EQ(zledge(folder, "still clip.mp4 --at 1.5 --out stills").status, 0);
    EXPECT_TRUE(std::filesystem::exists(folder / "stills/clip-00-00-01.500.png"));
    EXPECT_EQ(zledge(folder, "still clip.mp4 --at '#15' --out b.png").status, 4)
        << "what stands there stays";
}

TEST(StillCommand, ProposesTheThirdsFirstAndSaysWhy) {
    const test::Folder folder;
    clipIn(folder);
    const auto ran = zledge(folder, "still clip.mp4 --candidates 5 --out found --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const Json all = ran.json()["candidates"];
    ASSERT_GE(all.size(), 4u);
    EXPECT_EQ(all[0]["frame"], 20);
    EXPECT_EQ(all[1]["frame"], 30);
    EXPECT_EQ(all[2]["frame"], 40);
    EXPECT_EQ(all[0]["reasons"][0], "the first third");
    std::set<int> frames;
    for (const Json& one : all) {
        EXPECT_FALSE(one["reasons"].empty());
        EXPECT_TRUE(std::filesystem::exists(folder / one["file"].get<std::string>()));
        frames.insert(one["frame"].get<int>());
    }
    EXPECT_EQ(frames.size(), all.size()) << "none stands there twice";
}

TEST(StillCommand, RefusesWhatMakesNoSense) {
    const test::Folder folder;
    clipIn(folder);
    for (const char* words :
         {"still clip.mp4 --out a.png", "still clip.mp4 --at 9 --out a.png",
          "still clip.mp4 --at -1 --out a.png", "still clip.mp4 --at '#60' --out a.png",
          "still clip.mp4 --at '#1.5' --out a.png", "still clip.mp4 --at soon --out a.png",
          "still clip.mp4 --at 1 --candidates 3 --out a.png",
          "still clip.mp4 --candidates 0 --out a", "still clip.mp4 --at 1 --out a.txt"})
        EXPECT_EQ(zledge(folder, words).status, 2) << words;
    EXPECT_FALSE(std::filesystem::exists(folder / "a.png"));
}

TEST(VideoCommand, RefusesWhatIsNoVideoWithOneSentence) {
    const test::Folder folder;
    clipIn(folder);
    const Bytes whole = test::good(readFile(folder / "clip.mp4"));
    test::put(folder, "empty.mp4", {});
    test::put(folder, "words.mp4", test::bytesOf("this is no video"));
    test::put(folder, "picture.mp4", test::png(test::textured({64, 48})));
    test::put(folder, "headless.mp4", Bytes(whole.begin() + 4000, whole.end()));
    // A script that names another file must not open it.
    test::put(folder, "list.mp4", test::bytesOf("ffconcat version 1.0\nfile clip.mp4\n"));
    test::put(folder, "playlist.mp4",
              test::bytesOf("#EXTM3U\n#EXT-X-TARGETDURATION:2\n#EXTINF:2,\nclip.mp4\n"));
    ASSERT_EQ(::mkfifo((folder / "pipe.mp4").c_str(), 0600), 0);
    for (const char* name : {"empty.mp4", "words.mp4", "headless.mp4", "list.mp4", "playlist.mp4",
                             "pipe.mp4", "missing.mp4", "."}) {
        const auto ran = zledge(folder, std::string("still ") + name + " --at 0 --out a.png");
        EXPECT_EQ(ran.status, 3) << name << ran.err;
        EXPECT_EQ(std::count(ran.err.begin(), ran.err.end(), '\n'), 1) << ran.err;
    }
    EXPECT_FALSE(std::filesystem::exists(folder / "a.png"));
    // Cut off in its middle: what is there can still be had, what is not is told.
    test::put(folder, "cut.mp4", Bytes(whole.begin(), whole.begin() + whole.size() / 2));
    EXPECT_EQ(zledge(folder, "video cut.mp4").status, 3);
}

// Each file makes one sentence and leaves nothing behind, or can be read.
TEST(VideoCommand, OddVideosAreReadOrRefusedInOneSentence) {
    const test::Folder folder;
    const std::string ffmpeg = "cd '" + folder.path().string() + "' && ffmpeg -v error -y ";
    const std::string source = "-f lavfi -i testsrc2=s=160x90:r=30:d=2 ",
                      x264 = "-c:v libx264 -pix_fmt yuv420p ";
    const auto make = [&](const std::string& words) {
        ASSERT_EQ(std::system((ffmpeg + words).c_str()), 0) << words;
    };
    make("-f lavfi -i sine=d=1 -c:a aac sound.mp4");
    make(source + x264 + "-g 30 whole.ts");
    // A stream that is caught between two key frames.
    make("-i whole.ts -c copy -f data -map 0:v /dev/null");
    Bytes stream = test::good(readFile(folder / "whole.ts"));
    stream.erase(stream.begin(),
                 stream.begin() + 188 * (static_cast<long>(stream.size()) / 188 / 4));
    test::put(folder, "midway.ts", stream);
    make(source + x264 + "-r 30000 -t 0.01 fast.mp4");
    // A frame at the beginning, one a day on.
    make("-f lavfi -i testsrc2=s=160x90:r=1:d=2 -vf 'setpts=N*86400/TB' -vsync vfr " + x264 +
         "-video_track_timescale 1000 day.mkv");
    make(source + x264 + "-movflags +frag_keyframe+empty_moov fragments.mp4");
    make(source + x264 +
         "-encryption_scheme cenc-aes-ctr -encryption_key "
         "0123456789abcdef0123456789abcdef -encryption_kid "
         "0123456789abcdef0123456789abcdef locked.mp4");
    Bytes noFrames = test::good(readFile(folder / "fragments.mp4"));
    const auto box = std::search(noFrames.begin(), noFrames.end(), "moof", "moof" + 4);
    ASSERT_NE(box, noFrames.end());
    noFrames.erase(box - 4, noFrames.end());
    test::put(folder, "none.mp4", noFrames);
    std::filesystem::create_symlink("/dev/zero", folder / "device.mp4");
    const std::set<std::string> refused{"sound.mp4", "none.mp4", "device.mp4"};
    for (const char* name : {"sound.mp4", "midway.ts", "fast.mp4", "day.mkv", "fragments.mp4",
                             "none.mp4", "device.mp4"}) {
        const std::string out = std::string(name) + ".png";
        const auto ran = zledge(folder, std::string("still ") + name + " --at '#0' --out " + out);
        EXPECT_EQ(ran.status, refused.contains(name) ? 3 : 0) << name << ran.err;
        EXPECT_EQ(std::filesystem::exists(folder / out), !refused.contains(name)) << name;
        EXPECT_EQ(std::count(ran.err.begin(), ran.err.end(), '\n'), refused.contains(name))
            << ran.err;
    }
    const Json day = zledge(folder, "video day.mkv --json").json();
    EXPECT_GE(day["duration"].get<double>(), 86400);
    EXPECT_EQ(day["frames"], 2);
    // Whatever an encrypted one gives, it is one sentence or a frame.
    const auto locked = zledge(folder, "still locked.mp4 --at '#0' --out locked.png");
    EXPECT_TRUE(locked.status == 3 || locked.status == 0) << locked.err;
}

TEST(VideoCommand, AFileThatIsStillBeingWrittenGivesWhatIsThere) {
    const test::Folder folder;
    const std::string made = "cd '" + folder.path().string() +
                             "' && ffmpeg -v error -y -f lavfi -i testsrc2=s=160x90:r=30:d=4 -c:v "
                             "libx264 -pix_fmt yuv420p -g 30 whole.ts";
    ASSERT_EQ(std::system(made.c_str()), 0);
    const Bytes whole = test::good(readFile(folder / "whole.ts"));
    test::put(folder, "half.ts", Bytes(whole.begin(), whole.begin() + whole.size() / 2));
    const Json facts = zledge(folder, "video half.ts --json").json();
    EXPECT_GT(facts["frames"], 20);
    EXPECT_LT(facts["frames"], 120);
    EXPECT_EQ(zledge(folder, "still half.ts --at 0.5 --out a.png").status, 0);
}

}  // namespace
}  // namespace zl
