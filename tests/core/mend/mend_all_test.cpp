// SPDX-License-Identifier: GPL-3.0-or-later
// What window and command line both do: mend all, release all, write a set of files.
#include "mend/mend_all.h"
#include "core/support/demo.h"
#include "support/support.h"

namespace zl {
namespace {

using test::demoKit;
using test::good;

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
