// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/photo.h"

#include <array>
#include <cmath>

#include "edit/edits.h"
#include "encode/jpeg_part.h"
#include "encode/png.h"
#include "store/stamp_shelf.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

class PhotoTest : public testing::Test {
  protected:
    PhotoTest() {
        const Straight8 mark =
            test::painted({40, 20}, [](int x, int) { return packed(240, 30, 60, 55 + 5 * x); });
        if (!writeFile(folder_ / "mark.png", test::png(mark), Replace::yes)) std::abort();
        stamp_.what = StampPicture{"mark.png"};
        stamp_.placing.width = {40, false};
        stamp_.placing.of = StampOf::px;
        stamp_.placing.insetX = stamp_.placing.insetY = {8, false};
    }
    Result<MarkedPhoto> tryMark(const Bytes& bytes) {
        auto photo = openPhoto(bytes, "the photograph");
        if (!photo) return tl::unexpected(photo.error());
        const auto glance = glanceOf(**photo);
        if (!glance) return tl::unexpected(glance.error());
        const Marks marks =
            good(marksOf(stamp_, {"p", 1, 1, "2026-11-29"}, {folder_.path(), nullptr}, store_));
        return marked(**photo, *glance, stamp_, marks, {}, asked_, store_);
    }
    // The blend in double precision over what the photograph decodes to.
    int furthest(const Bytes& photo, const MarkedPhoto& out) {
        const Straight8 before = good(decode(photo, "p")).pixels->clone(),
                        after = good(decode(out.bytes, "q")).pixels->clone();
        const Straight8 mark =
            good(decode(good(readFile(folder_ / "mark.png")), "m")).pixels->clone();
        double most = 0;
        for (int y = 0; y < 20; ++y)
            for (int x = 0; x < 40; ++x) {
                const std::uint32_t m = mark.row(y)[x];
                const double a = alphaOf(m) / 255.0;
                const int px = out.chosen.laid.box.right - 40 + x,
                          py = out.chosen.laid.box.bottom - 20 + y;
                const std::uint32_t b = before.row(py)[px], got = after.row(py)[px];
                for (const auto channel : {redOf, greenOf, blueOf})
                    most = std::max(most,
                                    std::abs(channel(b) * (1 - a) + channel(m) * a - channel(got)));
            }
        return static_cast<int>(std::ceil(most - 0.51));
    }

    test::Folder folder_;
    InkStore store_;
    Stamp stamp_;
    PhotoAsked asked_;
};

TEST_F(PhotoTest, WhatIsBlendedIsWithinOneCodeOfDoublePrecision) {
    const Bytes png = test::png(test::textured({160, 120}));
    EXPECT_EQ(furthest(png, good(tryMark(png))), 0);
    asked_.format = Content::png;
    const Bytes jpeg = test::jpeg(test::textured({160, 120}), 90);
    const MarkedPhoto exact = good(tryMark(jpeg));
    EXPECT_FALSE(exact.keptOutside);
    EXPECT_EQ(furthest(jpeg, exact), 0);
}

TEST_F(PhotoTest, RowsThatAreEncodedAgainAreBlendedLikewise) {
    const Bytes photo = test::jpeg(test::textured({160, 120}), 100);
    asked_.quality = 100;
    const MarkedPhoto out = good(tryMark(photo));
    EXPECT_FALSE(out.keptOutside);
    EXPECT_LE(furthest(photo, out), 4) << "what quality 100 leaves of it";
    // A row is told once, in its order.
    int next = 0;
    const auto again = recodedJpeg(photo, 80, [&](int y, std::uint8_t*) { EXPECT_EQ(y, next++); });
    ASSERT_TRUE(again);
    EXPECT_EQ(next, 120);
    EXPECT_FALSE(
        recodedJpeg(ByteView(photo).first(photo.size() / 2), 80, [](int, std::uint8_t*) {}));
}

