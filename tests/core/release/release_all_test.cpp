// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/file.h"
#include "core/support/demo.h"
#include "edit/edits.h"
#include "release/release.h"
#include "support/support.h"

namespace zl {
namespace {

using test::demoKit;
using test::good;
using test::namesIn;

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

}  // namespace
}  // namespace zl
