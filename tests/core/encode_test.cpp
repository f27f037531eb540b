// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/fit.h"
#include "raster/decode.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

// The luma sampling factors of a JPEG's frame header (ITU-T T.81, B.2.2): 0x11 is 4:4:4, 0x22 is 4:2:0.
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
        EXPECT_EQ(lumaSampling(good(encode(raster, {Content::jpeg, quality, Chroma::full, Effort::release}))), 0x11) << quality;
        EXPECT_EQ(lumaSampling(good(encode(raster, {Content::jpeg, quality, Chroma::half, Effort::release}))), 0x22) << quality;
    }
}

TEST(Encode, WritesNoAlphaChannelForNothing) {
    EXPECT_FALSE(good(readFacts(test::png(test::textured({5, 5})), "o")).alphaChannel);
    EXPECT_TRUE(good(readFacts(test::png(Straight8::cleared({5, 5}, packed(1, 2, 3, 254))), "s")).alphaChannel);
}

TEST(Encode, TagsSrgbAndNothingElse) {
    for (const Bytes& bytes : {test::png(test::textured({9, 9})), test::jpeg(test::textured({9, 9}))}) {
        const std::string text = test::textOf(bytes);
        EXPECT_TRUE(text.find("iCCP") != std::string::npos || text.find("ICC_PROFILE") != std::string::npos);
        for (const char* not_wanted : {"Exif", "tEXt", "iTXt", "tIME", "8BIM"})
            EXPECT_EQ(text.find(not_wanted), std::string::npos) << not_wanted;
        EXPECT_TRUE(good(readFacts(bytes, "x")).profileIsSrgb);
    }
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
    const auto size = static_cast<long long>(test::png(raster).size());
    const Fitted fits = good(fitToLimit(raster, {{Content::jpeg, Content::png}, size, {}, {}, false}));
    EXPECT_EQ(fits.encoding.format, Content::png);
    EXPECT_EQ(fits.difference, Difference{});
    const Fitted tighter = good(fitToLimit(raster, {{Content::jpeg, Content::png}, size - 1, {}, {}, false}));
    EXPECT_EQ(tighter.encoding.format, Content::jpeg);
    EXPECT_LE(static_cast<long long>(tighter.bytes.size()), size - 1);
}

TEST(Fit, FindsWhatTryingEveryQualityFindsInEightEncodesASampling) {
    for (const PixelSize size : {PixelSize{160, 90}, PixelSize{33, 47}}) {
        const Straight8 raster = test::textured(size, 60);
        for (const long long limit : {1'500LL, 4'000LL, 9'000LL, 1'000'000LL}) {
            int best[2] = {0, 0};
            for (const Chroma chroma : {Chroma::full, Chroma::half})
                for (int q = 1; q <= 100; ++q)
                    if (static_cast<long long>(good(encode(raster, {Content::jpeg, q, chroma, Effort::release})).size()) <= limit)
                        best[static_cast<int>(chroma)] = q;
            const auto fitted = fitToLimit(raster, {{Content::jpeg}, limit, {}, {}, false});
            ASSERT_EQ(fitted.has_value(), best[0] > 0 || best[1] > 0) << limit;
            if (!fitted) continue;
            EXPECT_NEAR(fitted->encoding.quality, best[static_cast<int>(fitted->encoding.chroma)], 1) << limit;
            EXPECT_LE(static_cast<long long>(fitted->bytes.size()), limit);
            for (const Chroma chroma : {Chroma::full, Chroma::half})
                EXPECT_LE(
                    std::count_if(fitted->tried.begin(), fitted->tried.end(), [&](const Tried& t) { return t.encoding.chroma == chroma; }),
                    8);
        }
    }
}

TEST(Fit, SaysWhenNothingFitsAndWhenItIsStopped) {
    const Straight8 raster = test::textured({160, 90});
    const auto none = fitToLimit(raster, {{Content::png, Content::jpeg}, 100, {}, {}, false});
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, Code::limitNotMet);
    EXPECT_NE(none.error().what.find("100 bytes"), std::string::npos);
    std::stop_source stop;
    int calls = 0;
    const auto stopped = fitToLimit(raster, {{Content::jpeg}, 4'000, {}, {}, false}, stop.get_token(), [&](double) {
        if (++calls == 2) stop.request_stop();
    });
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, Code::cancelled);
    EXPECT_EQ(calls, 2);
}

TEST(Difference, IsNothingForEqualsAndGrowsWithHarm) {
    const Straight8 raster = test::textured({90, 60});
    EXPECT_DOUBLE_EQ(ssim(raster, raster), 1);
    EXPECT_DOUBLE_EQ(de00Percentile99(raster, raster), 0);
    const auto after = [&](int quality) { return difference(raster, *good(decode(test::jpeg(raster, quality), "x")).pixels); };
    EXPECT_GT(after(90).ssim, after(30).ssim);
    EXPECT_LT(after(90).de00P99, after(30).de00P99);
}

TEST(Difference, LaysSeeThroughPicturesOnMidGrey) {
    // Nothing at all equals mid grey.
    EXPECT_DOUBLE_EQ(ssim(Straight8::cleared({20, 20}, 0), Straight8::cleared({20, 20}, packed(128, 128, 128, 255))), 1);
}

}  // namespace
}  // namespace zl
