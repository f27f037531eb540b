// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <thread>

#include "base/parallel.h"
#include "encode/fit.h"
#include "encode/palette.h"
#include "picture/decode.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

// The luma sampling factors of a JPEG's frame header (ITU-T T.81, B.2.2): 0x11 is 4:4:4, 0x22 is
// 4:2:0.
int lumaSampling(const Bytes& jpeg) {
    for (std::size_t i = 2; i + 11 < jpeg.size();) {
        const int marker = jpeg[i + 1], length = jpeg[i + 2] << 8 | jpeg[i + 3];
        if (marker >= 0xC0 && marker <= 0xC2) return jpeg[i + 11];
        i += 2 + static_cast<std::size_t>(length);
    }
    return -1;
}

TEST(Encode, WritesTheChromaSamplingThatIsAskedForAtAnyQuality) {
    const Straight8 raster = test::textured({64, 48});
    for (const int quality : {10, 75, 90, 95, 100}) {
        EXPECT_EQ(lumaSampling(good(
                      encode(raster, {Content::jpeg, quality, Chroma::full, Effort::release}))),
                  0x11)
            << quality;
        EXPECT_EQ(lumaSampling(good(
                      encode(raster, {Content::jpeg, quality, Chroma::half, Effort::release}))),
                  0x22)
            << quality;
    }
}

TEST(Encode, WritesNoAlphaChannelForNothing) {
    EXPECT_FALSE(good(readFacts(test::png(test::textured({5, 5})), "o")).alphaChannel);
    EXPECT_TRUE(good(readFacts(test::png(Straight8::cleared({5, 5}, packed(1, 2, 3, 254))), "s"))
                    .alphaChannel);
}

TEST(Encode, TagsSrgbAndNothingElse) {
    const std::string png = test::textOf(test::png(test::textured({9, 9})));
    EXPECT_EQ(png.substr(33, 9), std::string("\0\0\0\1sRGB\0", 9))
        << "behind the header: ISO/IEC 15948, 11.3.3.5";
    EXPECT_EQ(test::textOf(test::jpeg(test::textured({9, 9}))).find("ICC_PROFILE"),
              std::string::npos)
        << "without one it is sRGB";
    for (const Bytes& bytes :
         {test::png(test::textured({9, 9})), test::jpeg(test::textured({9, 9}))}) {
        const std::string text = test::textOf(bytes);
        for (const char* not_wanted : {"Exif", "tEXt", "iTXt", "tIME", "8BIM"})
            EXPECT_EQ(text.find(not_wanted), std::string::npos) << not_wanted;
        EXPECT_TRUE(good(readFacts(bytes, "x")).profileIsSrgb);
    }
}

