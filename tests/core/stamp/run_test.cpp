// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/run.h"

#include "base/json.h"
#include "stamp/run_record.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
namespace fs = std::filesystem;

class Hand : public RunHand {
  public:
    void done(const RunEntry&, std::size_t, std::size_t) override {
        if (++count == stopAfter) stop.request_stop();
    }
    int count = 0, stopAfter = -1;
    std::stop_source stop;
};

class RunTest : public testing::Test {
  protected:
    RunTest() {
        put("mark.png", test::png(test::painted({100, 40}, [](int x, int) {
                return packed(255, 255, 255, x < 50 ? 255 : 128);
            })));
        fs::create_directory(folder_ / "in");
        fs::create_directory(folder_ / "in/deep");
        put("in/a.jpg", test::jpeg(test::textured({640, 400})));
        put("in/b.PNG", test::png(test::textured({300, 500})));
        put("in/c.jpg", test::jpeg(test::textured({500, 500})));
        put("in/deep/a.jpg", test::jpeg(test::textured({200, 300})));
        put("in/notes.txt", test::bytesOf("no photograph"));
        stamp_.what = StampPicture{"mark.png"};
        asked_.inputs = {folder_ / "in"};
        asked_.out = folder_ / "out";
    }
    void put(const std::string& name, const Bytes& bytes) {
        ASSERT_TRUE(writeFile(folder_ / name, bytes, Replace::yes));
    }
    Bytes bytesOf(const std::string& name) { return good(readFile(folder_ / name)); }
    Result<RunOutcome> tryRun() {
        const auto jobs = plannedRun(asked_);
        if (!jobs) return tl::unexpected(jobs.error());
        return run(stamp_, {folder_.path(), nullptr}, asked_, *jobs, hand_, hand_.stop.get_token());
    }

    test::Folder folder_;
    Stamp stamp_;
    RunAsked asked_;
    Hand hand_;
};

TEST_F(RunTest, MarksAFolderAndLeavesTheOriginals) {
    const Bytes before = bytesOf("in/a.jpg");
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::done), 3);
    EXPECT_EQ(hand_.count, 3);
    EXPECT_EQ(bytesOf("in/a.jpg"), before);
    for (const char* name : {"out/a.jpg", "out/b.PNG", "out/c.jpg"})
        EXPECT_TRUE(fs::exists(folder_ / name)) << name;
    EXPECT_FALSE(fs::exists(folder_ / "out" / runJournalName));
    const RunEntry& first = outcome.entries[0];
    EXPECT_TRUE(first.keptOutside);
    EXPECT_GT(first.changed, 0);
    EXPECT_LT(first.changed, first.blocks / 4);
    EXPECT_EQ(first.sha256, sha256(bytesOf("out/a.jpg")));
    // 30 % of 400 px, 4 % from both edges.
    EXPECT_EQ(first.mark, (PixelRect{504, 336, 624, 384}));
    const std::string page = test::textOf(good(readFile(outcome.report)));
    EXPECT_NE(page.find("a.jpg"), std::string::npos);
    EXPECT_NE(page.find("data:image/jpeg;base64,"), std::string::npos);
    EXPECT_EQ(page.find("http"), std::string::npos) << "a report loads nothing";
}

TEST_F(RunTest, NamesAreNumberedWhereTheyMeet) {
    asked_.recursive = true;
    asked_.name = "{name}-marked";
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::done), 4);
    EXPECT_TRUE(fs::exists(folder_ / "out/a-marked.jpg"));
    EXPECT_TRUE(fs::exists(folder_ / "out/a-marked-2.jpg"));
    asked_.out = folder_ / "counted";
    asked_.name = "{n}";
    good(tryRun());
    EXPECT_TRUE(fs::exists(folder_ / "counted/4.jpg"));
}

