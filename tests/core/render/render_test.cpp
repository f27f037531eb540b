// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/render.h"
#include "edit/stack.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

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
        [](const Kit& k) { return withLayersDoubled(k, "p", {3}); },
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
