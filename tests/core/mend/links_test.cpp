// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>
#include <rapidcheck.h>

#include "mend/mend.h"
#include "support/support.h"

namespace zl::test {
namespace {

Piece headed(std::vector<LinkRegion> links) {
    Piece piece{"head", "Head", "page-header", {970, 150}, {"head"}, {}};
    piece.links = std::move(links);
    return piece;
}

Reading linksOf(const Piece& piece) {
    Subject subject;
    const Straight8 pixels(piece.frame);
    subject.brief = briefs().find("page-header");
    subject.pixels = &pixels;
    subject.piece = &piece;
    return measureLinks(subject);
}

TEST(Links, EachFaultIsNamedAndPutRight) {
    EXPECT_EQ(linksOf(headed({})).verdict, Verdict::notMeasured);
    EXPECT_EQ(linksOf(headed({{{10, 10, 34, 34}, "https://example.org", "a"}})).verdict,
              Verdict::pass);  // 24 x 24 just can be hit
    const std::pair<const char*, std::vector<LinkRegion>> faults[] = {
        {"links.small", {{{10, 10, 33, 40}, "https://example.org", "a"}}},
        {"links.outside", {{{950, 10, 990, 50}, "https://example.org", "a"}}},
        {"links.overlap",
         {{{10, 10, 60, 60}, "https://example.org", "a"},
          {{50, 50, 90, 90}, "https://example.org", "b"}}},
        {"links.address", {{{10, 10, 60, 60}, "example.org/films", "a"}}}};
    for (const auto& [id, links] : faults) {
        const Piece piece = headed(links);
        const Reading reading = linksOf(piece);
        EXPECT_EQ(reading.verdict, Verdict::fail) << id;
        ASSERT_EQ(reading.findings.size(), 1u) << id;
        EXPECT_EQ(reading.findings.front().says.id, id);
        ASSERT_TRUE(reading.findings.front().rect) << id;
        Kit kit;
        kit.pieces = {piece};
        InkStore store;
        const auto right =
            mended("put-links-right", kit, "head", *briefs().find("page-header"), store);
        ASSERT_TRUE(right) << id;
        EXPECT_EQ(linksOf(right->pieces.front()).verdict, Verdict::pass) << id;
    }
    // A region that only touches the next is none that overlaps it.
    EXPECT_EQ(linksOf(headed({{{10, 10, 60, 60}, "https://example.org", "a"},
                              {{60, 10, 90, 60}, "https://example.org", "b"}}))
                  .verdict,
              Verdict::pass);
    // Script is never mended into an address.
    const Piece script = headed({{{10, 10, 60, 60}, "javascript:alert(1)", "a"}});
    Kit kit;
    kit.pieces = {script};
    InkStore store;
    EXPECT_FALSE(mended("put-links-right", kit, "head", *briefs().find("page-header"), store));
}

TEST(Links, MendingPutsAnyTangleApart) {
    rc::check("regions end inside, apart and large enough", [] {
        std::vector<LinkRegion> links;
        const int n = *rc::gen::inRange(1, 5);
        for (int i = 0; i < n; ++i) {
            const int x = *rc::gen::inRange(-60, 960), y = *rc::gen::inRange(-30, 140);
            links.push_back({{x, y, x + *rc::gen::inRange(2, 160), y + *rc::gen::inRange(2, 60)},
                             "https://example.org",
                             std::to_string(i)});
        }
        Kit kit;
        kit.pieces = {headed(links)};
        if (linksOf(kit.pieces.front()).verdict == Verdict::pass) return;
        InkStore store;
        const auto right =
            mended("put-links-right", kit, "head", *briefs().find("page-header"), store);
        RC_ASSERT(right.has_value());
        RC_ASSERT(linksOf(right->pieces.front()).verdict == Verdict::pass);
        RC_ASSERT(right->pieces.front().links.size() == links.size());
    });
}

}  // namespace
}  // namespace zl::test
