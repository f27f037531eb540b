// SPDX-License-Identifier: GPL-3.0-or-later
// The ground of a subject as a layer of its own; and that what was cut out is what matters.
#include "layout/subject_layers.h"

#include "picture/attention.h"
#include "readings/zones.h"
#include "render/render.h"
#include "support/subject_scenes.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

const GroundWords words{"ground", "subject", "Title", "Title"};

class SubjectLayers : public ::testing::Test {
  protected:
    SubjectLayers() {
        scene_ = test::subjectScene(test::Form::blob, test::Contrast::easy, 5, 320);
        kit = test::withPicture(test::kitWith("video-thumbnail", {320, 180}), scene_.picture,
                                {0, 0, 320, 180});
        Layer layer = *kit.piece("p")->layer(1);
        layer.name = "Photo";
        SubjectCut cut;
        cut.box = scene_.box;
        layer.picture()->cuts = {{cut}};
        kit = good(withChangedLayer(kit, "p", layer));
    }
    const Piece& piece() const { return *kit.piece("p"); }
    void use(GroundUse how) { kit = good(withGroundUsed(kit, "p", 1, how, words, nullptr)); }
    Straight8 shown() {
        InkStore store;
        return good(render({piece(), kit}, store));
    }
    test::SubjectScene scene_;
    Kit kit;
};

TEST_F(SubjectLayers, TheGroundBecomesALayerUnderTheSubject) {
    use(GroundUse::darken);
    ASSERT_EQ(piece().layers.size(), 2U);
    const Layer &ground = piece().layers[0], &subject = piece().layers[1];
    EXPECT_EQ(ground.name, "Photo · ground");
    EXPECT_EQ(subject.name, "Photo · subject");
    EXPECT_EQ(subject.id, 1);
    EXPECT_LT(ground.picture()->tone.brightness, 0);
    EXPECT_EQ(ground.picture()->cuts[0].subject()->part, SubjectPart::filled);
    EXPECT_FALSE(isEssential(ground, piece().frame));
    EXPECT_TRUE(isEssential(subject, piece().frame)) << "though it fills the frame";
    // The next use is of the same ground.
    use(GroundUse::blur);
    use(GroundUse::blur);
    use(GroundUse::drain);
    ASSERT_EQ(piece().layers.size(), 2U);
    EXPECT_EQ(piece().layers[0].picture()->veils.size(), 1U);
    EXPECT_EQ(piece().layers[0].picture()->tone.saturation, -100);
    EXPECT_EQ(piece().layers[1].picture()->tone, Tone{});
    const Straight8 out = shown();
    EXPECT_TRUE(isOpaque(out));
    const std::uint32_t away = out.row(4)[4];
    EXPECT_NEAR(redOf(away), greenOf(away), 2);
    EXPECT_NEAR(greenOf(away), blueOf(away), 2);
    const RealPoint middle = scene_.box.centre();
    EXPECT_EQ(out.row(static_cast<int>(middle.y))[static_cast<int>(middle.x)],
              scene_.picture.row(static_cast<int>(middle.y))[static_cast<int>(middle.x)]);
}

TEST_F(SubjectLayers, LetteringComesBetweenGroundAndSubject) {
    use(GroundUse::letters);
    ASSERT_EQ(piece().layers.size(), 3U);
    EXPECT_TRUE(piece().layers[1].lettering());
    // Lettering that is there already is taken from where it stands.
    kit = test::withLetters(kit, "Above", 60, {20, 20});
    use(GroundUse::letters);
    ASSERT_EQ(piece().layers.size(), 4U);
    EXPECT_EQ(piece().layers[2].lettering()->text, "Above");
    EXPECT_TRUE(piece().layers[3].picture()->showsSubject());
    // Where there are no letters, ground and subject are the photograph again.
    Piece bare = piece();
    std::erase_if(bare.layers, [](const Layer& l) { return l.lettering(); });
    kit = good(withChangedPiece(kit, bare));
    const Straight8 out = shown();
    int worst = 0;
    for (std::size_t i = 0; i < out.pixels().size(); ++i)
        worst = std::max(worst,
                         std::abs(greenOf(out.pixels()[i]) - greenOf(scene_.picture.pixels()[i])));
    EXPECT_LE(worst, 6);
}

TEST_F(SubjectLayers, ALayerWithoutASubjectIsRefused) {
    Layer layer = *piece().layer(1);
    layer.picture()->cuts[0].off = true;
    kit = good(withChangedLayer(kit, "p", layer));
    const auto made = withGroundUsed(kit, "p", 1, GroundUse::blur, words, nullptr);
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().code, Code::badUsage);
    EXPECT_FALSE(withGroundUsed(kit, "p", 99, GroundUse::blur, words, nullptr));
}

TEST(CropKeeping, KeepsWhatMattersAndItsUpperEndFirst) {
    const RealRect right = cropKeeping({900, 100, 80, 200}, {1000, 500}, 1, 1);
    EXPECT_EQ(right, (RealRect{500, 0, 500, 500}));
    const RealRect tall = cropKeeping({400, 100, 100, 350}, {1000, 500}, 16, 4);
    EXPECT_EQ(tall.width, 1000);
    EXPECT_DOUBLE_EQ(tall.y, 100);
}

}  // namespace
}  // namespace zl
