// SPDX-License-Identifier: GPL-3.0-or-later
#include <thread>

#include "lettering/lettering.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;
using test::one;

TEST(Fonts, AFontOfTheKitsOwnIsUsedAndGarbageIsRefused) {
    Bytes font = good(readFile(good(dataFolder()) / "fonts/ZincSans-Regular.otf"));
    // Another family's name of the same length, in UTF-16 as the name table holds it (OpenType 1.9,
    // `name`).
    const std::string from("\0Z\0i\0n\0c", 8), to("\0Q\0u\0a\0y", 8);
    std::string text(font.begin(), font.end());
    for (std::size_t at = text.find(from); at != std::string::npos; at = text.find(from, at + 8))
        text.replace(at, 8, to);
    for (std::size_t at = text.find("Zinc Sans"); at != std::string::npos;
         at = text.find("Zinc Sans", at))
        text.replace(at, 4, "Quay");
    const Asset mine = makeAsset(Bytes(text.begin(), text.end()), "quay.otf");
    LetteringLayer letters;
    letters.family = "Quay Sans";
    letters.style = "Regular";
    EXPECT_NE(familyUsed(letters), "Quay Sans");
    EXPECT_EQ(good(familiesIn(mine)).front(), "Quay Sans");
    EXPECT_NE(familyUsed(letters), "Quay Sans") << "looking at a font changes nothing";
    const Kit with = withFont({}, mine), without;
    useFontsOf(with);
    const unsigned own = fontsInUse();
    EXPECT_EQ(familyUsed(letters), "Quay Sans");
    // The other kit does not lend it, in this thread or in another, and undo takes it away.
    useFontsOf(without);
    EXPECT_NE(familyUsed(letters), "Quay Sans");
    EXPECT_NE(fontsInUse(), own);
    std::thread([&] {
        EXPECT_NE(familyUsed(letters), "Quay Sans");
        useFontsOf(with);
        EXPECT_EQ(familyUsed(letters), "Quay Sans");
        EXPECT_EQ(fontsInUse(), own) << "the same fonts are the same set, for inks that are kept";
    }).join();
    EXPECT_NE(familyUsed(letters), "Quay Sans") << "another thread's fonts are not this one's";
    EXPECT_EQ(familiesIn(makeAsset(test::bytesOf("no font"), "no.otf")).error().code,
              Code::unreadable);
}

}  // namespace
}  // namespace zl
