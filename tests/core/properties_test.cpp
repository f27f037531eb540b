// SPDX-License-Identifier: GPL-3.0-or-later
// What holds for any input, tried on a hundred made ones each.
#include <rapidcheck.h>

#include <cmath>

#include "base/parallel.h"
#include "edit/snapping.h"
#include "encode/fit.h"
#include "mend/mend_parts.h"
#include "picture/decode.h"
#include "raster/resample.h"
#include "render/render.h"
#include "store/kit_file.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

PixelSize anySize(int most) {
    return {*rc::gen::inRange(1, most), *rc::gen::inRange(1, most)};
}

RealRect anyRect(int low, int high, int most) {
    const auto part = [] { return *rc::gen::inRange(0, 4) / 4.0; };
    return {*rc::gen::inRange(low, high) + part(), *rc::gen::inRange(low, high) + part(),
            *rc::gen::inRange(1, most) + part(), *rc::gen::inRange(1, most) + part()};
}

Colour anyColour() {
    const auto channel = [] { return static_cast<std::uint8_t>(*rc::gen::inRange(0, 256)); };
    return {channel(), channel(), channel(), 255};
}

Straight8 anyRaster(PixelSize size) {
    const auto seed = *rc::gen::inRange(1, 1 << 20);
    return test::painted(size, [=](int x, int y) {
        std::uint32_t n = static_cast<std::uint32_t>(x * 7919 + y * 104729 + seed) * 2654435761u;
        n ^= n >> 15;
        return n * 2246822519u;
    });
}

Layer anyLayer(const Kit& kit) {
    Layer layer;
    layer.name = *rc::gen::container<std::string>(rc::gen::inRange('!', '~'));
    layer.hidden = *rc::gen::arbitrary<bool>();
    layer.opacity = *rc::gen::inRange(0, 101) / 100.0;
    if (*rc::gen::arbitrary<bool>()) layer.essential = *rc::gen::arbitrary<bool>();
    layer.blend = *rc::gen::element(Blend::normal, Blend::multiply, Blend::screen, Blend::overlay,
                                    Blend::softLight);
    layer.turn = {*rc::gen::element(0.0, 90.0, -180.0, 31.5), *rc::gen::arbitrary<bool>(),
                  *rc::gen::arbitrary<bool>()};
    for (int i = *rc::gen::inRange(0, 3); i > 0; --i) {
        Finish finish =
            makeFinish(*rc::gen::element<std::string>("outline", "shadow", "glow", "bevel"));
        finish.values[0] = *rc::gen::inRange(0, 9);
        finish.colour = anyColour();
        finish.off = *rc::gen::arbitrary<bool>();
        layer.finishes.push_back(finish);
    }
    const int kind = *rc::gen::inRange(0, 3);
    if (kind == 2) {
        BarLayer bar;
        bar.shape = static_cast<BarShape>(*rc::gen::inRange(0, 6));
        bar.place = anyRect(-100, 200, 300);
        bar.colour = anyColour();
        if (*rc::gen::arbitrary<bool>()) bar.fade = Colour{1, 2, 3, 0};
        layer.what = bar;
    } else if (kind == 1) {
        layer.what = PictureLayer{kit.assets.begin()->first, anyRect(0, 20, 40),
                                  anyRect(-100, 200, 300), *rc::gen::arbitrary<bool>()};
    } else {
        LetteringLayer letters;
        letters.at = {*rc::gen::inRange(-50, 200) + 0.5,
                      static_cast<double>(*rc::gen::inRange(-50, 200))};
        letters.text = *rc::gen::container<std::string>(rc::gen::inRange(' ', '~'));
        letters.size = *rc::gen::inRange(1, 200);
        letters.align = *rc::gen::element(Align::left, Align::centre, Align::right);
        letters.colour = anyColour();
        letters.tracking = *rc::gen::inRange(-50, 300);
        letters.caps = *rc::gen::arbitrary<bool>();
        letters.vertical = *rc::gen::arbitrary<bool>();
        layer.what = letters;
    }
    return layer;
}

Kit anyKit() {
    Kit kit = withAsset(test::kitWith("free-frame", {160, 90}),
                        makeAsset(test::png(test::textured({50, 40})), "any.png"));
    const int count = *rc::gen::inRange(0, 6);
    for (int i = 0; i < count; ++i)
        if (auto next = withLayer(kit, "p", anyLayer(kit))) kit = std::move(*next);
    return kit;
}

TEST(Properties, AKitThatEditsMadeOpensAgainAsItWas) {
    const Json schema = good(schemaNamed("kit.schema.json"));
    EXPECT_TRUE(rc::check([&] {
        Kit kit = anyKit();
        const auto back = unpackKit(good(packKit(kit)), schema, "any");
        RC_ASSERT(back.has_value());
        // Originals that no layer shows are not kept.
        kit.assets.eraseIf(
            [used = kit.assetsInUse()](const auto& one) { return !used.contains(one.first); });
        RC_ASSERT(*back == kit);
    }));
}

