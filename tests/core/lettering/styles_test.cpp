// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/fonts.h"
#include "lettering/lettering.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(Lettering, CapsTrackingAndStackingChangeWhatIsSet) {
    LetteringLayer letters;
    letters.text = "abc é";
    letters.size = 50;
    const double plain = good(measure(letters)).block.width;
    letters.tracking = 200;  // a fifth of 50 px between each of five letters
    EXPECT_NEAR(good(measure(letters)).block.width, plain + 4 * 10, 1);
    letters.tracking = 0;
    letters.caps = true;
    EXPECT_EQ(shownText(letters), "ABC É");
    letters.vertical = true;
    EXPECT_EQ(shownText(letters), "A\nB\nC\n \nÉ");
    EXPECT_GT(good(measure(letters)).block.height, 4 * 50);
    letters.vertical = false;
    letters.size = *sizeForWidth(letters, 600);
    EXPECT_NEAR(good(measure(letters)).block.width, 600, 2);
}

// Names as fonts of the system have them (seen with fc-list).
TEST(Lettering, AStyleLeansAsItsFamilyCallsIt) {
    const std::vector<std::string> nimbus{"Regular", "Italic", "Bold", "Bold Italic"},
        dejaVu{"Regular", "Oblique", "Bold", "Bold Oblique"}, none{"Regular", "Bold"};
    EXPECT_EQ(withLean("Regular", true, nimbus), "Italic");
    EXPECT_EQ(withLean("Italic", false, nimbus), "Regular");
    EXPECT_EQ(withLean("Bold", true, dejaVu), "Bold Oblique");
    EXPECT_EQ(withLean("Bold Oblique", false, dejaVu), "Bold");
    EXPECT_EQ(withLean("Bold", true, none), "Bold Italic") << "the upright one is leant";
    EXPECT_EQ(withLean("Bold Italic", true, none), "Bold Italic");
    EXPECT_TRUE(leans("Italic") && leans("Bold Oblique"));
    EXPECT_FALSE(leans("Regular") || leans("ExtraBold"));
}

TEST(Lettering, TellsWhichLettersTheFontLacks) {
    LetteringLayer letters;
    letters.text = "Ab ☃";
    letters.size = 40;
    const auto lacking = lackingGlyphs(letters);
    ASSERT_EQ(lacking.size(), 1u);
    EXPECT_EQ(lacking[0].letter, "☃");
    EXPECT_NE(lacking[0].family, "League Spartan");
    letters.text = "Abc";
    EXPECT_TRUE(lackingGlyphs(letters).empty());
}

}  // namespace
}  // namespace zl
