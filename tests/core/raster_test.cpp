// SPDX-License-Identifier: GPL-3.0-or-later
#include <array>
#include <cmath>

#include "picture/content.h"
#include "picture/decode.h"
#include "picture/shrink.h"
#include "raster/bleed.h"
#include "raster/over.h"
#include "raster/resample.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

std::uint32_t hashed(std::uint32_t v) {
    v = (v ^ 61) ^ (v >> 16);
    v *= 9;
    v ^= v >> 4;
    v *= 0x27d4eb2d;
    return v ^ v >> 15;
}

Straight8 noise(PixelSize size, std::uint32_t seed) {
    return test::painted(size, [=](int x, int y) {
        const std::uint32_t n = hashed(static_cast<std::uint32_t>(x + 8191 * y) + seed * 77777u);
        const std::uint32_t alphas[] = {0, 1, 16, 128, 254, 255, n >> 24, n >> 16 & 255u};
        return (n & 0xFFFFFFu) | alphas[n % 8] << 24;
    });
}

Ink inkOf(const Straight8& raster, int x, int y, double opacity) {
    Ink ink;
    ink.box = PixelRect::of(raster.size()).moved(x, y);
    ink.eight = std::make_shared<Straight8>(raster.clone());
    ink.opaque = isOpaque(raster);
    ink.opacity = static_cast<float>(opacity);
    return ink;
}

Ink wide(const Ink& eight) {
    auto made = std::make_shared<Ink16>(eight.box.size());
    for (int y = 0; y < eight.box.height(); ++y)
        for (int x = 0; x < eight.box.width(); ++x) {
            const std::uint32_t p = eight.eight->row(y)[x];
            const int channels[4] = {redOf(p), greenOf(p), blueOf(p), alphaOf(p)};
            for (int c = 0; c < 4; ++c)
                made->row(c, y)[x] = static_cast<std::uint16_t>(channels[c] * 257);
        }
    Ink ink = eight;
    ink.eight = nullptr;
    ink.sixteen = made;
    return ink;
}

// Porter and Duff 1984, "over", in double precision: premultiplied inside, straight at the end.
std::array<double, 4> overInDouble(std::span<const Ink> inks, int x, int y) {
    std::array<double, 4> acc{};
    for (const Ink& ink : inks) {
        if (x < ink.box.left || x >= ink.box.right || y < ink.box.top || y >= ink.box.bottom)
            continue;
        const std::uint32_t p = ink.eight->row(y - ink.box.top)[x - ink.box.left];
        const double a = alphaOf(p) / 255.0 * ink.opacity,
                     c[3] = {redOf(p) / 255.0, greenOf(p) / 255.0, blueOf(p) / 255.0};
        for (std::size_t i = 0; i < 3; ++i) acc[i] = c[i] * a + acc[i] * (1 - a);
        acc[3] = a + acc[3] * (1 - a);
    }
    return acc;
}

TEST(Over, IsPorterAndDuffWithinHalfACodeValueAtEveryWidth) {
    for (int width = 1; width <= 63; ++width) {
        const std::vector<Ink> inks{inkOf(noise({width, 3}, 1), 0, 0, 1),
                                    inkOf(noise({width, 3}, 2), 1, -1, 0.5),
                                    inkOf(noise({std::max(1, width / 2), 2}, 3), -1, 1, 0.9)};
        std::vector<Ink> wides;
        for (const Ink& ink : inks) wides.push_back(wide(ink));
        for (const bool sixteen : {false, true}) {
            Straight8 frame(PixelSize{width, 3});
            blendOver(sixteen ? wides : inks, PixelRect::of(frame.size()), frame);
            for (int y = 0; y < 3; ++y)
                for (int x = 0; x < width; ++x) {
                    const auto exact = overInDouble(inks, x, y);
                    const std::uint32_t p = frame.row(y)[x];
                    ASSERT_NEAR(alphaOf(p), exact[3] * 255, 0.51) << width << ' ' << x << ' ' << y;
                    if (alphaOf(p) == 0) continue;
                    const int c[3] = {redOf(p), greenOf(p), blueOf(p)};
                    for (std::size_t i = 0; i < 3; ++i)
                        ASSERT_NEAR(c[i], exact[i] / exact[3] * 255, 0.51)
                            << width << ' ' << x << ' ' << y;
                }
        }
    }
}