TEST_F(RunTest, WhatStandsThereIsNotReplaced) {
    fs::create_directory(folder_ / "out");
    put("out/a.jpg", test::bytesOf("somebody's"));
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::failed), 1);
    EXPECT_EQ(test::textOf(bytesOf("out/a.jpg")), "somebody's");
    EXPECT_NE(outcome.entries[0].error.find("a.jpg"), std::string::npos);
}

TEST_F(RunTest, OneBadPhotographStopsNothing) {
    put("in/aa-broken.jpg", test::bytesOf("this is no picture"));
    Bytes half = bytesOf("in/a.jpg");
    half.resize(half.size() / 2);
    put("in/ab-half.jpg", half);
    put("in/ac-dot.png", test::png(test::textured({1, 1})));
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::done), 3);
    EXPECT_EQ(outcome.count(JobState::failed), 3);
    for (const RunEntry& entry : outcome.entries)
        if (entry.state == JobState::failed) {
            EXPECT_NE(entry.error.find('.'), std::string::npos);
            EXPECT_FALSE(fs::exists(folder_ / "out" / entry.target));
        }
}

TEST_F(RunTest, TheOutputMayNotLieInAnInput) {
    for (const char* out : {"in", "in/marked", "in/deep/../x"}) {
        asked_.out = folder_ / out;
        const auto jobs = plannedRun(asked_);
        ASSERT_FALSE(jobs) << out;
        EXPECT_EQ(jobs.error().code, Code::badUsage) << out;
    }
    asked_.out = folder_ / "in-marked";
    EXPECT_TRUE(plannedRun(asked_));
}

TEST_F(RunTest, AnInputIsNeverWrittenOver) {
    asked_.inputs = {folder_ / "in/a.jpg"};
    asked_.out = folder_ / "in";
    asked_.replace = true;
    const Bytes before = bytesOf("in/a.jpg");
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::failed), 1);
    EXPECT_EQ(bytesOf("in/a.jpg"), before);
}

TEST_F(RunTest, AStoppedRunGoesOnAndEndsTheSame) {
    asked_.recursive = true;
    hand_.stopAfter = 2;
    const auto stopped = tryRun();
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, Code::cancelled);
    EXPECT_TRUE(isUnfinished(folder_ / "out"));
    hand_.stop = {};
    hand_.stopAfter = -1;
    const auto refused = tryRun();
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, Code::unwritable);
    asked_.resume = true;
    stamp_.opacity = 0.5;
    EXPECT_FALSE(tryRun()) << "another stamp may not go on with it";
    stamp_.opacity = 1;
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::done), 4);
    EXPECT_EQ(std::count_if(outcome.entries.begin(), outcome.entries.end(),
                            [](const RunEntry& e) { return e.before; }),
              2);
    asked_.resume = false;
    asked_.out = folder_ / "whole";
    good(tryRun());
    for (const RunEntry& entry : outcome.entries)
        EXPECT_EQ(bytesOf("out/" + entry.target), bytesOf("whole/" + entry.target));
}

// A run that met somebody's file and was then stopped does not take it for its own.
TEST_F(RunTest, TakenUpAgainItReplacesNothingThatIsNotItsOwn) {
    fs::create_directory(folder_ / "out");
    put("out/a.jpg", test::bytesOf("somebody's"));
    hand_.stopAfter = 1;
    ASSERT_FALSE(tryRun());
    hand_.stop = {};
    hand_.stopAfter = -1;
    asked_.resume = true;
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::failed), 1);
    EXPECT_EQ(test::textOf(bytesOf("out/a.jpg")), "somebody's");
}

TEST_F(RunTest, TheOutputMayHoldTheInput) {
    asked_.out = folder_.path();
    EXPECT_TRUE(plannedRun(asked_));
}

