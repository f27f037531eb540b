// SPDX-License-Identifier: GPL-3.0-or-later
// Pixels of a JPEG changed while its other blocks stay bit by bit.
#include "encode/jpeg_over.h"
#include "encode/encode.h"
#include "picture/decode.h"
#include "support/scenes.h"

namespace zl {
namespace {

using test::good;

// The blocks' place in a component of `across` by `down` pixels a sample, grown by the pixel that
// upsampling looks further.
bool mayChange(int x, int y, const PixelRect& changed, int cell) {
    const int side = 8 * cell;
    const PixelRect blocks{changed.left / side * side - cell, changed.top / side * side - cell,
                           (changed.right + side - 1) / side * side + cell,
                           (changed.bottom + side - 1) / side * side + cell};
    return blocks.contains(x, y);
}

TEST(JpegOver, OnlyTheBlocksUnderAChangeAreCodedAgain) {
    const Straight8 drawn = test::textured({203, 131}, 40);
    constexpr PixelRect mark{61, 45, 104, 90};
    for (const Chroma chroma : {Chroma::full, Chroma::wide, Chroma::half})
        for (const bool progressive : {false, true}) {
            Encoding encoding{Content::jpeg, 88, chroma, Effort::release};
            encoding.progressive = progressive;
            const Bytes jpeg = good(encode(drawn, encoding));
            const Straight8 before = good(decode(jpeg, "a.jpg")).pixels->clone();
            Straight8 after = before.clone();
            for (int y = mark.top; y < mark.bottom; ++y)
                for (int x = mark.left; x < mark.right; ++x)
                    after.row(y)[x] = packed(230, 60 + x / 2, 40 + y, 255);
            const auto changed = changedJpeg(jpeg, before, after);
            ASSERT_TRUE(changed) << static_cast<int>(chroma) << progressive;
            EXPECT_LT(changed->changed, changed->blocks / 4);
            const Straight8 seen = good(decode(changed->bytes, "b.jpg")).pixels->clone();
            const int cell = chroma == Chroma::full ? 1 : 2;
            double off = 0;
            int inside = 0;
            for (int y = 0; y < before.height(); ++y)
                for (int x = 0; x < before.width(); ++x) {
                    if (!mayChange(x, y, mark, cell)) {
                        ASSERT_EQ(seen.row(y)[x], before.row(y)[x])
                            << x << ' ' << y << ' ' << static_cast<int>(chroma);
                    }
                    if (mark.contains(x - 3, y - 3) && mark.contains(x + 3, y + 3)) {
                        off += std::abs(greenOf(seen.row(y)[x]) - greenOf(after.row(y)[x]));
                        ++inside;
                    }
                }
            EXPECT_LT(off / inside, 3) << "the tables of quality 88 allow for that";
            // Nothing is changed: nothing is coded again, and what is read is the same.
            const auto same = changedJpeg(jpeg, before, before);
            ASSERT_TRUE(same);
            EXPECT_EQ(same->changed, 0);
            const auto read = good(decode(same->bytes, "c.jpg")).pixels;
            EXPECT_TRUE(std::ranges::equal(read->pixels(), before.pixels()));
        }
}

TEST(JpegOver, WhatCannotBeKeptIsLeftToTheCaller) {
    const Straight8 drawn = test::textured({64, 48}, 40);
    const Bytes jpeg = good(encode(drawn, {Content::jpeg, 88, Chroma::half, Effort::release}));
    const Straight8 pixels = good(decode(jpeg, "a.jpg")).pixels->clone();
    EXPECT_FALSE(changedJpeg(test::png(drawn), drawn, drawn)) << "no JPEG";
    EXPECT_FALSE(changedJpeg(jpeg, test::textured({32, 48}), pixels)) << "another size";
    EXPECT_FALSE(changedJpeg(ByteView(jpeg).first(jpeg.size() * 2 / 3), pixels, pixels))
        << "it breaks off";
    EXPECT_FALSE(changedJpeg({}, pixels, pixels));
}

}  // namespace
}  // namespace zl
