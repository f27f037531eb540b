// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "core/support/demo.h"
#include "report/report.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(Report, HoldsEveryPieceAndLoadsNothing) {
    Kit kit = demoKit();
    kit.pieces.eraseIf(
        [](const Piece& p) { return p.id != "corner-mark" && p.id != "header-tangled"; });
    kit.pieces[0].title = "<script>alert(1)</script>";
    InkStore store;
    const auto report = reportOf(kit, briefs(), store);
    ASSERT_TRUE(report);
    EXPECT_EQ(report->worst, Verdict::fail);
    const std::string& html = report->html;
    EXPECT_EQ(html.find("<script"), std::string::npos);
    for (const char* outside : {"src=\"http", "href=\"http", "url("})
        EXPECT_EQ(html.find(outside), std::string::npos) << outside;
    EXPECT_NE(html.find("Page header, tangled"), std::string::npos);
    EXPECT_NE(html.find("data:image/png;base64,"), std::string::npos);
    for (const char* reading : {"Links", "Zones", "Frame", "Weight"})
        EXPECT_NE(html.find(std::string("<td>") + reading), std::string::npos) << reading;
}

TEST(Report, APieceThatCannotBeDrawnIsToldInItsPlace) {
    Kit kit = withAsset(
        withPicture(kitWith("corner-mark", {150, 150}), textured({150, 150}), {0, 0, 150, 150}),
        makeAsset(Bytes{1, 2, 3}, "broken.png"));
    Piece broken = kit.pieces[0];
    broken.id = "broken";
    broken.title = "The broken one";
    broken.layers[0].picture()->source = makeAsset(Bytes{1, 2, 3}, "broken.png").sha256;
    kit = good(withPiece(kit, broken));
    InkStore store;
    const auto report = reportOf(kit, briefs(), store);
    ASSERT_TRUE(report);
    EXPECT_EQ(report->worst, Verdict::fail);
    EXPECT_NE(report->html.find("The broken one"), std::string::npos);
    EXPECT_NE(report->html.find("broken.png"), std::string::npos) << "which picture it is";
    EXPECT_NE(report->html.find("Made for a test"), std::string::npos);
}

}  // namespace
}  // namespace zl::test