// A release is never larger than the quick look that bounds it, whatever filters its sample chose.
TEST(Encode, AReleasedPngIsExactAndNeverLargerThanItsQuickLook) {
    const Straight8 ramp =
        test::painted({300, 700}, [](int x, int y) { return packed(x, y, x + 2 * y, 255); });
    const Straight8 noise = test::noisy({331, 397});
    // A photograph's like: only this one is too large to be tried whole, and takes the quick look's
    // filter.
    const Straight8 speck = test::noisy({700, 500});
    const Straight8 grain = test::painted({700, 500}, [&](int x, int y) {
        const int by = static_cast<int>(speck.row(y)[x] & 7u);
        return packed(x / 4 + by, y / 3 + by, (x + y) / 6 + by, 255);
    });
    for (const Straight8* picture : {&ramp, &noise, &grain}) {
        const Bytes release = good(encode(*picture, {}));
        EXPECT_LE(release.size(),
                  good(encode(*picture, {Content::png, 0, Chroma::full, Effort::quick})).size());
        EXPECT_TRUE(
            std::ranges::equal(good(decode(release, "x")).pixels->pixels(), picture->pixels()));
    }
    EXPECT_LT(good(encode(ramp, {})).size(), 6'300u)
        << "one byte in a hundred: its neighbours foretell every pixel";
    EXPECT_LT(good(encode(noise, {})).size(), noise.pixels().size() * 4 + 1'000)
        << "noise costs no more than itself";
}

// ISO/IEC 15948: a palette PNG has colour type 3, a PLTE chunk and, here, the sRGB chunk; tRNS only
// where it is see-through.
TEST(Encode, PalettesAreTaggedAndSeeThroughOnlyWhereTheFrameIs) {
    const Encoding palette{Content::png, 0, Chroma::full, Effort::release, true, true};
    const Bytes opaque = good(encode(test::textured({70, 40}), palette));
    EXPECT_EQ(opaque[25], 3) << "colour type";
    EXPECT_NE(test::textOf(opaque).find("sRGB"), std::string::npos);
    EXPECT_EQ(test::textOf(opaque).find("tRNS"), std::string::npos);
    const Straight8 glass =
        test::painted({70, 40}, [](int x, int y) { return packed(200, y * 5, 30, x * 3); });
    const Bytes through = good(encode(glass, palette));
    EXPECT_NE(test::textOf(through).find("tRNS"), std::string::npos);
    const Picture back = good(decode(through, "x"));
    EXPECT_TRUE(back.facts.alphaChannel);
    double off = 0;
    for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 70; ++x) off += std::abs(alphaOf(back.pixels->row(y)[x]) - x * 3);
    EXPECT_LT(off / (70 * 40), 8);
}

// Nothing depends on who asked for the colours first, or on whether they were shared.
TEST(Encode, ASharedPaletteWritesTheSameBytes) {
    const Straight8 frame = test::textured({160, 90});
    const Encoding dithered{Content::png, 0, Chroma::full, Effort::release, true, true};
    Encoding plain = dithered;
    plain.dither = false;
    const Encoding gif{Content::gif, 0, Chroma::full, Effort::release};
    for (const std::vector<Encoding>& order :
         {std::vector{dithered, plain, gif}, std::vector{gif, plain, dithered}}) {
        ColourTable shared(frame);
        for (const Encoding& e : order)
            EXPECT_EQ(good(encode(frame, e, &shared)), good(encode(frame, e))) << nameOf(e);
    }
    // What is measured without reading the file back is what the file holds.
    ColourTable measured(frame);
    for (const Encoding& e : {dithered, plain, gif}) {
        const Picture back = good(decode(good(encode(frame, e)), "x"));
        const Straight8 shown = good(measured.picture(e.dither));
        EXPECT_TRUE(std::ranges::equal(back.pixels->pixels(), shown.pixels())) << nameOf(e);
    }
    ColourTable shared(frame);
    Bytes first, second;
    {
        const std::jthread other([&] { first = good(encode(frame, gif, &shared)); });
        second = good(encode(frame, plain, &shared));
    }
    EXPECT_EQ(first, good(encode(frame, gif)));
    EXPECT_EQ(second, good(encode(frame, plain)));
}

TEST(Encode, AGifLongerThanItsFormatCanTellIsRefused) {
    const auto made = encode(Straight8::cleared({65536, 1}, packed(1, 2, 3, 255)),
                             {Content::gif, 0, Chroma::full, Effort::release});
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().code, Code::unwritable);
    EXPECT_NE(made.error().what.find("GIF"), std::string::npos);
}