TEST(Properties, WhatIsDamagedIsAllThatChanges) {
    EXPECT_TRUE(rc::check([] {
        const Kit kit = anyKit();
        if (kit.pieces[0].layers.empty()) return;
        Layer layer = *rc::gen::elementOf(kit.pieces[0].layers);
        const auto next = withChangedLayer(
            kit, "p", moved(layer, *rc::gen::inRange(-80, 80), *rc::gen::inRange(-80, 80) + 0.25));
        RC_ASSERT(next.has_value());
        InkStore store;
        Straight8 patched = good(render({kit.pieces[0], kit}, store));
        const PixelRect damage = damageBetween(kit.pieces[0], {next->pieces[0], *next}, store);
        RC_ASSERT(renderInto(patched, damage, {next->pieces[0], *next}, store).has_value());
        const Straight8 whole = good(render({next->pieces[0], *next}, store));
        RC_ASSERT(
            std::equal(whole.pixels().begin(), whole.pixels().end(), patched.pixels().begin()));
    }));
}

TEST(Properties, ExactFormatsGiveBackEveryPixelOfAnySize) {
    EXPECT_TRUE(rc::check([] {
        const Straight8 raster = anyRaster(anySize(64));
        for (const Encoding& encoding :
             {Encoding{}, Encoding{Content::png, 0, Chroma::full, Effort::quick},
              Encoding{Content::webp, 0}}) {
            const Picture back = good(decode(good(encode(raster, encoding)), "any"));
            for (std::size_t i = 0; i < raster.pixels().size(); ++i) {
                const std::uint32_t p = raster.pixels()[i], q = back.pixels->pixels()[i];
                // WebP keeps no colour where nothing is seen (its own choice, as libwebp documents
                // it).
                RC_ASSERT(p == q ||
                          (alphaOf(p) == 0 && alphaOf(q) == 0 && encoding.format == Content::webp));
            }
        }
    }));
}

TEST(Properties, NothingThatIsFoundIsEverOverItsLimit) {
    EXPECT_TRUE(rc::check([] {
        const Straight8 raster = test::textured(anySize(80), *rc::gen::inRange(1, 90));
        const long long limit = *rc::gen::inRange(300, 20'000);
        const auto fitted = fitToLimit(
            raster,
            {{Content::png, Content::jpeg, Content::gif, Content::webp}, limit, {}, {}, false});
        if (fitted) {
            RC_ASSERT(static_cast<long long>(fitted->bytes.size()) <= limit);
            RC_ASSERT(good(decode(fitted->bytes, "any")).facts.size == raster.size());
        } else {
            RC_ASSERT(fitted.error().code == Code::limitNotMet);
        }
    }));
}

TEST(Properties, SnappingNeverReachesFartherThanItMay) {
    EXPECT_TRUE(rc::check([] {
        const PixelSize frame = anySize(2000);
        const RealRect box = anyRect(-300, 2000, 900);
        const double reach = *rc::gen::inRange(0, 20);
        const auto lines =
            snapLines(frame, {anyRect(0, 900, 300)}, {anyRect(0, 900, 300), anyRect(0, 900, 300)});
        const Snapped snapped = snap(box, lines, reach);
        RC_ASSERT(std::abs(snapped.by.x) <= reach && std::abs(snapped.by.y) <= reach);
        if (snapped.upright) {
            const double at = snapped.upright->at - snapped.by.x;
            RC_ASSERT(std::min({std::abs(at - box.x), std::abs(at - box.centre().x),
                                std::abs(at - box.right())}) < 1e-9);
        } else {
            RC_ASSERT(snapped.by.x == 0);
        }
    }));
}

TEST(Properties, AMoveIntoTheClearIsClear) {
    EXPECT_TRUE(rc::check([] {
        const RealRect inside{0, 0, 400, 300}, box = anyRect(-50, 400, 120);
        const std::vector<RealRect> obstacles{anyRect(0, 380, 120), anyRect(0, 380, 120)};
        const auto by = shortestMove(box, inside, obstacles);
        if (!by) return;
        const RealRect there{box.x + by->x, box.y + by->y, box.width, box.height};
        RC_ASSERT(there.x >= -1e-6 && there.y >= -1e-6 && there.right() <= 400 + 1e-6 &&
                  there.bottom() <= 300 + 1e-6);
        for (const RealRect& o : obstacles) {
            const RealRect both = there.intersected(o);
            RC_ASSERT(both.width <= 1e-5 || both.height <= 1e-5);
        }
        RC_ASSERT(by->x == std::round(by->x) && by->y == std::round(by->y));
    }));
}

TEST(Properties, TheSameInkOnAnyNumberOfThreads) {
    EXPECT_TRUE(rc::check([] {
        const auto source = std::make_shared<const Straight8>(anyRaster(anySize(60)));
        const RealRect place = anyRect(-20, 60, 90);
        const PixelRect want{-30, -30, 160, 160};
        const Straight8 one =
            rounded8(resampled(source, false, RealRect::of(source->size()), place, want, 1));
        const Straight8 many =
            rounded8(resampled(source, false, RealRect::of(source->size()), place, want, 5));
        RC_ASSERT(one.size() == many.size());
        RC_ASSERT(std::equal(one.pixels().begin(), one.pixels().end(), many.pixels().begin()));
    }));
}

}  // namespace
}  // namespace zl
