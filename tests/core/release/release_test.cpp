// SPDX-License-Identifier: GPL-3.0-or-later
#include <set>

#include "base/json.h"
#include "core/support/released.h"
#include "demo/demo_kit.h"
#include "picture/decode.h"
#include "rehearsal/host.h"
#include "release/release.h"
#include "release/table.h"
#include "support/demo_files.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

Result<Released> releaseOf(const Kit& kit, const Path& folder, Replace replace = Replace::no) {
    InkStore store;
    return releasePiece(kit.pieces[0], kit, test::brief(kit.pieces[0].brief), store, folder,
                        replace);
}

TEST(Release, WritesWhatWasShownAndAReceiptThatIsTrue) {
    const test::Folder folder;
    const Kit kit = thumbnail();
    const Released released = good(releaseOf(kit, folder.path()));
    const Bytes bytes = good(readFile(released.file));
    const Json receipt =
        good(parseJson(good(readFile(folder / "made-for-a-test.receipt.json")), "receipt"));
    EXPECT_EQ(receipt["piece"], "p");
    EXPECT_EQ(receipt["brief"], "video-thumbnail");
    EXPECT_EQ(receipt["file"], "made-for-a-test.png");
    EXPECT_EQ(receipt["bytes"], bytes.size());
    EXPECT_EQ(receipt["sha256"], sha256(bytes));
    EXPECT_EQ(receipt["content"], "image/png");
    EXPECT_EQ(receipt["width"], 1280);
    EXPECT_EQ(receipt["limit"], 2'000'000);
    const auto forThis = [](const ReadingRow& row) {
        return row.briefs == ForBriefs::all || row.briefs == ForBriefs::opaque ||
               row.briefs == ForBriefs::ofVideos;
    };
    EXPECT_EQ(static_cast<std::ptrdiff_t>(receipt["readings"].size()),
              std::count_if(allReadings().begin(), allReadings().end(), forThis));
    InkStore store;
    const Straight8 shown = good(render({kit.pieces[0], kit}, store));
    const auto written = good(decode(bytes, "x")).pixels;
    EXPECT_TRUE(
        std::equal(shown.pixels().begin(), shown.pixels().end(), written->pixels().begin()));
}

TEST(Release, DoesNotReplaceUnasked) {
    const test::Folder folder;
    good(releaseOf(thumbnail(), folder.path()));
    const auto again = releaseOf(thumbnail(), folder.path());
    ASSERT_FALSE(again);
    EXPECT_EQ(again.error().code, Code::unwritable);
    EXPECT_TRUE(releaseOf(thumbnail(), folder.path(), Replace::yes));
    EXPECT_FALSE(releaseOf(thumbnail(), folder / "missing"));
}

TEST(Release, WritesNothingThatBreaksItsLimit) {
    const test::Folder folder;
    Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                test::noisy({1280, 720}), {0, 0, 1280, 720});
    Piece piece = kit.pieces[0];
    piece.release.format = FormatChoice::png;
    kit = good(withChangedPiece(kit, piece));
    const auto result = releaseOf(kit, folder.path());
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().code, Code::limitNotMet);
    EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
}

TEST(Release, StopsWhenItIsAskedTo) {
    const test::Folder folder;
    const Kit kit = thumbnail();
    InkStore store;
    std::stop_source stop;
    stop.request_stop();
    const auto result = releasePiece(kit.pieces[0], kit, test::brief("video-thumbnail"), store,
                                     folder.path(), Replace::no, stop.get_token());
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().code, Code::cancelled);
    EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
}