TEST_F(RunTest, ARunIsUndoneAsFarAsItIsUnchanged) {
    const RunOutcome outcome = good(tryRun());
    put("out/b.PNG", test::bytesOf("changed since"));
    put("out/mine.txt", test::bytesOf("mine"));
    const Undone undone = good(undoneRun(outcome.receipt));
    EXPECT_EQ(undone.removed.size(), 2u);
    EXPECT_EQ(undone.changed.size(), 1u);
    EXPECT_TRUE(fs::exists(folder_ / "out/b.PNG"));
    EXPECT_TRUE(fs::exists(folder_ / "out/mine.txt"));
    EXPECT_FALSE(fs::exists(folder_ / "out/a.jpg"));
    EXPECT_TRUE(fs::exists(outcome.receipt)) << "what stays can be undone later";
    fs::remove(folder_ / "out/b.PNG");
    good(undoneRun(outcome.receipt));
    EXPECT_FALSE(fs::exists(outcome.receipt));
    EXPECT_FALSE(undoneRun(folder_ / "in/notes.txt"));
}

TEST_F(RunTest, AChoiceHoldsForOnePhotograph) {
    asked_.choices[folder_ / "in/a.jpg"].leftOut = true;
    StampPlacing own;
    own.at = StampAt::topLeft;
    asked_.choices[folder_ / "in/c.jpg"].placing = own;
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.count(JobState::leftOut), 1);
    EXPECT_FALSE(fs::exists(folder_ / "out/a.jpg"));
    EXPECT_EQ(outcome.entries[2].at, "top-left");
}

TEST_F(RunTest, CleanCopiesGoToTheirOwnFolder) {
    asked_.clean = folder_ / "clean";
    asked_.photo.keep = KeepTags::all;
    good(tryRun());
    const Picture clean = good(decode(bytesOf("clean/a.jpg"), "clean")),
                  original = good(decode(bytesOf("in/a.jpg"), "original"));
    EXPECT_TRUE(std::equal(clean.pixels->pixels().begin(), clean.pixels->pixels().end(),
                           original.pixels->pixels().begin()));
}

TEST_F(RunTest, SmallerOnesHaveTheMarkAtTheirOwnSize) {
    asked_.photo.within = PixelSize{320, 0};
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.entries[0].size, (PixelSize{320, 200}));
    EXPECT_EQ(outcome.entries[0].mark.width(), 60);
    EXPECT_FALSE(outcome.entries[0].keptOutside);
    EXPECT_EQ(outcome.entries[1].size, (PixelSize{300, 500})) << "never larger";
}

TEST_F(RunTest, TheTwinIsTakenWhereItIsSeenBetter) {
    put("dark.png", test::png(test::painted({100, 40}, [](int, int) { return 0xFF101010u; })));
    stamp_.twin = StampPicture{"dark.png"};
    put("in/a.jpg", test::jpeg(test::painted({400, 300}, [](int, int) { return 0xFFF4F4F4u; })));
    put("in/c.jpg", test::jpeg(test::painted({400, 300}, [](int, int) { return 0xFF202020u; })));
    const RunOutcome outcome = good(tryRun());
    EXPECT_TRUE(outcome.entries[0].twin) << "dark on a light photograph";
    EXPECT_FALSE(outcome.entries[2].twin) << "light on a dark one";
    EXPECT_EQ(outcome.entries[0].verdict, Verdict::pass);
}

TEST_F(RunTest, TheCalmCornerIsTaken) {
    put("in/a.jpg", test::jpeg(test::painted({400, 300}, [](int x, int y) {
            const bool busy = x > 200;
            return busy && (x / 3 + y / 3) % 2 ? 0xFFFFFFFFu : 0xFF303030u;
        })));
    stamp_.corners = {StampAt::bottomRight, StampAt::bottomLeft};
    const RunOutcome outcome = good(tryRun());
    EXPECT_EQ(outcome.entries[0].at, "bottom-left");
}

TEST_F(RunTest, AMarkThatCannotBeDrawnIsSaidBeforeAnythingIsWritten) {
    stamp_.what = StampPicture{"none.png"};
    const auto outcome = tryRun();
    ASSERT_FALSE(outcome);
    EXPECT_EQ(outcome.error().code, Code::unreadable);
    EXPECT_TRUE(fs::is_empty(folder_ / "out"));
}

}  // namespace
}  // namespace zl