TEST(Over, AnAlmostInvisibleLayerKeepsItsColour) {
    Straight8 frame(PixelSize{1, 1});
    const Ink ink =
        inkOf(test::painted({1, 1}, [](int, int) { return packed(200, 30, 90, 1); }), 0, 0, 1);
    blendOver({&ink, 1}, {0, 0, 1, 1}, frame);
    EXPECT_EQ(frame.row(0)[0], packed(200, 30, 90, 1));
}

TEST(Over, GivesTheSameBytesOnAnyNumberOfThreadsAndOnlyInTheDamage) {
    const PixelSize size{900, 400};
    const std::vector<Ink> inks{inkOf(test::textured(size), 0, 0, 1),
                                inkOf(noise(size, 5), 3, 4, 0.7)};
    Straight8 one(size), two(size);
    blendOver(inks, PixelRect::of(size), one, 1);
    blendOver(inks, PixelRect::of(size), two, 7);
    EXPECT_TRUE(std::equal(one.pixels().begin(), one.pixels().end(), two.pixels().begin()));
    Straight8 part = Straight8::cleared(size, 0x12345678u);
    const PixelRect damage{100, 50, 300, 90};
    blendOver(inks, damage, part, 2);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const bool inside =
                x >= damage.left && x < damage.right && y >= damage.top && y < damage.bottom;
            ASSERT_EQ(part.row(y)[x], inside ? one.row(y)[x] : 0x12345678u);
        }
}

TEST(Resample, SharesTheSourceWhenNothingIsScaled) {
    const auto source = std::make_shared<const Straight8>(test::textured({30, 20}));
    const Ink ink = resampled(source, true, {2, 3, 10, 8}, {5, 6, 10, 8}, {0, 0, 100, 100});
    EXPECT_EQ(ink.eight, source);
    EXPECT_EQ(ink.box, (PixelRect{5, 6, 15, 14}));
    const Straight8 out = rounded8(ink);
    for (int y = 0; y < 8; ++y)
        for (int x = 0; x < 10; ++x) EXPECT_EQ(out.row(y)[x], source->row(y + 3)[x + 2]);
}

TEST(Resample, KeepsAFlatColourFlatAtAnyScaleAndOffset) {
    for (const PixelSize size : {PixelSize{1, 1}, PixelSize{7, 5}, PixelSize{64, 33}}) {
        const auto source =
            std::make_shared<const Straight8>(Straight8::cleared(size, packed(10, 200, 77, 255)));
        for (const double scale : {0.13, 0.5, 1.0, 1.37, 9.0}) {
            const RealRect place{0.25, 0.75, size.width * scale + 2, size.height * scale + 2};
            const Straight8 out = rounded8(
                resampled(source, true, RealRect::of(size), place, {-100, -100, 2000, 2000}));
            for (const std::uint32_t p : out.pixels())
                if (alphaOf(p) > 0) {
                    ASSERT_EQ(p & 0xFFFFFFu, packed(10, 200, 77, 0)) << scale;
                }
        }
    }
}

TEST(Resample, APixelCoveredInPartGetsThatPartOfTheAlpha) {
    const auto source =
        std::make_shared<const Straight8>(Straight8::cleared({4, 4}, packed(255, 255, 255, 255)));
    const Straight8 out =
        rounded8(resampled(source, true, {0, 0, 4, 4}, {0.25, 0.5, 8, 8}, {-10, -10, 50, 50}));
    EXPECT_EQ(alphaOf(out.row(4)[0]), 191);  // three quarters of 255, rounded
    EXPECT_NEAR(alphaOf(out.row(0)[4]), 127.5, 0.51);
    EXPECT_EQ(alphaOf(out.row(4)[4]), 255);
    EXPECT_NEAR(alphaOf(out.row(8)[8]), 31.9, 0.51);  // a quarter by a half
}

TEST(Resample, DoesNotPullColourOutOfTheSeeThroughPart) {
    // A red disc's half beside green that has alpha 0: no green may show in the edge.
    const auto source = std::make_shared<const Straight8>(test::painted({40, 40}, [](int x, int) {
        return x < 20 ? packed(255, 0, 0, 255) : packed(0, 255, 0, 0);
    }));
    const Straight8 out =
        rounded8(resampled(source, false, RealRect::of({40, 40}), {0, 0, 13, 13}, {0, 0, 13, 13}));
    for (const std::uint32_t p : out.pixels())
        if (alphaOf(p) > 0) {
            EXPECT_EQ(greenOf(p), 0);
            EXPECT_GE(redOf(p), 254);
        }
}

