// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/lettering.h"
#include "finish/finish.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

RealRect inkBox(const Ink& ink) {
    PixelRect box{1 << 20, 1 << 20, -(1 << 20), -(1 << 20)};
    for (int y = 0; y < ink.box.height(); ++y)
        for (int x = 0; x < ink.box.width(); ++x)
            if (ink.sixteen->row(3, y)[x] > 0x4000)
                box = {std::min(box.left, x), std::min(box.top, y), std::max(box.right, x + 1),
                       std::max(box.bottom, y + 1)};
    return {static_cast<double>(box.left + ink.box.left),
            static_cast<double>(box.top + ink.box.top), static_cast<double>(box.width()),
            static_cast<double>(box.height())};
}

Ink drawn(const LetteringLayer& letters, const std::vector<Finish>& finishes = {}) {
    const PixelRect all{-5000, -5000, 5000, 5000};
    return finished(good(drawLettering(letters, {}, all)), finishes, all);
}

TEST(Lettering, TheOutlineLiesOutsideTheLetters) {
    LetteringLayer letters;
    letters.text = "HIN";
    letters.size = 120;
    letters.at = {50, 40};
    const RealRect plain = inkBox(drawn(letters));
    const RealRect rimmed = inkBox(drawn(letters, {outlineOf(10, {})}));
    EXPECT_NEAR(plain.x - rimmed.x, 10, 1);
    EXPECT_NEAR(rimmed.right() - plain.right(), 10, 1);
    EXPECT_NEAR(plain.y - rimmed.y, 10, 1);
    EXPECT_NEAR(rimmed.bottom() - plain.bottom(), 10, 1);
}

TEST(Lettering, KeepsItsColoursExactWhereItIsSolid) {
    LetteringLayer letters;
    letters.text = "I";
    letters.size = 200;
    letters.colour = {12, 34, 56, 255};
    const Ink ink = drawn(letters, {outlineOf(12, {200, 100, 0, 255})});
    const RealRect box = inkBox(ink);
    const int midX = static_cast<int>(box.centre().x) - ink.box.left,
              midY = static_cast<int>(box.centre().y) - ink.box.top;
    EXPECT_EQ(ink.sixteen->row(0, midY)[midX], 12 * 257);
    EXPECT_EQ(ink.sixteen->row(2, midY)[midX], 56 * 257);
    const int rimX = static_cast<int>(box.x) + 5 - ink.box.left;
    EXPECT_EQ(ink.sixteen->row(0, midY)[rimX], 200 * 257);
    EXPECT_EQ(ink.sixteen->row(3, midY)[rimX], 65535);
}

TEST(Lettering, LinesAlignAndLeadingParts) {
    LetteringLayer letters;
    letters.text = "WIDE LINE\nI";
    letters.size = 60;
    const double height = good(measure(letters)).block.height;
    letters.leading = 2;
    EXPECT_GT(good(measure(letters)).block.height, height * 1.3);
    letters.leading = 1;
    const auto lastLineLeft = [&](Align align) {
        letters.align = align;
        const Ink ink = drawn(letters);
        int left = 1 << 20;
        for (int y = ink.box.height() * 3 / 4; y < ink.box.height(); ++y)
            for (int x = 0; x < ink.box.width(); ++x)
                if (ink.sixteen->row(3, y)[x] > 0x4000) left = std::min(left, x);
        return left;
    };
    EXPECT_LT(lastLineLeft(Align::left), lastLineLeft(Align::centre));
    EXPECT_LT(lastLineLeft(Align::centre), lastLineLeft(Align::right));
}

TEST(Lettering, EmptyTextDrawsNothingAndBadTextIsRefused) {
    LetteringLayer letters;
    EXPECT_TRUE(drawn(letters).box.empty());
    EXPECT_GT(good(measure(letters)).block.height, 10);
    letters.text = "\xff\xfe";
    EXPECT_FALSE(measure(letters));
    letters.text = "   \n ";
    EXPECT_TRUE(drawn(letters).box.empty());
}

TEST(Lettering, TheShippedFontsAreOfferedFirst) {
    const auto families = fontFamilies();
    ASSERT_GE(families.size(), 2u);
    EXPECT_EQ(families[0].name, "League Spartan");
    EXPECT_EQ(families[1].name, "Zinc Sans");
    EXPECT_NE(std::find(families[0].styles.begin(), families[0].styles.end(), "ExtraBold"),
              families[0].styles.end());
    LetteringLayer letters;
    EXPECT_EQ(familyUsed(letters), "League Spartan");
    letters.family = "No Such Font At All";
    EXPECT_NE(familyUsed(letters), letters.family);
}

}  // namespace
}  // namespace zl