TEST(Encode, NeverTurnsSeeThroughSolidUnasked) {
    const Straight8 glass = Straight8::cleared({8, 8}, packed(200, 100, 50, 128));
    const auto jpeg = encode(glass, {Content::jpeg, 90, Chroma::full, Effort::release});
    ASSERT_FALSE(jpeg);
    EXPECT_EQ(jpeg.error().code, Code::limitNotMet);
    FitOptions options{{Content::jpeg}, 100'000, {}, {}, false};
    EXPECT_NE(fitToLimit(glass, options).error().what.find("see-through"), std::string::npos);
    options.matte = Colour{255, 255, 255, 255};
    const Fitted fitted = good(fitToLimit(glass, options));
    EXPECT_FALSE(fitted.alphaKept);
    // 128/255 of the ink over white: 200 -> 227, 100 -> 177, 50 -> 152 (rounded).
    const std::uint32_t p = good(decode(fitted.bytes, "x")).pixels->row(4)[4];
    EXPECT_NEAR(redOf(p), 227, 1);
    EXPECT_NEAR(greenOf(p), 177, 1);
    EXPECT_NEAR(blueOf(p), 152, 1);
}

TEST(Fit, TakesTheExactFormatWhereItFits) {
    const Straight8 raster = test::textured({120, 80});
    const auto size = static_cast<long long>(good(encode(raster, {})).size());
    const Fitted fits =
        good(fitToLimit(raster, {{Content::jpeg, Content::png}, size, {}, {}, false}));
    EXPECT_EQ(fits.encoding.format, Content::png);
    EXPECT_EQ(fits.difference, Difference{});
    const Fitted tighter =
        good(fitToLimit(raster, {{Content::jpeg, Content::png}, size - 1, {}, {}, false}));
    EXPECT_EQ(tighter.encoding.format, Content::jpeg);
    EXPECT_LE(static_cast<long long>(tighter.bytes.size()), size - 1);
}

// Each quality, sampling, table and order of scans: none that fits is nearer to the picture.
TEST(Fit, IsAsNearAsTheBestOfAllThatFit) {
    const Straight8 raster = test::textured({96, 64}, 60);
    for (const long long limit : {1'500LL, 4'000LL, 1'000'000LL}) {
        double best = -1;
        for (const Chroma chroma : {Chroma::full, Chroma::half, Chroma::wide})
            for (const Table table : {Table::printed, Table::even})
                for (int q = 1; q <= 100; ++q) {
                    Encoding e{Content::jpeg, q, chroma, Effort::release};
                    e.table = table;
                    const auto bytes = good(encode(raster, e));
                    if (static_cast<long long>(bytes.size()) <= limit)
                        best = std::max(best, ssim(raster, *good(decode(bytes, "tried")).pixels));
                }
        const auto fitted = good(fitToLimit(raster, {{Content::jpeg}, limit, {}, {}, false}));
        EXPECT_GE(fitted.difference.ssim, best - 0.002) << limit;
        EXPECT_LE(static_cast<long long>(fitted.bytes.size()), limit);
        EXPECT_LE(fitted.tried.size(), 6u * 14u) << "far fewer than all";
    }
}

TEST(Fit, AJpegThatFitsIsKeptBitByBitAndLosesItsMetadata) {
    const Straight8 raster = test::textured({64, 48});
    Bytes file = test::jpeg(raster, 80);
    // A comment (ITU-T T.81, B.2.4.5) behind the start of the image.
    const std::string words = "taken by someone";
    Bytes comment{0xFF, 0xFE, 0, static_cast<std::uint8_t>(words.size() + 2)};
    comment.insert(comment.end(), words.begin(), words.end());
    const Bytes plain = file;
    file.insert(file.begin() + 2, comment.begin(), comment.end());
    FitOptions options;
    options.formats = {Content::jpeg, Content::png};
    options.limit = static_cast<long long>(plain.size());
    const auto kept = keptAsItIs(file, options);
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->bytes, plain);
    EXPECT_EQ(kept->difference, (Difference{1, 0}));
    options.limit = static_cast<long long>(plain.size()) - 1;
    EXPECT_FALSE(keptAsItIs(file, options));
    options.limit.reset();
    options.formats = {Content::png};
    EXPECT_FALSE(keptAsItIs(file, options));
    EXPECT_FALSE(keptAsItIs(test::png(raster), {{Content::jpeg}, {}, {}, {}, false}));
    // Cut short anywhere in its segments it is no file to keep.
    for (std::size_t n = 0; n < 60; ++n)
        (void)keptAsItIs(ByteView(file).first(n), {{Content::jpeg}, {}, {}, {}, false});
}

