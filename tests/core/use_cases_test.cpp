// SPDX-License-Identifier: GPL-3.0-or-later
// What window and command line both do: mend all, release all, write a set of files.
#include "base/file.h"
#include "demo/demo_kit.h"
#include "edit/edits.h"
#include "mend/mend_all.h"
#include "release/release.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

const Kit& demoKit() {
    static const Kit kit = good(demo::makeDemoKit()).kit;
    return kit;
}

std::set<std::string> namesIn(const Path& folder) {
    std::set<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        names.insert(entry.path().filename().string());
    return names;
}

TEST(WriteFiles, AllOrNoneAndWhatStoodThereStands) {
    const test::Folder folder;
    const Bytes one = test::bytesOf("one"), two = test::bytesOf("two"), old = test::bytesOf("old");
    ASSERT_TRUE(writeFile(folder / "b", old, Replace::no));
    std::filesystem::create_directory(folder / "c");  // nothing can take its name
    const std::vector<FileToWrite> set{
        {folder / "a", one}, {folder / "b", two}, {folder / "c", one}};
    const auto refused = writeFiles(set, Replace::yes);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().what.find("it is a folder"), std::string::npos);
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"b", "c"}));
    EXPECT_EQ(good(readFile(folder / "b")), old);

    EXPECT_FALSE(writeFiles(std::span(set).first(2), Replace::no)) << "b stands there";
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"b", "c"}));

    ASSERT_TRUE(writeFiles(std::span(set).first(2), Replace::yes));
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"a", "b", "c"}));
    EXPECT_EQ(good(readFile(folder / "b")), two);
    EXPECT_FALSE(writeFiles(std::vector<FileToWrite>{{folder / "no" / "x", one}}, Replace::no));
}

TEST(ReleaseAll, APageThatCannotBeWrittenKeepsThePictureBack) {
    const test::Folder folder;
    const Piece* linked = nullptr;
    for (const Piece& piece : demoKit().pieces)
        if (!linked && !piece.links.empty() && !piece.slices.empty()) linked = &piece;
    ASSERT_TRUE(linked);
    InkStore store;
    const ReleaseOrder order{{linked->id}, folder.path(), Replace::yes};
    const auto first = releaseAll(order, demoKit(), test::briefs(), store);
    ASSERT_EQ(first.size(), 1u);
    ASSERT_TRUE(first[0].released) << first[0].released.error().sentence();
    const std::set<std::string> names = namesIn(folder.path());
    const Path page = first[0].released->beside.back();
    std::filesystem::remove_all(folder.path());
    std::filesystem::create_directories(page);  // a folder of the page's name
    const auto second = releaseAll(order, demoKit(), test::briefs(), store);
    ASSERT_FALSE(second[0].released);
    EXPECT_EQ(namesIn(folder.path()).size(), 1u) << "neither picture nor receipt";
    EXPECT_GT(names.size(), 2u);
}

TEST(ReleaseAll, GoesOnAfterARefusalAndStopsWhenItIsTold) {
    const test::Folder folder;
    Kit kit = demoKit();
    std::vector<std::string> ids;
    for (const Piece& piece : demoKit().pieces)
        if (ids.size() < 3 && piece.variantOf.empty()) ids.push_back(piece.id);
    ASSERT_EQ(ids.size(), 3u);
    Piece lost = *kit.piece(ids[1]);
    lost.brief = "no-such-brief";
    kit = good(withChangedPiece(kit, lost));
    InkStore store;
    const ReleaseOrder order{ids, folder.path()};
    std::vector<std::string> heard;
    const auto all = releaseAll(order, kit, test::briefs(), store, {}, {},
                                [&](const ReleaseOutcome& one) { heard.push_back(one.piece); });
    ASSERT_EQ(all.size(), 3u);
    EXPECT_EQ(heard, ids);
    EXPECT_TRUE(all[0].released);
    EXPECT_EQ(all[1].released.error().code, Code::unreadable);
    EXPECT_TRUE(all[2].released);
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(releaseAll(order, kit, test::briefs(), store, stop.get_token()).size(), 1u);
}

// Every faulty piece of the demo is mended by what it is offered, but for what asks a question.
TEST(MendAll, LeavesNothingToMendThatAsksNoQuestion) {
    InkStore store;
    int mended = 0;
    for (const Piece& piece : demoKit().pieces) {
        if (!piece.variantOf.empty() || piece.frame.count() > 1'000'000) continue;  // in good time
        const auto done = mendAll(everyMend, demoKit(), piece.id, test::briefs(), store);
        ASSERT_TRUE(done) << piece.id << ": " << done.error().sentence();
        mended += !done->log.done.empty();
        EXPECT_EQ(done->kit == demoKit(), done->log.done.empty()) << piece.id;
        const auto again = good(mendAll(everyMend, done->kit, piece.id, test::briefs(), store));
        EXPECT_LE(again.log.done.size(), done->log.done.size()) << piece.id;
    }
    EXPECT_GT(mended, 0);
}

TEST(MendAll, ANamedMendThatIsNotOfferedChangesNothing) {
    InkStore store;
    const std::string id = std::as_const(demoKit()).pieces[0].id;
    const auto done = good(mendAll("crop-bars", demoKit(), id, test::briefs(), store));
    EXPECT_TRUE(done.log.done.empty());
    EXPECT_TRUE(done.kit == demoKit());
    EXPECT_FALSE(mendAll(everyMend, demoKit(), "no-such-piece", test::briefs(), store));
}

TEST(MendAll, OfAFileKeepsTheLogOfWhatHelpedAndWhatDidNot) {
    const Brief& brief = test::brief("video-thumbnail");
    const Bytes wide = test::png(test::noisy({1280, 720}));
    const auto done = good(mendAllOfFile(everyMend, wide, "in.png", "out.png", brief));
    EXPECT_FALSE(done.log.done.empty());
    EXPECT_EQ(done.read.bytes, static_cast<long long>(done.bytes.size()));
    for (const LeftOut& one : done.log.leftOut) EXPECT_FALSE(one.why.what.empty()) << one.mend;
    const auto forPieces = mendAllOfFile("into-zone", wide, "in.png", "out.png", brief);
    ASSERT_FALSE(forPieces);
    EXPECT_EQ(forPieces.error().code, Code::badUsage);
}

}  // namespace
}  // namespace zl
