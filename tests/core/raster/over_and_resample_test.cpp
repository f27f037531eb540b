// SPDX-License-Identifier: GPL-3.0-or-later
#include <array>

#include "core/support/noise.h"
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

Ink inkOf(const Straight8& raster, int x, int y, double opacity) {
    Ink ink;
    ink.box = PixelRect::of(raster.size()).moved(x, y);
    ink.eight = std::make_shared<Straight8>(raster.clone());
    ink.opaque = isOpaque(raster);
    ink.opacity = static_cast<float>(opacity);
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

TEST(Bleed, GivesTheNearestInksColourUnderNothing) {
    Straight8 raster = Straight8::cleared({30, 30}, 0);
    raster.row(15)[15] = packed(10, 20, 30, 255);
    bleedColour(raster, 8);
    EXPECT_EQ(raster.row(15)[15], packed(10, 20, 30, 255));
    EXPECT_EQ(raster.row(15)[20], packed(10, 20, 30, 0));
    EXPECT_EQ(raster.row(12)[12], packed(10, 20, 30, 0));
    EXPECT_EQ(raster.row(15)[29], 0u);
}

}  // namespace
}  // namespace zl