TEST_F(PhotoTest, AGreyPhotographStaysGrey) {
    // Grey by libjpeg's own colour space: as a photograph with the tables of a grey one.
    const Straight8 grey = test::painted({160, 120}, [](int x, int y) {
        const int v = (x + y) % 200;
        return packed(v, v, v, 255);
    });
    const Bytes photo = test::jpeg(grey, 92);
    const MarkedPhoto out = good(tryMark(photo));
    EXPECT_TRUE(out.keptOutside);
    EXPECT_EQ(out.size, (PixelSize{160, 120}));
}

TEST_F(PhotoTest, WhatCannotBeKeptIsSaid) {
    const Bytes deep = good(encodePng16({60, 60}, std::vector<std::uint16_t>(60 * 60 * 4, 40'000)));
    const MarkedPhoto eight = good(tryMark(deep));
    ASSERT_FALSE(eight.notes.empty());
    EXPECT_NE(eight.notes.front().find("16 bits"), std::string::npos);
    const Bytes seen = test::png(
        test::painted({80, 80}, [](int x, int) { return packed(9, 9, 9, x < 40 ? 0 : 255); }));
    EXPECT_TRUE(tryMark(seen));
    asked_.format = Content::jpeg;
    const auto lost = tryMark(seen);
    ASSERT_FALSE(lost);
    EXPECT_EQ(lost.error().code, Code::limitNotMet);
    EXPECT_NE(lost.error().sentence().find("alpha"), std::string::npos);
}

TEST_F(PhotoTest, ALimitIsMetOrSaid) {
    const Bytes photo = test::jpeg(test::noisy({200, 160}), 95);
    asked_.limit = 12'000;
    const MarkedPhoto out = good(tryMark(photo));
    EXPECT_LE(out.bytes.size(), 12'000u);
    EXPECT_FALSE(out.keptOutside);
    asked_.limit = static_cast<long long>(photo.size()) * 2;
    EXPECT_TRUE(good(tryMark(photo)).keptOutside) << "what fits already is not encoded again";
    asked_.limit = 40;
    const auto none = tryMark(photo);
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, Code::limitNotMet);
}

// Its frame header says what nothing here reads: 12 bits a sample, lossless (ITU-T T.81, B.2.2).
TEST_F(PhotoTest, OtherKindsOfJpegAreRefusedWithASentence) {
    const Bytes photo = test::jpeg(test::textured({64, 48}), 90);
    constexpr std::array<std::uint8_t, 2> marker{0xFF, 0xC0};
    const auto frame = std::search(photo.begin(), photo.end(), marker.begin(), marker.end());
    ASSERT_NE(frame, photo.end());
    const auto at = frame - photo.begin();
    for (const auto& [offset, value] : {std::pair<int, int>{4, 12}, {1, 0xC3}}) {
        Bytes other = photo;
        other[static_cast<std::size_t>(at + offset)] = static_cast<std::uint8_t>(value);
        const auto out = tryMark(other);
        ASSERT_FALSE(out) << offset << ' ' << value;
        EXPECT_EQ(out.error().code, Code::unreadable);
        EXPECT_NE(out.error().sentence().find("the photograph"), std::string::npos);
    }
}

TEST_F(PhotoTest, WhatIsAskedTogetherMustGoTogether) {
    EXPECT_TRUE(checkAsked(asked_));
    asked_.keepOutside = true;
    EXPECT_TRUE(checkAsked(asked_));
    asked_.quality = 80;
    EXPECT_FALSE(checkAsked(asked_));
    asked_ = {};
    asked_.format = Content::bmp;
    EXPECT_FALSE(checkAsked(asked_));
}

TEST_F(PhotoTest, TheGlanceIsOfTheGallerysSize) {
    for (const PixelSize size : {PixelSize{1800, 1200}, {1200, 1800}, {300, 200}, {4800, 3200}}) {
        const Bytes photo = test::jpeg(test::textured(size), 85);
        PhotoPointer open = good(openPhoto(photo, "p"));
        const PhotoGlance glance = good(glanceOf(*open));
        const double scale = galleryScale(size, galleryLarge);
        EXPECT_EQ(glance.photo, size);
        EXPECT_NEAR(glance.picture.width(), size.width * scale, 1);
        EXPECT_NEAR(glance.picture.height(), size.height * scale, 1);
        // The same picture, whichever way it was read: greens grow downwards.
        EXPECT_LT(greenOf(glance.picture.row(5)[20]),
                  greenOf(glance.picture.row(glance.picture.height() - 5)[20]));
    }
}

TEST_F(PhotoTest, AFaintMarkAndASmallOneAreTold) {
    const Bytes flat =
        test::jpeg(test::painted({900, 600}, [](int, int) { return 0xFF808080u; }), 95);
    const Straight8 like = test::painted({40, 20}, [](int, int) { return 0xFF888888u; });
    ASSERT_TRUE(writeFile(folder_ / "mark.png", test::png(like), Replace::yes));
    stamp_.placing.width = {300, false};
    EXPECT_EQ(good(tryMark(flat)).chosen.stamped.verdict, Verdict::fail)
        << "nearly the ground's own grey";
    stamp_.opacity = 0.3;
    EXPECT_EQ(good(tryMark(flat)).chosen.stamped.verdict, Verdict::watch)
        << "one that is meant to be looked through is no failure";
    stamp_.opacity = 1;
    StampText text;
    text.letters.text = "MINUTE LETTERS OVER A LARGE PHOTOGRAPH";
    text.finishes = {outlineOf(6, {0, 0, 0, 255})};
    stamp_.what = text;
    stamp_.placing.width = {90, false};
    const Reading small = good(tryMark(flat)).chosen.stamped;
    EXPECT_EQ(small.verdict, Verdict::fail);
    EXPECT_TRUE(std::any_of(small.findings.begin(), small.findings.end(),
                            [](const Finding& f) { return f.says.id == "stamped.small"; }));
}

TEST(StampShelf, HoldsOneOfEachNameAndLeavesOthersAlone) {
    const test::Folder folder;
    EXPECT_TRUE(stampsOnShelf(folder / "none").empty());
    Stamp one = exampleStamp(), two = exampleStamp();
    two.name = "Corner: line";  // the same file name
    ASSERT_TRUE(putOnShelf(folder / "s", one));
    ASSERT_TRUE(putOnShelf(folder / "s", two));
    one.opacity = 0.25;
    ASSERT_TRUE(putOnShelf(folder / "s", one));
    ASSERT_TRUE(writeFile(folder / "s/notes.json", test::bytesOf("[]"), Replace::no));
    const auto stamps = stampsOnShelf(folder / "s");
    ASSERT_EQ(stamps.size(), 2u);
    EXPECT_EQ(stamps[0], one);
    EXPECT_EQ(stamps[1], two);
    EXPECT_TRUE(takeFromShelf(folder / "s", one.name));
    EXPECT_FALSE(takeFromShelf(folder / "s", one.name));
    EXPECT_TRUE(std::filesystem::exists(folder / "s/notes.json"));
}

// What says nothing yet cannot be kept: neither the shelf nor a kit would be read again.
TEST(StampShelf, AStampThatSaysNothingIsNotKept) {
    const test::Folder folder;
    Stamp stamp = exampleStamp();
    ASSERT_TRUE(putOnShelf(folder.path(), stamp));
    ASSERT_TRUE(withStamp(Kit{}, stamp));
    for (const StampWhat& what :
         {StampWhat{StampPiece{}}, StampWhat{StampPicture{}}, StampWhat{StampText{}}}) {
        stamp.what = what;
        if (auto* text = std::get_if<StampText>(&stamp.what)) text->letters.text.clear();
        EXPECT_FALSE(putOnShelf(folder.path(), stamp));
        EXPECT_FALSE(withStamp(Kit{}, stamp));
    }
    EXPECT_EQ(stampsOnShelf(folder.path()), std::vector{exampleStamp()});
}

}  // namespace
}  // namespace zl
