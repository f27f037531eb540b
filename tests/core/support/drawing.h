// SPDX-License-Identifier: GPL-3.0-or-later
// Bars in a piece, and what a piece is drawn as.
#pragma once

#include "render/render.h"
#include "support/support.h"

namespace zl {

using test::good;

inline Kit withBar(Kit kit, BarShape shape, RealRect place, Colour colour = {0, 0, 0, 255}) {
    Layer layer;
    layer.name = "Bar";
    BarLayer bar;
    bar.shape = shape;
    bar.place = place;
    bar.colour = colour;
    layer.what = bar;
    return good(withLayer(kit, "p", layer));
}

inline Straight8 rendered(const Kit& kit) {
    InkStore store;
    return good(render({kit.pieces[0], kit}, store));
}

inline double inkSum(const Straight8& raster) {
    double sum = 0;
    for (const std::uint32_t p : raster.pixels()) sum += alphaOf(p) / 255.0;
    return sum;
}

}  // namespace zl
