// SPDX-License-Identifier: GPL-3.0-or-later
#include <array>

#include "core/support/noise.h"
#include "encode/encode.h"
#include "picture/content.h"
#include "picture/decode.h"
#include "raster/over.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

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

// ITU-T T.81, B.2.1: EOI ends the file. Where it alone is lacking nothing of the picture is.
TEST(Decode, AJpegWithoutItsLastMarkerIsWholeAndOneThatBreaksOffIsNot) {
    const auto same = [](const Picture& one, const Picture& other) {
        return std::ranges::equal(one.pixels->pixels(), other.pixels->pixels());
    };
    for (const bool progressive : {false, true}) {
        Encoding how{Content::jpeg, 85, Chroma::half};
        how.progressive = progressive;
        const Bytes whole = good(encode(test::textured({160, 120}), how));
        const Bytes open(whole.begin(), whole.end() - 2);
        EXPECT_TRUE(same(good(decode(open, "open.jpg")), good(decode(whole, "whole.jpg"))));
        EXPECT_TRUE(same(good(decodeFor({20, 15}, open, "open.jpg")),
                         good(decodeFor({20, 15}, whole, "whole.jpg"))));
        Bytes more = whole;
        more.insert(more.end(), 500, 0x5A);
        EXPECT_TRUE(same(good(decode(more, "more.jpg")), good(decode(whole, "whole.jpg"))))
            << "what lies behind its end is not looked at";
        for (std::size_t less = 1; less < 40; ++less) {
            const Bytes broken(whole.begin(), whole.end() - static_cast<std::ptrdiff_t>(2 + less));
            EXPECT_FALSE(decode(broken, "broken.jpg")) << less << " bytes less";
        }
    }
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
