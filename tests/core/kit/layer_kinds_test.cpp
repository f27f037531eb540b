// SPDX-License-Identifier: GPL-3.0-or-later
// Every kind of layer, walked through its table: what is added there is tested here without a word.
#include "kit/layer_kinds.h"
#include "edit/edits.h"
#include "layout/lay_out.h"
#include "readings/zones.h"
#include "render/render.h"
#include "store/layer_json.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

constexpr PixelSize stage{320, 180};

Kit withTexture() {
    return test::withPicture(test::kitWith("free-frame", stage), test::textured({32, 18}),
                             {10, 20, 80, 45});
}

template <std::size_t i = 0>
LayerWhat blank(std::size_t index) {
    if constexpr (i < std::variant_size_v<LayerWhat>) {
        if (index != i) return blank<i + 1>(index);
        return std::variant_alternative_t<i, LayerWhat>{};
    } else {
        throw std::out_of_range("no such kind");
    }
}

// A layer of the kind with something to see, in a kit that holds what it needs.
Layer sampleOf(std::size_t kind, const Kit& kit) {
    Layer layer;
    layer.id = 7;
    layer.name = std::string(layerKinds()[kind].noun);
    layer.what = blank(kind);
    if (PictureLayer* picture = layer.picture())
        *picture = *kit.piece("p")->layers.front().picture();
    if (LetteringLayer* letters = layer.lettering()) {
        letters->text = "Words";
        letters->size = 40;
        letters->at = {10, 20};
    }
    if (BarLayer* bar = test::barOf(layer)) bar->place = {10, 20, 80, 45};
    return layer;
}

TEST(LayerKinds, HaveIdsIconsAndNounsOfTheirOwn) {
    std::set<std::string_view> ids, nouns;
    for (const LayerKind& kind : layerKinds()) {
        EXPECT_TRUE(ids.insert(kind.id).second) << kind.id;
        EXPECT_TRUE(nouns.insert(kind.noun).second) << kind.noun;
        EXPECT_TRUE(std::filesystem::exists(good(dataFolder()) / "icons" /
                                            (std::string(kind.icon) + ".svg")))
            << kind.icon;
    }
}

TEST(LayerKinds, AreCheckedWrittenReadMovedScaledAndDrawn) {
    const Kit kit = withTexture();
    for (std::size_t i = 0; i < layerKinds().size(); ++i) {
        SCOPED_TRACE(layerKinds()[i].id);
        const Layer layer = sampleOf(i, kit);
        EXPECT_EQ(kindOf(layer).id, layerKinds()[i].id);
        EXPECT_TRUE(checkLayer(layer, kit));
        const auto json = jsonOf(layer);
        EXPECT_EQ(json["kind"], layerKinds()[i].id);
        EXPECT_EQ(good(layerFrom(Json::parse(json.dump()), "t")), layer);

        const RealRect box = boxOf(layer);
        ASSERT_GT(box.area(), 0);
        const RealRect there = boxOf(moved(layer, 30, -5));
        EXPECT_NEAR(there.x - box.x, 30, 1e-9);
        EXPECT_NEAR(there.y - box.y, -5, 1e-9);
        EXPECT_NEAR(there.width, box.width, 1e-9);
        const RealRect twice = boxOf(scaled(layer, 2, 2, {box.x, box.y}));
        EXPECT_NEAR(twice.width, 2 * box.width, box.width * 0.05);
        // One side alone changes the shape only of a kind that may lose it.
        const RealRect wide = boxOf(scaled(layer, 2, 1, {box.x, box.y}));
        const double shape = (wide.width / wide.height) / (box.width / box.height);
        EXPECT_NEAR(shape, kindOf(layer).keepsShape ? 1 : 2, 0.05);

        const RealRect whole = boxOf(filling(layer, stage));
        EXPECT_NEAR(std::max(whole.width / stage.width, whole.height / stage.height), 1, 0.12);

        InkStore store;
        const Ink ink = good(store.ink(layer, kit, stage));
        ASSERT_FALSE(ink.box.empty());
        // Drawn where its box says; letters may reach past their block by a px.
        const PixelRect drawn = ink.box, bounds = roundOutwards(boundsOf(layer));
        const PixelRect said{bounds.left - 1, bounds.top - 1, bounds.right + 1, bounds.bottom + 1};
        EXPECT_EQ(drawn.intersected(said), drawn);
    }
}

TEST(LayerKinds, AnUnknownKindOfAKitIsRefusedByItsName) {
    Json json = Json::parse(jsonOf(sampleOf(0, withTexture())).dump());
    json["kind"] = "hologram";
    const auto layer = layerFrom(json, "t");
    ASSERT_FALSE(layer);
    EXPECT_NE(layer.error().what.find("hologram"), std::string::npos);
}

TEST(LayerKinds, OnlyAShownPictureIsAReleasedOne) {
    const Kit kit = withTexture();
    for (std::size_t i = 0; i < layerKinds().size(); ++i) {
        Layer layer = sampleOf(i, kit);
        PictureLayer* picture = layer.picture();
        EXPECT_EQ(releasedPicture(layer), picture);
        EXPECT_EQ(assetOf(layer, kit) != nullptr, picture != nullptr);
        layer.hidden = true;
        EXPECT_EQ(releasedPicture(layer), nullptr);
        layer.hidden = false;
        if (picture) picture->reference = true;
        EXPECT_EQ(releasedPicture(layer), nullptr);
    }
}

// A zone of one's own named "subtitles" is no title area.
TEST(LayerKinds, AZoneCountsForWhatItSays) {
    const Kit kit = withTexture();
    for (std::size_t i = 0; i < layerKinds().size(); ++i) {
        const Layer layer = sampleOf(i, kit);
        Zone zone;
        zone.id = "subtitles";
        EXPECT_TRUE(asksOf(zone, layer));
        zone.countsFor = CountsFor::letters;
        EXPECT_EQ(asksOf(zone, layer), layerKinds()[i].isText);
        zone.countsFor = CountsFor::pictures;
        EXPECT_EQ(asksOf(zone, layer), !layerKinds()[i].isText);
    }
    for (const char* id : {"stream-overlay", "stream-card"}) {
        EXPECT_EQ(test::brief(id).zone("safe-title")->countsFor, CountsFor::letters);
        EXPECT_EQ(test::brief(id).zone("safe-action")->countsFor, CountsFor::pictures);
    }
}

}  // namespace
}  // namespace zl
