// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "finish/finish.h"
#include "lettering/lettering.h"
#include "render/render.h"
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

TEST(Render, AnUnscaledPictureComesOutUnchanged) {
    const Straight8 picture = test::textured({40, 30});
    Kit kit = test::withPicture(test::kitWith("free-frame", {60, 50}), picture, {7, 9, 40, 30});
    InkStore store;
    const Straight8 frame = good(render({*kit.piece("p"), kit}, store));
    for (int y = 0; y < 50; ++y)
        for (int x = 0; x < 60; ++x) {
            const bool inside = x >= 7 && x < 47 && y >= 9 && y < 39;
            ASSERT_EQ(frame.row(y)[x], inside ? picture.row(y - 9)[x - 7] : 0u);
        }
}

TEST(Render, OnlyTheDamageHasToBeDrawnAgain) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {200, 120}), test::textured({200, 120}),
                                {0, 0, 200, 120});
    kit = test::withPicture(kit, test::textured({30, 20}, 90), {10, 10, 45, 30}, "mark.png");
    kit = test::withLetters(kit, "Hi", 40, {80.5, 30.25});
    InkStore store;
    const auto all = [&](const Kit& k) { return good(render({*k.piece("p"), k}, store)); };
    const auto edits = std::vector<std::function<Result<Kit>(const Kit&)>>{
        [](const Kit& k) {
            return withChangedLayer(k, "p", moved(*k.piece("p")->layer(2), 31, -4));
        },
        [](const Kit& k) {
            return withChangedLayer(k, "p", scaled(*k.piece("p")->layer(3), 1.3, 1.3, {80, 30}));
        },
        [](const Kit& k) {
            Layer l = *k.piece("p")->layer(2);
            l.hidden = true;
            return withChangedLayer(k, "p", l);
        },
        [](const Kit& k) { return withLayerMoved(k, "p", 1, 2); },
        [](const Kit& k) { return withLayerDoubled(k, "p", 3); },
        [](const Kit& k) { return withoutLayer(k, "p", 3); }};
    for (std::size_t i = 0; i < edits.size(); ++i) {
        const Kit next = good(edits[i](kit));
        Straight8 patched = all(kit);
        const PixelRect damage = damageBetween(*kit.piece("p"), {*next.piece("p"), next}, store);
        EXPECT_FALSE(damage.empty()) << i;
        ASSERT_TRUE(renderInto(patched, damage, {*next.piece("p"), next}, store));
        const Straight8 whole = all(next);
        EXPECT_TRUE(
            std::equal(whole.pixels().begin(), whole.pixels().end(), patched.pixels().begin()))
            << i;
        kit = next;
    }
    EXPECT_TRUE(damageBetween(*kit.piece("p"), {*kit.piece("p"), kit}, store).empty());
}

TEST(Render, AReleaseCarriesTheInksColourUnderNothing) {
    Kit kit =
        test::withPicture(test::kitWith("free-frame", {40, 40}),
                          Straight8::cleared({10, 10}, packed(9, 99, 199, 255)), {15, 15, 10, 10});
    InkStore store;
    EXPECT_EQ(good(render({*kit.piece("p"), kit}, store)).row(13)[20], 0u);
    EXPECT_EQ(good(releaseFrame({*kit.piece("p"), kit}, store)).row(13)[20], packed(9, 99, 199, 0));
}

TEST(Render, ALayerIsPickedWhereItHasInk) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {100, 100}), test::textured({100, 100}),
                                {0, 0, 100, 100});
    const Straight8 ring =
        test::painted({40, 40}, [](int x, int) { return x < 20 ? packed(1, 1, 1, 255) : 0u; });
    kit = test::withPicture(kit, ring, {30, 30, 40, 40}, "half.png");
    InkStore store;
    good(render({*kit.piece("p"), kit}, store));
    EXPECT_EQ(layerAt(*kit.piece("p"), store, {35, 50}), 2);
    EXPECT_EQ(layerAt(*kit.piece("p"), store, {65, 50}), 1)
        << "the see-through half lets the click fall through";
    EXPECT_EQ(layerAt(*kit.piece("p"), store, {150, 50}), 0);
}

TEST(Render, AHugeLayerCostsOnlyWhatTheFrameShows) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {64, 64}), test::textured({16, 16}),
                                {-400'000, -400'000, 800'000, 800'000});
    InkStore store;
    EXPECT_TRUE(isOpaque(good(render({*kit.piece("p"), kit}, store))));
    kit = test::withLetters(test::kitWith("free-frame", {64, 64}), std::string(2000, 'W'), 4000,
                            {-100'000, -1500});
    EXPECT_TRUE(render({*kit.piece("p"), kit}, store).has_value());
}

TEST(Render, AMissingOriginalIsAnErrorWithASentence) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {9, 9}), test::textured({9, 9}),
                                {0, 0, 9, 9});
    kit.assets.clear();
    InkStore store;
    const auto frame = render({*kit.piece("p"), kit}, store);
    ASSERT_FALSE(frame);
    EXPECT_EQ(frame.error().code, Code::unreadable);
}

}  // namespace
}  // namespace zl