TEST(Fit, FewerColoursAreTriedBeforeNothingFits) {
    const Straight8 raster = test::noisy({60, 60});
    const auto whole = static_cast<long long>(
        good(encode(raster, {Content::png, 0, Chroma::full, Effort::release, true})).size());
    const auto fitted = good(fitToLimit(raster, {{Content::png}, whole / 2, {}, {}, false}));
    EXPECT_TRUE(fitted.encoding.palette);
    EXPECT_LT(fitted.encoding.colours, 256);
    EXPECT_LE(static_cast<long long>(fitted.bytes.size()), whole / 2);
}

TEST(Png, GreyAndFewColoursTakeFewerBytesAndAreTheSamePixels) {
    const auto same = [](const Straight8& raster) {
        const Bytes bytes = good(encode(raster, {}));
        const auto back = good(decode(bytes, "back"));
        EXPECT_TRUE(std::equal(raster.pixels().begin(), raster.pixels().end(),
                               back.pixels->pixels().begin()));
        return static_cast<int>(bytes[25]);  // the colour type: ISO/IEC 15948, 11.2.2
    };
    EXPECT_EQ(same(test::painted({90, 70},
                                 [](int x, int y) {
                                     const int v = (x * 37 + y * y * 11) % 256;
                                     return packed(v, v, v, 255);
                                 })),
              0);
    EXPECT_EQ(same(test::painted({90, 70},
                                 [](int x, int y) {
                                     const int v = (x * 37 + y * y * 11) % 256;
                                     return packed(v, v, v, 100 + x);
                                 })),
              4);
    EXPECT_EQ(same(test::painted({90, 70},
                                 [](int x, int y) {
                                     return (x / 9 + y / 7) % 2 ? packed(250, 20, 30, 255)
                                                                : packed(10, 90, 200, 40);
                                 })),
              3);
    EXPECT_EQ(same(test::textured({90, 70})), 2);
    for (const PixelSize size :
         {PixelSize{1, 1}, PixelSize{3, 1}, PixelSize{7, 5}, PixelSize{1, 9}})
        for (int colours : {1, 2, 3, 5, 17})
            same(test::painted(size, [=](int x, int y) {
                const int c = (x * 5 + y * 3) % colours;
                return packed(c * 15, 255 - c * 9, c, 255);
            }));
}

TEST(Fit, SaysWhenNothingFitsAndWhenItIsStopped) {
    const Straight8 raster = test::textured({160, 90});
    const auto none = fitToLimit(raster, {{Content::png, Content::jpeg}, 100, {}, {}, false});
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, Code::limitNotMet);
    EXPECT_NE(none.error().what.find("100 bytes"), std::string::npos);
    std::stop_source stop;
    int calls = 0;
    const auto stopped =
        fitToLimit(raster, {{Content::jpeg}, 4'000, {}, {}, false}, stop.get_token(), [&](double) {
            if (++calls == 2) stop.request_stop();
        });
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, Code::cancelled);
    EXPECT_LE(calls, 1 + coreCount()) << "those that have begun";
}

TEST(Difference, IsNothingForEqualsAndGrowsWithHarm) {
    const Straight8 raster = test::textured({90, 60});
    EXPECT_DOUBLE_EQ(ssim(raster, raster), 1);
    EXPECT_DOUBLE_EQ(de00Percentile99(raster, raster), 0);
    const auto after = [&](int quality) {
        return difference(raster, *good(decode(test::jpeg(raster, quality), "x")).pixels);
    };
    EXPECT_GT(after(90).ssim, after(30).ssim);
    EXPECT_LT(after(90).de00P99, after(30).de00P99);
}

TEST(Difference, LaysSeeThroughPicturesOnMidGrey) {
    // Nothing at all equals mid grey.
    EXPECT_DOUBLE_EQ(ssim(Straight8::cleared({20, 20}, 0),
                          Straight8::cleared({20, 20}, packed(128, 128, 128, 255))),
                     1);
}

}  // namespace
}  // namespace zl
