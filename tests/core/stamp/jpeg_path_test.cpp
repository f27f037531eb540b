// SPDX-License-Identifier: GPL-3.0-or-later
// The coefficient path: what lies outside the mark is the same bits, what lies under it is the
// blend. ITU-T T.81 and T.871; EXIF's orientations by CIPA DC-008, tag 0x0112.
#include <array>
#include <cmath>

#include "encode/jpeg_part.h"
#include "encode/jpeg_scan.h"
#include "picture/decode.h"
#include "stamp/ink_change.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

Ink inkAt(int x, int y, PixelSize size, std::uint32_t pixel, float opacity = 1) {
    Ink ink;
    ink.box = PixelRect::of(size).moved(x, y);
    ink.eight =
        std::make_shared<const Straight8>(test::painted(size, [&](int, int) { return pixel; }));
    ink.opacity = opacity;
    return ink;
}

Bytes jpegOf(const Straight8& frame, Chroma chroma, int quality = 90) {
    Encoding how{Content::jpeg, quality, chroma};
    how.effort = Effort::quick;  // the printed Huffman tables, as cameras write them
    return good(encode(frame, how));
}

// Pixels that differ, and their box.
PixelRect differing(const Straight8& a, const Straight8& b) {
    PixelRect box;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x)
            if (a.row(y)[x] != b.row(y)[x]) box = box.united({x, y, x + 1, y + 1});
    return box;
}

TEST(JpegScan, WhatIsNotChangedIsTheSameFile) {
    for (const Chroma chroma : {Chroma::full, Chroma::wide, Chroma::half})
        for (const PixelSize size : {PixelSize{64, 48}, {67, 45}, {8, 8}, {1, 1}, {200, 9}}) {
            const Bytes jpeg = jpegOf(test::textured(size), chroma);
            const auto scan = JpegScan::read(jpeg);
            ASSERT_TRUE(scan);
            EXPECT_EQ(scan->size(), size);
            const auto same = scan->changed(InkChange({}, size, 1));
            ASSERT_TRUE(same);
            EXPECT_EQ(same->bytes, jpeg);
            EXPECT_EQ(same->changed, 0);
        }
}

TEST(JpegScan, ItsEighthIsTheMeanOfEachBlock) {
    const PixelSize size{160, 96};
    const Straight8 picture = test::painted(
        size, [](int x, int y) { return packed(40 + x / 8 * 8, 200 - y / 8 * 10, 90, 255); });
    for (const Chroma chroma : {Chroma::full, Chroma::half}) {
        const Bytes jpeg = jpegOf(picture, chroma, 98);
        const Straight8 eighth = JpegScan::read(jpeg)->eighth();
        ASSERT_EQ(eighth.size(), (PixelSize{20, 12}));
        const int allowed = chroma == Chroma::full ? 2 : 12;  // half: two blocks have one chroma
        for (int y = 0; y < 12; ++y)
            for (int x = 0; x < 20; ++x) {
                EXPECT_NEAR(redOf(eighth.row(y)[x]), 40 + x * 8, allowed);
                EXPECT_NEAR(greenOf(eighth.row(y)[x]), 200 - y * 10, allowed);
            }
    }
}

TEST(JpegScan, OnlyTheBlocksUnderTheMarkChange) {
    const PixelSize size{333, 217};
    const Straight8 picture = test::textured(size);
    for (const Chroma chroma : {Chroma::full, Chroma::wide, Chroma::half}) {
        const Bytes jpeg = jpegOf(picture, chroma);
        const Straight8 before = good(decode(jpeg, "a")).pixels->clone();
        for (const PixelPlace at : {PixelPlace{0, 0}, {100, 60}, {290, 190}, {160, 100}}) {
            const Ink ink = inkAt(at.x, at.y, {40, 24}, packed(250, 240, 20, 200));
            const InkChange change({ink}, size, 1);
            const auto scan = JpegScan::read(jpeg);
            const auto changed = scan->changed(change);
            ASSERT_TRUE(changed);
            const auto slow = changedJpeg(jpeg, change);
            ASSERT_TRUE(slow);
            EXPECT_EQ(changed->changed, slow->changed);
            EXPECT_EQ(changed->blocks, slow->blocks);
            const Straight8 after = good(decode(changed->bytes, "b")).pixels->clone();
            EXPECT_TRUE(differing(after, *good(decode(slow->bytes, "c")).pixels).empty())
                << "both ways of coding are to hold the same coefficients";
            // A unit more on each side: chroma is smoothed across its blocks when it is decoded.
            const PixelRect box = differing(before, after),
                            may{at.x / 16 * 16 - 2, at.y / 16 * 16 - 2,
                                (at.x + 40 + 15) / 16 * 16 + 2, (at.y + 24 + 15) / 16 * 16 + 2};
            EXPECT_FALSE(box.empty());
            EXPECT_EQ(box.intersected(may), box);
        }
    }
}

TEST(JpegScan, SeveralMarksInOneRowAndOverAll) {
    const PixelSize size{320, 200};
    const Bytes jpeg = jpegOf(test::textured(size), Chroma::half);
    const Straight8 before = good(decode(jpeg, "a")).pixels->clone();
    std::vector<Ink> inks;
    for (int i = 0; i < 6; ++i) inks.push_back(inkAt(10 + i * 52, 90, {20, 20}, 0xFF0000FFu));
    const InkChange some(inks, size, 1);
    const auto changed = JpegScan::read(jpeg)->changed(some);
    ASSERT_TRUE(changed);
    EXPECT_TRUE(differing(*good(decode(changed->bytes, "b")).pixels,
                          *good(decode(changedJpeg(jpeg, some)->bytes, "c")).pixels)
                    .empty());
    const InkChange all({inkAt(0, 0, size, 0x80FFFFFFu)}, size, 1);
    const auto whole = JpegScan::read(jpeg)->changed(all);
    ASSERT_TRUE(whole);
    EXPECT_EQ(whole->changed, whole->blocks);
}