TEST(Resample, NothingComesOfNothing) {
    const auto source = std::make_shared<const Straight8>(test::textured({4, 4}));
    EXPECT_TRUE(resampled(source, true, {0, 0, 0, 4}, {0, 0, 4, 4}, {0, 0, 9, 9}).box.empty());
    EXPECT_TRUE(resampled(source, true, {0, 0, 4, 4}, {20, 0, 4, 4}, {0, 0, 9, 9}).box.empty());
}

TEST(Screen, ShowsAreaMeansOverTheBackdrop) {
    const Straight8 frame = test::painted(
        {4, 2}, [](int x, int) { return x < 2 ? packed(100, 0, 0, 255) : packed(0, 0, 0, 0); });
    std::array<std::uint32_t, 2> out{};
    showOnScreen(frame, {0.5, 0, 0}, {false, {0, 0, 255, 255}, {}}, {1, 2, 3, 255}, {0, 0, 2, 1},
                 out.data(), 2);
    EXPECT_EQ(out[0], 0xFF640000u);
    EXPECT_EQ(out[1], 0xFF0000FFu);
    std::array<std::uint32_t, 3> beyond{};
    showOnScreen(frame, {1, 0.5, 0}, {false, {0, 0, 255, 255}, {}}, {0, 0, 0, 255}, {-1, 0, 2, 1},
                 beyond.data(), 3);
    EXPECT_EQ(beyond[0], 0xFF000000u);
    EXPECT_EQ(beyond[1], 0xFF320000u) << "half of the pixel shows the frame";
}

// What a screen pixel shows, in double precision: the mean of the premultiplied frame area over a
// colour.
std::array<double, 3> shownInDouble(const Straight8& frame, const Mapping& m, const Colour& back,
                                    const Colour& outside, int x, int y) {
    const auto range = [](int at, double origin, double scale) {
        return std::pair{(at - origin) / scale, (at + 1 - origin) / scale};
    };
    const auto [left, right] = range(x, m.originX, m.scale);
    const auto [top, bottom] = range(y, m.originY, m.scale);
    std::array<double, 3> sum{};
    double inside = 0;
    for (int fy = std::max(0, static_cast<int>(std::floor(top)));
         fy < std::min<double>(frame.height(), std::ceil(bottom)); ++fy)
        for (int fx = std::max(0, static_cast<int>(std::floor(left)));
             fx < std::min<double>(frame.width(), std::ceil(right)); ++fx) {
            const double share =
                std::max(0.0, std::min(right, fx + 1.0) - std::max(left, fx * 1.0)) *
                std::max(0.0, std::min(bottom, fy + 1.0) - std::max(top, fy * 1.0)) * m.scale *
                m.scale;
            const std::uint32_t p = frame.row(fy)[fx];
            const double a = alphaOf(p) / 255.0;
            sum[0] += share * (redOf(p) * a + back.red * (1 - a));
            sum[1] += share * (greenOf(p) * a + back.green * (1 - a));
            sum[2] += share * (blueOf(p) * a + back.blue * (1 - a));
            inside += share;
        }
    return {sum[0] + (1 - inside) * outside.red, sum[1] + (1 - inside) * outside.green,
            sum[2] + (1 - inside) * outside.blue};
}

// Solid and see-through stretches in one row, at scales where a screen pixel shows one, a few and
// many of the frame's.
TEST(Screen, IsWithinACodeValueOfDoublePrecisionOnAnyNumberOfThreads) {
    const Straight8 frame = test::painted({900, 600}, [](int x, int y) {
        const std::uint32_t n = static_cast<std::uint32_t>(x * 31 + y * 17) * 2654435761u;
        const int alpha = x < 300   ? 255
                          : x < 600 ? static_cast<int>(n >> 24)
                                    : (x / 7 + y / 5) % 2 * 255;
        return (n & 0xFFFFFFu) | static_cast<std::uint32_t>(alpha) << 24;
    });
    const Colour back{30, 90, 200, 255}, outside{9, 8, 7, 255};
    for (const double scale : {0.05, 0.29, 0.35, 0.5, 1.0, 2.5}) {
        const Mapping mapping{scale, 7.25, -3.5};
        const PixelRect want{-2, -1, static_cast<int>(900 * scale) + 12,
                             static_cast<int>(600 * scale) + 3};
        const auto drawn = [&](int threads) {
            std::vector<std::uint32_t> out(static_cast<std::size_t>(want.size().count()));
            showOnScreen(frame, mapping, {false, back, {}}, outside, want, out.data(), want.width(),
                         threads);
            return out;
        };
        const auto alone = drawn(1);
        EXPECT_EQ(alone, drawn(3)) << scale;
        double worst = 0;
        for (int y = want.top; y < want.bottom; y += 3)
            for (int x = want.left; x < want.right; x += 2) {
                const std::uint32_t p =
                    alone[static_cast<std::size_t>((y - want.top) * want.width() + x - want.left)];
                const auto true3 = shownInDouble(frame, mapping, back, outside, x, y);
                for (int c = 0; c < 3; ++c)
                    worst = std::max(worst, std::abs((p >> (16 - 8 * c) & 255u) -
                                                     true3[static_cast<std::size_t>(c)]));
            }
        EXPECT_LT(worst, 0.51) << scale;
    }
}

