// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "links/links.h"
#include "support/support.h"

namespace zl::test {
namespace {

TEST(Addresses, OnlyWellFormedHttpLeadsOn) {
    for (const char* good :
         {"https://example.org", "http://example.org/a?b=c&d=1#e", "https://example.org:8080/x",
          "HTTPS://Example.org/", "https://bücher.example/"})
        EXPECT_TRUE(checkAddress(good)) << good;
    for (const char* bad :
         {"", "example.org", "www.example.org/films", "javascript:alert(1)", "data:text/html,x",
          "https://", "https:///x", "https:example.org", "https://a b.org",
          "https://example.org/\"onclick=\"x", "https://example.org/<script>", "ftp://example.org",
          "https://.org", "https://a..b", "https://example.org:99999", "https://example.org:",
          "https://user@example.org", "https://example.org/\n", "example.org:8080/x"})
        EXPECT_FALSE(checkAddress(bad)) << bad;
}

TEST(ImageMap, EscapesWhatStandsInItAndRefusesScript) {
    const auto html =
        imageMap({{{1, 2, 30, 40}, "https://example.org/?a=1&b='2'", "<b>\"Films\" & more</b>"}},
                 {970, 150}, "head.png", "A & B");
    ASSERT_TRUE(html);
    EXPECT_NE(html->find("coords=\"1,2,30,40\""), std::string::npos);
    EXPECT_NE(html->find("https://example.org/?a=1&amp;b=&apos;2&apos;"), std::string::npos);
    EXPECT_NE(html->find("&lt;b&gt;&quot;Films&quot; &amp; more&lt;/b&gt;"), std::string::npos);
    EXPECT_EQ(html->find("<b>"), std::string::npos);
    EXPECT_FALSE(
        imageMap({{{1, 2, 30, 40}, "javascript:alert(1)", "a"}}, {970, 150}, "head.png", "x"));
}

}  // namespace
}  // namespace zl::test
