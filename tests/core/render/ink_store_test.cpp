// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>
#include <thread>

#include "base/cache.h"
#include "base/parallel.h"
#include "cut/cut.h"
#include "render/ink_store.h"
#include "render/render.h"
#include "support/support.h"

namespace zl {
namespace {

using Numbers = Cache<int, int>;
const auto unit = [](int) { return std::size_t{1}; };

bool alike(const Straight8& a, const Straight8& b) {
    for (int y = 0; y < a.height(); ++y)
        if (!std::equal(a.row(y), a.row(y) + a.width(), b.row(y))) return false;
    return a.size() == b.size();
}

// Eight threads on one store: the frame is that of one thread alone.
TEST(InkStore, EightThreadsRenderWhatOneDoes) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {160, 90}), test::textured({64, 36}),
                                {3.5, 2.25, 120.5, 70});
    kit = test::withLetters(kit, "Words", 30, {10.5, 20});
    kit.pieces[0].layers[0].picture()->tone.contrast = 20;
    kit.pieces[0].layers[0].turn.degrees = 90;
    InkStore alone;
    const Straight8 expected = test::good(render({kit.pieces[0], kit}, alone));
    InkStore shared;
    std::vector<std::jthread> threads;
    std::atomic<int> wrong = 0;
    for (int t = 0; t < 8; ++t)
        threads.emplace_back([&, t] {
            for (int i = 0; i < 6; ++i) {
                if (t == 7 && i == 3) shared.clear();
                const auto frame = render({kit.pieces[0], kit}, shared);
                if (!frame || !alike(*frame, expected)) ++wrong;
            }
        });
    threads.clear();
    EXPECT_EQ(wrong, 0);
}

TEST(InkStore, EveryFieldOfAPictureIsPartOfItsKey) {
    const PictureKey key{"a"};
    std::vector<PictureKey> others(9, key);
    others[0].sha256 = "b";
    others[1].cuts = {Cut{KeyCut{}}};
    others[2].veils = {Veil{}};
    others[3].tone.clarity = 1;
    others[4].quarters = 1;
    others[5].flipX = true;
    others[6].flipY = true;
    others[7].tone.tint = 1;
    others[8].times = 2;
    for (const PictureKey& other : others) EXPECT_NE(other, key);
    EXPECT_EQ(StoreHash()(key), StoreHash()(PictureKey{"a"}));
}

// The red left half of 40 x 20 units, in a frame of its own.
Kit redHalf(RealRect crop, RealRect place, PixelSize frame) {
    const Asset asset = makeAsset(
        test::bytesOf("<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'><rect "
                      "width='20' height='20' fill='#FF0000'/></svg>"),
        "half.svg");
    Kit kit = withAsset(test::kitWith("free-frame", frame), asset);
    Layer layer;
    layer.name = "half";
    layer.what = PictureLayer{asset.sha256, crop, place};
    return test::good(withLayer(kit, kit.pieces.front().id, layer));
}

// An SVG has no pixels of its own: made larger it stays sharp, where a picture of its size would be
// soft over as many px as it is enlarged.
TEST(InkStore, AnSvgIsDrawnAsLargeAsItsPlaceShowsIt) {
    const RealRect whole{0, 0, 40, 20};
    Kit kit = redHalf(whole, {0, 0, 300, 150}, {300, 150});
    const auto rowOf = [&](int y) {
        InkStore store;
        const Straight8 frame = test::good(render({kit.pieces[0], kit}, store));
        return std::vector<std::uint32_t>(frame.row(y), frame.row(y) + frame.width());
    };
    const std::uint32_t ink = packed(255, 0, 0, 255);
    EXPECT_EQ(rowOf(75)[148], ink);
    EXPECT_EQ(alphaOf(rowOf(75)[151]), 0);
    PictureLayer& picture = *kit.pieces[0].layers[0].picture();
    // Mirrored, and a part of it: 10 to 30 units of 40 are shown over the frame.
    kit.pieces[0].layers[0].turn.flipX = true;
    EXPECT_EQ(alphaOf(rowOf(75)[148]), 0);
    EXPECT_EQ(rowOf(75)[151], ink);
    kit.pieces[0].layers[0].turn = {};
    picture.crop = {15, 5, 20, 10};
    EXPECT_EQ(rowOf(75)[73], ink);
    EXPECT_EQ(alphaOf(rowOf(75)[76]), 0);
    // By a quarter: what was left is above.
    picture.crop = whole;
    picture.place = {0, 0, 300, 300};
    kit.pieces[0].frame = {300, 300};
    kit.pieces[0].layers[0].turn.degrees = 90;
    EXPECT_EQ(rowOf(148)[150], ink);
    EXPECT_EQ(alphaOf(rowOf(151)[150]), 0);
    // A key, a cleaning or a veil is of the pixels it was made on.
    InkStore store;
    const Asset& asset = *kit.asset(picture.source);
    EXPECT_EQ(test::good(store.timesDrawn(picture, asset)), 16);
    picture.veils = {Veil{}};
    EXPECT_EQ(test::good(store.timesDrawn(picture, asset)), 1);
    picture.veils.clear();
    picture.cuts = {Cut{KeyCut{}}};
    EXPECT_EQ(test::good(store.timesDrawn(picture, asset)), 1);
    // And nothing is drawn beyond what memory is for.
    picture.cuts.clear();
    picture.place = {0, 0, 4e6, 2e6};
    EXPECT_EQ(test::good(store.timesDrawn(picture, asset)), 128);
}

// A key is looked at once for its report and its cut, and a stroke over it keys nothing again; what
// comes out is what keying from nothing gives.
TEST(InkStore, AKeyIsWorkedOutOnceAndItsStrokesLieOnTop) {
    const Straight8 picture = test::painted({90, 70}, [](int x, int y) {
        return std::hypot(x - 45, y - 35) < 24 ? packed(200, 40, 30, 255) : 0xFFFFFFFFu;
    });
    const Asset asset = makeAsset(test::png(picture), "disc.png");
    KeyCut key;
    const KeyCut bare = key;
    key.strokes = {Stroke{false, 6, {{45, 35}}}, Stroke{true, 4, {{5, 5}, {20, 5}}}};
    InkStore store;
    const std::vector<Cut> cuts{Cut{key}}, without{Cut{bare}};
    const KeyReport report = test::good(store.keyReport(asset, cuts, 0));
    EXPECT_EQ(report.plan.share, reportOf(picture, key).plan.share);
    EXPECT_FALSE(report.trouble);
    EXPECT_TRUE(alike(*test::good(store.cutPicture(asset, cuts))->pixels, keyed(picture, key)));
    const auto first = test::good(store.cutPicture(asset, without));
    EXPECT_TRUE(alike(*first->pixels, keyed(picture, bare)));
    key.strokes.pop_back();
    EXPECT_TRUE(alike(*test::good(store.cutPicture(asset, std::vector<Cut>{Cut{key}}))->pixels,
                      keyed(picture, key)));
    EXPECT_EQ(test::good(store.cutPicture(asset, without)), first) << "it was kept";
}

}  // namespace
}  // namespace zl