TEST(Screen, ChecksAreSquaresThatStandWithTheFrame) {
    const Straight8 nothing = Straight8::cleared({64, 64}, 0);
    const Backdrop checks{true, {255, 255, 255, 255}, {10, 20, 30, 255}};
    std::vector<std::uint32_t> out(40 * 40);
    showOnScreen(nothing, {1, -20, -4}, checks, {}, {0, 0, 40, 40}, out.data(), 40);
    const auto at = [&](int x, int y) { return out[static_cast<std::size_t>(y * 40 + x)]; };
    EXPECT_EQ(at(4, 4), at(11, 11)) << "one square is 8 px wide, from the corner of the frame on";
    EXPECT_NE(at(4, 4), at(12, 4));
    EXPECT_NE(at(3, 4), at(4, 4));
    EXPECT_EQ(at(3, 3), at(4, 4));
    EXPECT_EQ(std::min(at(4, 4), at(12, 4)), 0xFF0A141Eu);
}

TEST(Bleed, GivesTheNearestInksColourUnderNothing) {
    Straight8 raster = Straight8::cleared({30, 30}, 0);
    raster.row(15)[15] = packed(10, 20, 30, 255);
    bleedColour(raster, 8);
    EXPECT_EQ(raster.row(15)[15], packed(10, 20, 30, 255));
    EXPECT_EQ(raster.row(15)[20], packed(10, 20, 30, 0));
    EXPECT_EQ(raster.row(12)[12], packed(10, 20, 30, 0));
    EXPECT_EQ(raster.row(15)[29], 0u);
}

TEST(Sniff, TellsByBytesNeverByName) {
    EXPECT_EQ(sniff(test::png(test::textured({2, 2}))), Content::png);
    EXPECT_EQ(sniff(test::jpeg(test::textured({8, 8}))), Content::jpeg);
    EXPECT_EQ(sniff(test::bytesOf("GIF89a......")), Content::gif);
    EXPECT_EQ(sniff(test::bytesOf("RIFF....WEBPVP8 ")), Content::webp);
    EXPECT_EQ(sniff(test::bytesOf("<?xml version='1.0'?><svg/>")), Content::svg);
    EXPECT_EQ(sniff({}), Content::unknown);
    EXPECT_EQ(contentByEnding(".jpeg"), Content::jpeg);
    EXPECT_EQ(contentByEnding(".jp"), std::nullopt);
    EXPECT_EQ(usualEnding(Content::jpeg), ".jpg");
}

// The JPEG with an EXIF orientation tag (EXIF 2.3, 4.6.4 A: tag 0x0112, a short) as its first
// segment.
Bytes oriented(const Bytes& plain, std::uint8_t orientation) {
    const std::array<std::uint8_t, 36> segment{
        0xFF, 0xE1, 0,    34,   'E', 'x', 'i', 'f', 0, 0, 'M', 'M',         0, 42, 0, 0, 0, 8,
        0,    1,    0x01, 0x12, 0,   3,   0,   0,   0, 1, 0,   orientation, 0, 0,  0, 0, 0, 0};
    Bytes out(plain.begin(), plain.begin() + 2);
    out.insert(out.end(), segment.begin(), segment.end());
    out.insert(out.end(), plain.begin() + 2, plain.end());
    return out;
}

