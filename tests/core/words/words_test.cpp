// SPDX-License-Identifier: GPL-3.0-or-later
#include "words/words.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(Words, SayANumberOnlyWhereTheTablePutsOne) {
    EXPECT_EQ(english({"frame.multiple", {2560LL, 1440LL, 2LL}}),
              "2560 × 1440 px, 2 times the brief's frame.");
    EXPECT_EQ(english({"no.such", {}}), "no.such");
    EXPECT_EQ(english({}), "");
    EXPECT_EQ(weightWords(1'118'204), "1.12 MB");
    EXPECT_EQ(weightWords(4'312), "4.3 kB");
    EXPECT_EQ(weightWords(312), "312 bytes");
}

}  // namespace
}  // namespace zl
