// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts against scenes whose alpha and ink are known, and shapes against their areas.
#include "cut/cut.h"

#include <fmt/core.h>

#include <numbers>

#include "cut/shape.h"
#include "raster/components.h"
#include "raster/decode.h"
#include "render/render.h"
#include "support/scenes.h"

namespace zl {
namespace {

using test::Errors;
using test::good;
using test::Rgb;

const Rgb white{255, 255, 255}, green{0, 177, 64};

Straight8 afterJpeg(const Straight8& picture, Chroma chroma) {
    const Bytes bytes = good(encode(picture, {Content::jpeg, 90, chroma, Effort::release}));
    return good(decode(bytes, "scene.jpg")).pixels->clone();
}

enum class Source { lossless, full, half };

struct Case {
    const char* name;
    Rgb background, ink;
    Source source;
    double alpha, colour;  // what is allowed
};

const std::vector<Case>& cases() {
    static const std::vector<Case> all{
        {"dark ink on white", white, {30, 60, 90}, Source::lossless, 0.001, 0.5},
        {"red ink on white", white, {200, 30, 40}, Source::lossless, 0.001, 0.5},
        {"light grey ink on white", white, {196, 198, 200}, Source::lossless, 0.001, 0.5},
        {"dark ink on green", green, {30, 30, 40}, Source::lossless, 0.001, 0.5},
        {"light ink on green", green, {228, 228, 220}, Source::lossless, 0.001, 0.5},
        {"dark ink on white, JPEG 90 4:4:4", white, {30, 60, 90}, Source::full, 0.012, 4.5},
        {"dark ink on white, JPEG 90 4:2:0", white, {30, 60, 90}, Source::half, 0.012, 4.5},
        {"red ink on white, JPEG 90 4:4:4", white, {200, 30, 40}, Source::full, 0.012, 4.5},
        {"red ink on white, JPEG 90 4:2:0", white, {200, 30, 40}, Source::half, 0.012, 4.5},
        {"light grey ink on white, JPEG 90 4:4:4", white, {196, 198, 200}, Source::full, 0.036, 8.5},
        {"light grey ink on white, JPEG 90 4:2:0", white, {196, 198, 200}, Source::half, 0.036, 8.5},
        {"dark ink on green, JPEG 90 4:4:4", green, {30, 30, 40}, Source::full, 0.022, 5},
        {"light ink on green, JPEG 90 4:4:4", green, {228, 228, 220}, Source::full, 0.022, 5},
        {"dark ink on green, JPEG 90 4:2:0", green, {30, 30, 40}, Source::half, 0.035, 9.5},
        {"light ink on green, JPEG 90 4:2:0", green, {228, 228, 220}, Source::half, 0.035, 9.5},
    };
    return all;
}

Straight8 sourceOf(const test::Scene& scene, const Case& c) {
    Straight8 picture = test::onto(scene, c.background);
    return c.source == Source::lossless ? std::move(picture) : afterJpeg(picture, c.source == Source::full ? Chroma::full : Chroma::half);
}

// What a plain threshold of the same colour makes of it.
Straight8 thresholded(const Straight8& picture, const Rgb& background, double tolerance) {
    return test::painted(picture.size(), [&](int x, int y) {
        const std::uint32_t p = picture.row(y)[x];
        return awayFrom(p, background) <= tolerance ? p & 0xFFFFFF : p;
    });
}

TEST(Key, UnmixesTheEdgeWithinTheBoundsForEverySource) {
    const bool table = std::getenv("ZL_TABLE") != nullptr;
    if (table) fmt::print("| source | ours: alpha | colour | threshold: alpha | colour |\n|---|---|---|---|---|\n");
    for (const Case& c : cases()) {
        SCOPED_TRACE(c.name);
        const test::Scene scene = test::sceneOf(c.ink);
        const Straight8 picture = sourceOf(scene, c);
        const KeyCut key{.everywhere = true};
        const Errors ours = errorsOf(scene, keyed(picture, key, 2));
        const Errors plain = errorsOf(scene, thresholded(picture, c.background, 24));
        EXPECT_LE(ours.alpha, c.alpha);
        EXPECT_LE(ours.colour, c.colour);
        EXPECT_LT(ours.alpha * 2, plain.alpha) << "a threshold is far worse";
        if (table)
            fmt::print("| {} | {:.4f} ({}) | {:.2f} ({}) | {:.3f} | {:.1f} |\n", c.name, ours.alpha, c.alpha, ours.colour, c.colour, plain.alpha,
                       plain.colour);
    }
}

}  // namespace
}  // namespace zl