TEST(Decode, HonoursTheOrientationOfACamera) {
    // Left half dark, right half light; orientation 6 turns it clockwise: dark on top.
    const Straight8 half = test::painted({64, 32}, [](int x, int) {
        return x < 32 ? packed(20, 20, 20, 255) : packed(230, 230, 230, 255);
    });
    const Bytes turned = oriented(test::jpeg(half, 95), 6);
    const Picture picture = good(decode(turned, "turned.jpg"));
    EXPECT_EQ(picture.facts.size, (PixelSize{32, 64}));
    EXPECT_EQ(good(readFacts(turned, "turned.jpg")).size, (PixelSize{32, 64}));
    EXPECT_LT(redOf(picture.pixels->row(5)[16]), 40);
    EXPECT_GT(redOf(picture.pixels->row(58)[16]), 210);
}

TEST(Decode, ReadsBackExactlyWhatWasWritten) {
    const Straight8 raster = noise({37, 23}, 9);
    const Picture picture = good(decode(test::png(raster), "n.png"));
    EXPECT_TRUE(std::equal(raster.pixels().begin(), raster.pixels().end(),
                           picture.pixels->pixels().begin()));
    EXPECT_TRUE(picture.facts.alphaChannel);
    EXPECT_FALSE(picture.opaque);
    EXPECT_EQ(good(decode(test::png(test::textured({1, 1})), "one.png")).facts.size,
              (PixelSize{1, 1}));
}

// An IHDR (PNG, W3C 2003, 11.2.2) that claims a size, with a right CRC and no data.
Bytes pngClaiming(std::uint32_t width, std::uint32_t height) {
    Bytes bytes{0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n', 0, 0, 0, 13};
    Bytes chunk{'I', 'H', 'D', 'R'};
    for (const std::uint32_t v : {width, height})
        for (const int shift : {24, 16, 8, 0})
            chunk.push_back(static_cast<std::uint8_t>(v >> shift));
    for (const int v : {8, 2, 0, 0, 0}) chunk.push_back(static_cast<std::uint8_t>(v));
    std::uint32_t crc = 0xFFFFFFFFu;
    for (const std::uint8_t b : chunk) {
        crc ^= b;
        for (int k = 0; k < 8; ++k) crc = crc & 1u ? 0xEDB88320u ^ crc >> 1 : crc >> 1;
    }
    crc ^= 0xFFFFFFFFu;
    bytes.insert(bytes.end(), chunk.begin(), chunk.end());
    for (const int shift : {24, 16, 8, 0}) bytes.push_back(static_cast<std::uint8_t>(crc >> shift));
    // An empty IDAT's header, so that the size is what is judged.
    for (const int b : {0, 0, 0, 0, int('I'), int('D'), int('A'), int('T'), 0x35, 0xaf, 0x06, 0x1e})
        bytes.push_back(static_cast<std::uint8_t>(b));
    return bytes;
}

TEST(Decode, HostilePicturesGiveOneSentence) {
    const auto why = [](const Bytes& bytes) {
        const auto picture = decode(bytes, "x.png");
        return picture ? std::string("read") : picture.error().sentence();
    };
    EXPECT_EQ(why({}), "x.png is empty. Bring the picture again.");
    EXPECT_NE(why(test::bytesOf("hello")).find("not a picture"), std::string::npos);
    for (const char* head : {"GIF89a......................", "RIFF....WEBPVP8 ............",
                             "BM..........................", "II*\0........................",
                             "<svg width='not svg'        "})
        EXPECT_NE(why(test::bytesOf(std::string_view(head, 28))).find("damaged"), std::string::npos)
            << head;
    EXPECT_NE(why(pngClaiming(40'000, 40'000)).find("100 million"), std::string::npos);
    EXPECT_NE(why(pngClaiming(0, 10)).find("damaged"), std::string::npos);
    const Bytes whole = test::png(test::textured({64, 64}));
    for (const double part : {0.02, 0.3, 0.9})
        EXPECT_NE(
            why(Bytes(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(
                                                         part * static_cast<double>(whole.size()))))
                .find("damaged"),
            std::string::npos)
            << part;
    const Bytes photo = test::jpeg(test::textured({64, 64}));
    EXPECT_NE(
        why(Bytes(photo.begin(), photo.begin() + static_cast<std::ptrdiff_t>(photo.size() / 2)))
            .find("damaged"),
        std::string::npos);
    Bytes garbled = whole;
    for (std::size_t i = 60; i < garbled.size(); i += 7)
        garbled[i] = static_cast<std::uint8_t>(garbled[i] ^ 0x5A);
    EXPECT_NE(why(garbled).find("damaged"), std::string::npos);
}

}  // namespace
}  // namespace zl