TEST(Table, EachAcceptedFormatHasItsRowAndTheBestIsMarked) {
    const Straight8 frame = test::textured({320, 180}, 40);
    Brief brief = test::brief("video-thumbnail");
    std::vector<std::size_t> told;
    auto rows = good(releaseTable(frame, brief, {}, {},
                                  [&](std::size_t i, const TableRow&) { told.push_back(i); }));
    ASSERT_EQ(rows.size(), 6u)
        << "PNG in three ways, JPEG in two samplings, GIF; no WebP, which the brief does not take";
    EXPECT_EQ(std::set(told.begin(), told.end()), (std::set<std::size_t>{0, 1, 2, 3, 4, 5}))
        << "each row is told";
    EXPECT_TRUE(rows[0].best) << "exact and within the limit";
    EXPECT_EQ(rows[0].why.id, "table.exact");
    for (const TableRow& row : rows) {
        ASSERT_TRUE(row.file) << nameOf(row.encoding);
        EXPECT_EQ(row.bytes, static_cast<long long>(row.file->size()));
        EXPECT_EQ(row.difference == Difference{}, row.encoding.exact()) << nameOf(row.encoding);
        EXPECT_EQ(good(decode(*row.file, "row")).facts.size, frame.size());
        EXPECT_EQ(row.alpha, AlphaOutcome::nothingSeeThrough);
    }
    EXPECT_GT(rows[3].difference.ssim, rows[4].difference.ssim)
        << "full chroma is nearer than half";
    // Too tight for the exact one: the nearest of those that fit, and no row lies about fitting.
    brief.limit = rows[0].bytes - 1;
    rows = good(releaseTable(frame, brief, {}));
    const TableRow* best = nullptr;
    for (const TableRow& row : rows) {
        EXPECT_EQ(row.fits, row.bytes <= *brief.limit) << nameOf(row.encoding);
        if (row.best) best = &row;
    }
    ASSERT_TRUE(best);
    for (const TableRow& row : rows)
        if (row.fits) {
            EXPECT_LE(row.difference.ssim, best->difference.ssim) << nameOf(row.encoding);
        }
    EXPECT_EQ(best->encoding.format, Content::jpeg);
    EXPECT_EQ(best->why.id, "table.jpegs-job") << "grain is a JPEG's job, and it says so";
}

TEST(Table, TellsWhatBecomesOfAlphaAndCanBeStopped) {
    Straight8 glass =
        test::painted({64, 64}, [](int x, int y) { return packed(200, 30, 30, (x * y) % 256); });
    const Brief& brief = test::brief("corner-mark");
    auto rows = good(releaseTable(glass, brief, {}));
    for (const TableRow& row : rows) {
        const bool png = row.encoding.format == Content::png;
        EXPECT_EQ(row.alpha, png ? AlphaOutcome::kept : AlphaOutcome::lost) << nameOf(row.encoding);
        EXPECT_EQ(row.file != nullptr, png) << nameOf(row.encoding);
        if (!png) {
            EXPECT_EQ(row.why.id, "table.wants-matte");
        }
    }
    rows = good(releaseTable(glass, brief, Colour{255, 255, 255, 255}));
    for (const TableRow& row : rows) EXPECT_TRUE(row.file) << nameOf(row.encoding);
    // Nothing or all: GIF holds that.
    glass =
        test::painted({64, 64}, [](int x, int) { return x < 32 ? packed(200, 30, 30, 255) : 0u; });
    for (const TableRow& row : good(releaseTable(glass, brief, {})))
        if (row.encoding.format == Content::gif) {
            EXPECT_EQ(row.alpha, AlphaOutcome::kept);
        }
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(releaseTable(glass, brief, {}, stop.get_token()).error().code, Code::cancelled);
}

TEST(Demo, GoodPiecesPassAndFaultyOnesFail) {
    const demo::DemoKit& made = test::madeDemo();
    InkStore store;
    std::map<std::string, Verdict> verdicts;
    for (const Piece& piece : made.kit.pieces)
        verdicts[piece.id] = worstOf(
            good(readPiece({piece, made.kit}, test::brief(piece.brief), store, Weighing::exact))
                .readings);
    EXPECT_EQ(verdicts, (std::map<std::string, Verdict>{{"thumbnail", Verdict::pass},
                                                        {"thumbnail-first-try", Verdict::fail},
                                                        {"corner-mark", Verdict::pass},
                                                        {"corner-mark-old", Verdict::fail},
                                                        {"corner-mark-on-white", Verdict::fail},
                                                        {"overlay", Verdict::pass},
                                                        {"overlay-crowded", Verdict::fail},
                                                        {"card", Verdict::pass},
                                                        {"cat-thumbnail", Verdict::pass},
                                                        {"cat-first-try", Verdict::fail},
                                                        {"moving-card", Verdict::pass},
                                                        {"film-with-mark", Verdict::pass},
                                                        {"banner", Verdict::pass},
                                                        {"banner-wide", Verdict::fail},
                                                        {"header", Verdict::pass},
                                                        {"header-tangled", Verdict::fail},
                                                        {"page-background", Verdict::pass}}));
}

}  // namespace
}  // namespace zl
