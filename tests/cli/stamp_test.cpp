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
    EXPECT_TRUE(WIFSIGNALED(status) || WEXITSTATUS(status) == 0) << "it failed by itself";
    return WIFEXITED(status);
}

void putMany(const test::Folder& folder) {
    for (int i = 0; i < 12; ++i)
        put(folder, fmt::format("in/p{:02}.jpg", i),
            test::jpeg(test::textured({240 + 8 * i, 200}, 10 + i)));
}

std::ptrdiff_t countIn(const fs::path& folder) {
    return std::distance(fs::directory_iterator(folder), fs::directory_iterator());
}

// A run that is asked to go on after its end finds that all is done, and writes nothing.
TEST_F(StampCommand, ARunThatEndedIsFoundDone) {
    ASSERT_EQ(zledge("stamp r.json --out out in").status, 0);
    const auto count = countIn(folder_ / "out");
    const Ran again = zledge("stamp r.json --out out in --resume --json");
    ASSERT_EQ(again.status, 0) << again.err;
    EXPECT_EQ(linesOf(again).back()["done"], 2);
    EXPECT_EQ(linesOf(again).back()["receipt"], "out/stamp-run.receipt.json");
    EXPECT_EQ(linesOf(again).back()["report"], "out/stamp-run.html");
    EXPECT_EQ(countIn(folder_ / "out"), count);
    // One that is gone is made again, with the same bytes, so that the receipt stays true.
    fs::remove(folder_ / "out/a.jpg");
    const Ran third = zledge("stamp r.json --out out in --resume --json");
    ASSERT_EQ(third.status, 0) << third.err;
    EXPECT_TRUE(fs::exists(folder_ / "out/a.jpg"));
    EXPECT_EQ(countIn(folder_ / "out"), count);
    // One that somebody changed since is theirs.
    put(folder_, "out/a.jpg", test::bytesOf("mine"));
    EXPECT_EQ(zledge("stamp r.json --out out in --resume").status, 1);
    EXPECT_EQ(test::textOf(good(readFile(folder_ / "out/a.jpg"))), "mine");
    // With another stamp they are somebody's files.
    EXPECT_EQ(zledge("stamp r.json --out out in --resume --quality 50").status, 1);
}

// What a run began is not forgotten where its journal cannot be written again as it is taken up;
// it would take its own files for somebody else's.
TEST_F(StampCommand, AJournalThatCannotBeWrittenAgainStaysAsItWas) {
    putMany(folder_);
    const fs::path journal = folder_ / "out/stamp-run.journal";
    const auto known = [&] {
        return fs::exists(journal) ? test::textOf(good(readFile(journal))) : "";
    };
    for (int wait = 20; known().find("ended") == std::string::npos; wait += 5) {
        ASSERT_LT(wait, 2000);
        fs::remove_all(folder_ / "out");
        killedAfter(folder_, "stamp r.json --out out in", std::chrono::milliseconds(wait));
    }
    const std::string before = known();
    // A bound of the shell's on the size of files stands for a full disk.
    const std::string line = "cd '" + folder_.path().string() +
                             "' && (trap '' XFSZ; ulimit -f 0; '" + test::zledgeProgram() +
                             "' stamp r.json --out out in --resume)";
    EXPECT_NE(::system((line + " >/dev/null 2>&1").c_str()), 0);
    EXPECT_EQ(known(), before);
    const Ran after = zledge("stamp r.json --out out in --resume");
    EXPECT_EQ(after.status, 0) << after.err;
}

// Killed at 50 moments, the run goes on each time and ends with the bytes of one that was left
// alone; at no moment is there half a picture.
TEST_F(StampCommand, KilledAtAnyMomentItGoesOnToTheSameBytes) {
    putMany(folder_);
    const auto start = std::chrono::steady_clock::now();
    ASSERT_EQ(zledge("stamp r.json --out whole in").status, 0);
    // On any machine some of the moments come before its first photograph, and some after its last.
    const auto whole = std::chrono::duration_cast<std::chrono::microseconds>(
        std::chrono::steady_clock::now() - start);
    std::mt19937 random(5);
    int kills = 0, rounds = 0;
    while (kills < 50) {
        const std::string out = fmt::format("out{}", ++rounds);
        for (bool ended = false; !ended;) {
            const auto after = whole * (5 + static_cast<int>(random() % 80)) / 100;
            ended = killedAfter(folder_, "stamp r.json --out " + out + " in --resume", after);
            kills += !ended;
            std::error_code none;
            for (const auto& entry : fs::directory_iterator(folder_ / out, none)) {
                const std::string ending = entry.path().extension().string();
                if (ending != ".jpg" && ending != ".png") continue;
                ASSERT_EQ(good(readFile(entry.path())),
                          good(readFile(folder_ / "whole" / entry.path().filename().string())));
            }
            if (kills < 50 || ended) continue;
            const Ran last = zledge("stamp r.json --out " + out + " in --resume");
            ASSERT_EQ(last.status, 0) << last.err;
            ended = true;
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