TEST(InkChange, SamplesAreTheMeanOfTheBlend) {
    // By hand, in double precision: each sample of Cb stands for 2 x 2 pixels, of which the mark
    // covers some, at an opacity of 0.6 times its alpha of 200.
    const PixelSize size{32, 32};
    const Ink ink = inkAt(3, 5, {10, 6}, packed(250, 40, 90, 200), 0.6f);
    const InkChange change({ink}, size, 1);
    const double alpha = 200 / 255.0 * double{0.6f};
    const double cb = 128 - 0.168735892 * 250 - 0.331264108 * 40 + 0.5 * 90;
    std::array<double, 64> samples{};
    for (std::size_t i = 0; i < 64; ++i) samples[i] = 60 + static_cast<double>(i);
    ASSERT_TRUE(change.into(samples, 1, 0, 0, 2, 2));
    for (int sy = 0; sy < 8; ++sy)
        for (int sx = 0; sx < 8; ++sx) {
            const double was = 60 + sy * 8 + sx;
            double sum = 0;
            for (int y = 2 * sy; y < 2 * sy + 2; ++y)
                for (int x = 2 * sx; x < 2 * sx + 2; ++x)
                    sum += ink.box.contains(x, y) ? was * (1 - alpha) + cb * alpha : was;
            EXPECT_NEAR(samples[static_cast<std::size_t>(sy * 8 + sx)], sum / 4, 1e-9);
        }
    EXPECT_FALSE(change.into(samples, 0, 16, 16, 1, 1)) << "nothing of the mark is there";
}

TEST(InkChange, OrientationsAreUndone) {
    const PixelSize stored{24, 16};
    for (int orientation = 1; orientation <= 8; ++orientation) {
        const PixelSize seen = seenSize(stored, orientation);
        // A mark of one pixel near the top left of what is seen.
        const InkChange change({inkAt(2, 1, {1, 1}, 0xFFFFFFFFu)}, stored, orientation);
        const PixelRect box = change.box();
        ASSERT_EQ(box.size(), (PixelSize{1, 1}));
        const PixelPlace back = seenAt(box.left, box.top, stored, orientation);
        EXPECT_EQ(back.x, 2) << orientation;
        EXPECT_EQ(back.y, 1) << orientation;
        EXPECT_EQ(seen.count(), stored.count());
        // Every pixel has a place of its own.
        std::vector<int> hit(static_cast<std::size_t>(seen.count()));
        for (int y = 0; y < stored.height; ++y)
            for (int x = 0; x < stored.width; ++x) {
                const PixelPlace at = seenAt(x, y, stored, orientation);
                ++hit[static_cast<std::size_t>(at.y * seen.width + at.x)];
            }
        EXPECT_EQ(*std::min_element(hit.begin(), hit.end()), 1);
    }
}

TEST(JpegScan, WhatIsBrokenIsNotRead) {
    const Bytes jpeg = jpegOf(test::textured({80, 60}), Chroma::half);
    int read = 0;
    for (std::size_t length = 0; length < jpeg.size(); length += 7)
        read += JpegScan::read(ByteView(jpeg).first(length)).has_value();
    EXPECT_EQ(read, 0) << "one that breaks off was taken for whole";
    // Mangled ones are read or not, and nothing worse; what is read can be changed or not.
    std::uint32_t n = 1;
    for (int i = 0; i < 400; ++i) {
        Bytes mangled = jpeg;
        for (int k = 0; k < 4; ++k) {
            n = n * 1664525u + 1013904223u;
            mangled[n % mangled.size()] = static_cast<std::uint8_t>(n >> 16);
        }
        if (const auto scan = JpegScan::read(mangled)) {
            EXPECT_FALSE(scan->eighth().empty());
            (void)scan->changed(InkChange({inkAt(3, 3, {20, 20}, ~0u)}, scan->size(), 1));
        }
    }
}

TEST(JpegLike, TheTablesAndTheSamplingAreThePhotographs) {
    Encoding odd{Content::jpeg, 37, Chroma::wide};
    odd.table = Table::even;
    const Bytes photo = good(encode(test::textured({120, 80}), odd));
    const Bytes like = good(encodeJpegLike(test::noisy({50, 40}), photo));
    const auto tables = [](const Bytes& jpeg) {
        std::vector<Bytes> found;
        for (std::size_t at = 2; jpeg[at + 1] != 0xDA;) {
            const std::size_t length = 2 + (jpeg[at + 2] << 8 | jpeg[at + 3]);
            if (jpeg[at + 1] == 0xDB)
                found.emplace_back(jpeg.begin() + static_cast<std::ptrdiff_t>(at),
                                   jpeg.begin() + static_cast<std::ptrdiff_t>(at + length));
            at += length;
        }
        return found;
    };
    ASSERT_GE(tables(photo).size(), 1u);
    // Luma's is the first; the new file has one for each component.
    EXPECT_EQ(tables(like)[0], tables(photo)[0]);
    EXPECT_FALSE(encodeJpegLike(test::noisy({8, 8}), test::png(test::noisy({8, 8}))));
}

}  // namespace
}  // namespace zl
