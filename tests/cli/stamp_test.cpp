// SPDX-License-Identifier: GPL-3.0-or-later
// zledge stamp, run as a person runs it.
#include <fmt/core.h>
#include <sys/types.h>
#include <unistd.h>

#include <random>
#include <sstream>
#include <thread>

#include "store/kit_file.h"
#include "zledge.h"

namespace zl {
namespace {

using test::good;
using test::put;
using test::Ran;
namespace fs = std::filesystem;

class StampCommand : public testing::Test {
  protected:
    StampCommand() {
        fs::create_directory(folder_ / "in");
        put(folder_, "mark.png", test::png(test::painted({80, 40}, [](int x, int) {
                return x < 40 ? 0xFFFFFFFFu : 0xFF101010u;
            })));
        put(folder_, "r.json",
            test::bytesOf(R"({"format": 1, "name": "House", "what": {"picture": "mark.png"},
                              "at": "bottom-right", "inset": [10, 20], "width": "25%"})"));
        put(folder_, "in/a.jpg", test::jpeg(test::textured({320, 240})));
        put(folder_, "in/b.png", test::png(test::textured({200, 400})));
    }
    Ran zledge(const std::string& words) { return test::zledge(folder_, words); }
    // Each line of the output is one JSON value.
    static std::vector<Json> linesOf(const Ran& ran) {
        std::vector<Json> lines;
        std::istringstream in(ran.out);
        for (std::string line; std::getline(in, line);)
            lines.push_back(good(parseJson(test::bytesOf(line), "a line")));
        return lines;
    }
    test::Folder folder_;
};

TEST_F(StampCommand, MarksFilesAndTellsEachAsItIsDone) {
    const Ran ran = zledge("stamp r.json --out out in --json");
    ASSERT_EQ(ran.status, 0) << ran.err;
    const auto lines = linesOf(ran);
    ASSERT_EQ(lines.size(), 3u);
    const Json& whole = lines.back();
    EXPECT_EQ(whole["done"], 2);
    EXPECT_EQ(whole["failed"], 0);
    // 25 % of 240 px; 10 and 20 px from the edges.
    EXPECT_EQ(whole["photos"][0]["mark_rect"], Json::array({250, 190, 60, 30}));
    EXPECT_EQ(whole["photos"][0]["kept_outside"], true);
    EXPECT_EQ(whole["photos"][1]["kept_outside"], false);
    EXPECT_EQ(whole["photos"][0]["out"], "out/a.jpg");
    EXPECT_EQ(test::pictureIn(folder_, "out/a.jpg").facts.size, (PixelSize{320, 240}));
    const Picture b = test::pictureIn(folder_, "out/b.png");
    EXPECT_EQ(b.pixels->row(361)[145], 0xFFFFFFFFu);
    EXPECT_EQ(b.pixels->row(361)[185], 0xFF101010u);
    EXPECT_TRUE(
        fs::exists(whole["receipt"].get<std::string>().insert(0, folder_.path().string() + "/")));
}

TEST_F(StampCommand, TheExampleRecipeWorks) {
    const Ran example = zledge("stamp --print-recipe");
    ASSERT_EQ(example.status, 0);
    put(folder_, "example.json", test::bytesOf(example.out));
    const Ran ran = zledge("stamp example.json --out out in/a.jpg");
    EXPECT_EQ(ran.status, 0) << ran.err;
}

TEST_F(StampCommand, BadUsageIsSaid) {
    const std::pair<const char*, int> cases[]{
        {"stamp r.json in/a.jpg", 2},
        {"stamp --out out in/a.jpg", 2},
        {"stamp in/a.jpg --out out in/b.png", 3},  // a photograph is no recipe
        {"stamp r.json --out out", 2},
        {"stamp r.json --out in in", 2},
        {"stamp r.json --out in/marked in", 2},
        {"stamp none.json --out out in", 3},
        {"stamp r.json --out out --metadata some in", 2},
        {"stamp r.json --out out --format bmp in", 2},
        {"stamp r.json --out out --quality 0 in", 2},
        {"stamp r.json --out out --name '{place}' in", 2},
        {"stamp r.json --out out --name 'a/{name}' in", 2},
        {"stamp r.json --out out --keep-outside --resize 100x in", 2},
        {"stamp r.json --out mark.png/out in", 4},
        {"stamp --merge in", 3},
    };
    for (const auto& [words, status] : cases) {
        const Ran ran = zledge(words);
        EXPECT_EQ(ran.status, status) << words << '\n' << ran.err;
        EXPECT_FALSE(ran.err.empty()) << words;
        EXPECT_FALSE(fs::exists(folder_ / "out/a.jpg")) << words;
    }
}

TEST_F(StampCommand, OneThatFailsIsExitOne) {
    put(folder_, "in/c.jpg", test::bytesOf("no picture"));
    const Ran ran = zledge("stamp r.json --out out in");
    EXPECT_EQ(ran.status, 1);
    EXPECT_NE(ran.err.find("c.jpg"), std::string::npos);
    EXPECT_TRUE(fs::exists(folder_ / "out/b.png"));
    const Ran gone = zledge("stamp r.json --out out2 in/a.jpg in/none.jpg");
    EXPECT_EQ(gone.status, 1);
    EXPECT_TRUE(fs::exists(folder_ / "out2/a.jpg"));
}

TEST_F(StampCommand, ADryRunWritesNothing) {
    const Ran ran = zledge("stamp r.json --out out in --dry-run --json --name '{name}-{n}'");
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(linesOf(ran).back()["photos"][1]["target"], "b-2.png");
    EXPECT_FALSE(fs::exists(folder_ / "out"));
}

TEST_F(StampCommand, AFileThatGrowsTooLargeLeavesNoHalf) {
    // A bound of the shell's on the size of files stands for a full disk: 10 kB.
    const std::string program = test::zledgeProgram();
    const std::string line = "cd '" + folder_.path().string() +
                             "' && (trap '' XFSZ; ulimit -f 20; '" + program +
                             "' stamp r.json --out out in/a.jpg in/b.png >.o 2>.e)";
    const int status = ::system(line.c_str());
    EXPECT_EQ(WEXITSTATUS(status), 1) << test::textOf(good(readFile(folder_ / ".e")));
    for (const auto& entry : fs::directory_iterator(folder_ / "out"))
        if (entry.path().extension() == ".png" || entry.path().extension() == ".jpg") {
            EXPECT_TRUE(decode(good(readFile(entry.path())), "whole"));
        }
    EXPECT_FALSE(fs::exists(folder_ / "out/b.png"));
}

TEST_F(StampCommand, FormatSizeAndLimit) {
    ASSERT_EQ(zledge("stamp r.json --out out in --format webp --quality 80").status, 0);
    EXPECT_EQ(sniff(good(readFile(folder_ / "out/a.webp"))), Content::webp);
    ASSERT_EQ(zledge("stamp r.json --out small in/a.jpg --resize 160x160").status, 0);
    EXPECT_EQ(test::pictureIn(folder_, "small/a.jpg").facts.size, (PixelSize{160, 120}));
    ASSERT_EQ(zledge("stamp r.json --out light in/a.jpg --limit 6k").status, 0);
    EXPECT_LE(fs::file_size(folder_ / "light/a.jpg"), 6000u);
}

TEST_F(StampCommand, PartsAreMergedToTheSameBytesAndOneReport) {
    ASSERT_EQ(zledge("stamp r.json --out whole in --name '{name}-{n}'").status, 0);
    const Ran list = zledge("stamp r.json --out out in --name '{name}-{n}' --list");
    ASSERT_EQ(list.status, 0);
    std::istringstream lines(list.out);
    int count = 0;
    for (std::string line; std::getline(lines, line); ++count) {
        ASSERT_TRUE(line.starts_with("zledge "));
        EXPECT_EQ(zledge(line.substr(7)).status, 0) << line;
    }
    EXPECT_EQ(count, 2);
    const Ran merged = zledge("stamp --merge out --json");
    ASSERT_EQ(merged.status, 0) << merged.err;
    EXPECT_EQ(linesOf(merged).back()["done"], 2);
    for (const char* name : {"a-1.jpg", "b-2.png"})
        EXPECT_EQ(good(readFile(folder_ / "out" / name)), good(readFile(folder_ / "whole" / name)));
    int reports = 0, parts = 0;
    for (const auto& entry : fs::directory_iterator(folder_ / "out")) {
        reports += entry.path().extension() == ".html";
        parts += entry.path().filename().string().find("part") != std::string::npos;
    }
    EXPECT_EQ(reports, 1);
    EXPECT_EQ(parts, 0);
}

TEST_F(StampCommand, ARunIsUndoneByItsReceipt) {
    ASSERT_EQ(zledge("stamp r.json --out out in").status, 0);
    const Ran undo = zledge("stamp --undo out/stamp-run.receipt.json --json");
    ASSERT_EQ(undo.status, 0) << undo.err;
    EXPECT_EQ(undo.json()["removed"].size(), 2u);
    EXPECT_TRUE(fs::is_empty(folder_ / "out"));
    EXPECT_TRUE(fs::exists(folder_ / "in/a.jpg"));
}

// Started in a process group of its own and killed after `after`; whether it had ended by itself.
bool killedAfter(const test::Folder& folder, const std::string& words,
                 std::chrono::microseconds after) {
    const pid_t child = ::fork();
    if (child == 0) {
        ::setpgid(0, 0);
        if (::chdir(folder.path().c_str()) != 0) ::_exit(99);
        const std::string line =
            "exec '" + test::zledgeProgram() + "' " + words + " >/dev/null 2>&1";
        ::execl("/bin/sh", "sh", "-c", line.c_str(), nullptr);
        ::_exit(99);
    }
    std::this_thread::sleep_for(after);
    ::kill(child, SIGKILL);
    int status = 0;
    ::waitpid(child, &status, 0);
    return WIFEXITED(status) && WEXITSTATUS(status) == 0;
}

// Killed at 50 moments, the run goes on each time and ends with the bytes of one that was left
// alone; at no moment is there half a picture.
TEST_F(StampCommand, KilledAtAnyMomentItGoesOnToTheSameBytes) {
    for (int i = 0; i < 24; ++i)
        put(folder_, fmt::format("in/p{:02}.jpg", i),
            test::jpeg(test::textured({240 + 8 * i, 200}, 10 + i)));
    ASSERT_EQ(zledge("stamp r.json --out whole in").status, 0);
    std::mt19937 random(5);
    int kills = 0, rounds = 0;
    while (kills < 50) {
        const std::string out = fmt::format("out{}", ++rounds);
        for (bool ended = false; !ended;) {
            const auto after = std::chrono::microseconds(20'000 + random() % 150'000);
            ended = killedAfter(folder_, "stamp r.json --out " + out + " in --resume", after);
            kills += !ended;
            std::error_code none;
            for (const auto& entry : fs::directory_iterator(folder_ / out, none)) {
                const std::string ending = entry.path().extension().string();
                if (ending != ".jpg" && ending != ".png") continue;
                ASSERT_EQ(good(readFile(entry.path())),
                          good(readFile(folder_ / "whole" / entry.path().filename().string())));
            }
            if (kills > 400) break;  // too slow a machine for what is left
            if (kills >= 50 && !ended)
                ended = zledge("stamp r.json --out " + out + " in --resume").status == 0;
        }
        for (const auto& entry : fs::directory_iterator(folder_ / "whole"))
            if (entry.path().extension() == ".jpg" || entry.path().extension() == ".png") {
                EXPECT_TRUE(fs::exists(folder_ / out / entry.path().filename().string()));
            }
        EXPECT_FALSE(fs::exists(folder_ / out / "stamp-run.journal"));
    }
    EXPECT_GE(kills, 50);
}

}  // namespace
}  // namespace zl
