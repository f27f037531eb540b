// SPDX-License-Identifier: GPL-3.0-or-later
// One piece, many places: for every pair of briefs that must hold, and what is carried over.
#include <gtest/gtest.h>
#include <rapidcheck.h>

#include "demo/demo_kit.h"
#include "edit/edits.h"
#include "layout/lay_out.h"
#include "measure/measure.h"
#include "support/demo_files.h"
#include "support/support.h"
#include "words/words.h"

namespace zl::test {
namespace {

const Kit& demoKit() {
    const Kit& kit = test::madeDemo().kit;
    return kit;
}

// What must hold of a piece that was laid out: nothing stretched, the essential ink inside the
// zones, the ground all over the frame.
void expectWellLaid(const Kit& kit, const std::string& id, const std::string& how) {
    const Piece& piece = *kit.piece(id);
    const Brief& brief = *briefs().find(piece.brief);
    InkStore store;
    const auto read = readPiece({piece, kit}, brief, store, Weighing::quickBound);
    ASSERT_TRUE(read) << how;
    for (const Reading& reading : read->readings) {
        if (reading.id == "stretch") {
            EXPECT_LT(std::get<double>(reading.value), 1e-6) << how;
        }
        if (reading.id == "zones" && reading.verdict != Verdict::notMeasured) {
            EXPECT_NE(reading.verdict, Verdict::fail) << how << ": " << english(reading.says);
        }
        if (reading.id == "frame") {
            EXPECT_EQ(reading.verdict, Verdict::pass) << how;
        }
    }
    EXPECT_TRUE(isOpaque(*read->frame)) << how;
}

constexpr const char* places[] = {"stream-card", "upright-story", "square-post",
                                  "post-5x4",    "post-4x5",      "channel-banner"};

TEST(LayOut, TheDemosThumbnailGoesToEveryPlaceAndBack) {
    InkStore store;
    for (const char* place : places) {
        auto there = withPieceLaidOut(demoKit(), "thumbnail", *briefs().find("video-thumbnail"),
                                      *briefs().find(place), store);
        ASSERT_TRUE(there) << place << there.error().sentence();
        expectWellLaid(there->first, there->second, place);
        auto back = withPieceLaidOut(there->first, there->second, *briefs().find(place),
                                     *briefs().find("video-thumbnail"), store);
        ASSERT_TRUE(back) << place;
        expectWellLaid(back->first, back->second, std::string(place) + " and back");
    }
}

TEST(LayOut, AnyPieceInItsZonesStaysInThem) {
    const Kit& demoed = demoKit();
    const std::string ground = demoed.piece("thumbnail")->layers.front().picture()->source,
                      small = demoed.piece("thumbnail")->layers[1].picture()->source;
    rc::check("for every pair", [&] {
        const bool outward = *rc::gen::arbitrary<bool>();
        const Brief& place =
            *briefs().find(places[*rc::gen::inRange<std::size_t>(0, std::size(places))]);
        const Brief& thumbnail = *briefs().find("video-thumbnail");
        const Brief &from = outward ? thumbnail : place, &to = outward ? place : thumbnail;
        Piece piece{"p", "P", from.id, from.frame, {"p"}, {}};
        Layer back;
        back.id = 1;
        back.name = "Ground";
        back.what = fillingFrame(ground, {1600, 900}, from.frame);
        piece.layers.push_back(back);
        const RealRect room = roomIn(from, from.frame);
        const int n = *rc::gen::inRange(1, 4);
        for (int i = 0; i < n; ++i) {
            Layer layer;
            layer.id = i + 2;
            layer.name = "Layer " + std::to_string(i);
            const double height = room.height * *rc::gen::inRange(12, 30) / 100.0;
            double width = height * 0.8;
            if (*rc::gen::arbitrary<bool>()) {
                LetteringLayer letters;
                letters.text = *rc::gen::element<std::string>("ONE", "Two words", "Points, rods");
                letters.size = height / 1.6;
                layer.what = letters;
                width = boxOf(layer).width;
                if (width > room.width * 0.8) {
                    layer.lettering()->size *= room.width * 0.8 / width;
                    width = boxOf(layer).width;
                }
            } else {
                layer.what = PictureLayer{small, {0, 0, 400, 500}, {0, 0, height * 0.8, height}};
            }
            const RealRect box = boxOf(layer);
            const double x = room.x + (room.width - box.width) * *rc::gen::inRange(2, 99) / 100,
                         y = room.y + (room.height - box.height) * *rc::gen::inRange(2, 99) / 100;
            layer = moved(layer, x - box.x, y - box.y);
            if (*rc::gen::arbitrary<bool>())
                layer.finishes = {outlineOf(room.height * 0.004, {16, 21, 28, 255})};
            piece.layers.push_back(layer);
        }
        Kit kit = demoed;
        kit.pieces = {piece};
        InkStore store;
        const auto laid = withPieceLaidOut(kit, "p", from, to, store);
        RC_ASSERT(laid.has_value());
        expectWellLaid(laid->first, laid->second, from.id + " to " + to.id);
        for (const Layer& layer : laid->first.piece(laid->second)->layers)
            RC_ASSERT(layer.twin == layer.id);
    });
}

TEST(LayOut, DevicesWithoutAnythingInCommonLeaveTheWholeFrame) {
    Brief split = *briefs().find("channel-banner");
    split.zones.resize(2);
    split.zones[0].part = {0, 0, 0.4, 1};
    split.zones[1].part = {0.6, 0, 0.4, 1};
    EXPECT_EQ(roomIn(split, {1000, 500}), (RealRect{0, 0, 1000, 500}));
    split.zones[1].part = {0.3, 0.2, 0.4, 0.5};
    const RealRect room = roomIn(split, {1000, 500});
    EXPECT_NEAR(room.x, 300, 1e-9);
    EXPECT_NEAR(room.right(), 400, 1e-9);
    EXPECT_NEAR(room.y, 100, 1e-9);
    EXPECT_NEAR(room.height, 250, 1e-9);
    // A band over a whole side is left out, a badge in the corner is not: what it takes is mended
    // by itself.
    EXPECT_NEAR(roomIn(*briefs().find("upright-story"), {1080, 1920}).y, 0.14 * 1920, 1e-6);
    EXPECT_NEAR(roomIn(*briefs().find("video-thumbnail"), {1280, 720}).width, 1280, 1e-9);
}

TEST(LayOut, EditsOfTheFirstAreCarriedOver) {
    InkStore store;
    const Brief &thumbnail = *briefs().find("video-thumbnail"),
                &story = *briefs().find("upright-story");
    auto laid = withPieceLaidOut(demoKit(), "thumbnail", thumbnail, story, store);
    ASSERT_TRUE(laid);
    Kit kit = laid->first;
    Piece first = *kit.piece("thumbnail");
    first.layers[2].lettering()->text = "A MUCH LONGER FIRST LINE THAN BEFORE";
    first.layers[2].lettering()->colour = {1, 2, 3, 255};
    first.layers[0].picture()->tone.brightness = 33;
    kit = withChangedPiece(kit, first).value();
    const auto carried = withEditsCarriedOver(kit, laid->second, story, store);
    ASSERT_TRUE(carried) << carried.error().sentence();
    const Piece& after = *carried->piece(laid->second);
    EXPECT_EQ(after.layers[2].lettering()->text, "A MUCH LONGER FIRST LINE THAN BEFORE");
    EXPECT_EQ(after.layers[2].lettering()->colour, (Colour{1, 2, 3, 255}));
    EXPECT_EQ(after.layers[0].picture()->tone.brightness, 33);
    EXPECT_EQ(after.layers[0].picture()->place,
              laid->first.piece(laid->second)->layers[0].picture()->place);
    expectWellLaid(*carried, laid->second, "carried over");
    EXPECT_LT(boxOf(after.layers[2]).width, 1080);
    // Once carried, nothing is left to carry.
    EXPECT_EQ(withEditsCarriedOver(*carried, laid->second, story, store).value(), *carried);
    EXPECT_FALSE(withEditsCarriedOver(kit, "thumbnail", thumbnail, store));
    const Kit orphan = withoutPiece(kit, "thumbnail").value();
    EXPECT_FALSE(withEditsCarriedOver(orphan, laid->second, story, store));
}

}  // namespace
}  // namespace zl::test
