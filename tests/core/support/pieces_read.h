// SPDX-License-Identifier: GPL-3.0-or-later
// A piece read, mended or lettered in one call.
#pragma once

#include <cmath>

#include "measure/measure.h"
#include "mend/mend.h"
#include "mend/mend_parts.h"
#include "support/support.h"

namespace zl {

using test::good;
using test::one;

inline PieceReadings read(const Kit& kit) {
    InkStore store;
    const Piece& piece = kit.pieces.front();
    return good(readPiece({piece, kit}, test::brief(piece.brief), store, Weighing::quickBound));
}

inline Reading ofPiece(const std::string& id, const Kit& kit) {
    return one(read(kit).readings, id);
}

inline Kit after(const std::string& mend, const Kit& kit) {
    InkStore store;
    return good(mended(mend, kit, "p", test::brief(kit.pieces[0].brief), store));
}

inline Straight8 disc(int size) {
    return test::painted({size, size}, [=](int x, int y) {
        // 8 x 8 samples a pixel: the share of it inside the circle.
        int in = 0;
        for (int j = 0; j < 8; ++j)
            for (int i = 0; i < 8; ++i)
                in += std::hypot(x + (i + 0.5) / 8 - size / 2.0, y + (j + 0.5) / 8 - size / 2.0) <=
                      size / 2.0;
        return packed(250, 120, 20, in * 255 / 64);
    });
}

// The badge is 0.86 .. 0.985 by 0.85 .. 0.965 of 1280 x 720: px 1100.8 .. 1260.8 by 612 .. 694.8.
inline Kit discAt(double x, double y, int size = 60) {
    return test::withPicture(test::kitWith("video-thumbnail", {1280, 720}), disc(size),
                             {x, y, static_cast<double>(size), static_cast<double>(size)},
                             "disc.png");
}

inline Kit lettered(const char* fill, const char* ground, double size = 120, double outline = 0,
                    const char* rim = "#000000") {
    const Colour behind = good(parseColour(ground));
    Kit kit = test::withPicture(
        test::kitWith("video-thumbnail", {1280, 720}),
        Straight8::cleared({1280, 720}, packed(behind.red, behind.green, behind.blue, 255)),
        {0, 0, 1280, 720});
    kit = test::withLetters(kit, "HELLO", size, {200, 200});
    Layer layer = kit.pieces[0].layers[1];
    layer.lettering()->colour = good(parseColour(fill));
    if (outline > 0) layer.finishes = {outlineOf(outline, good(parseColour(rim)))};
    return good(withChangedLayer(kit, "p", layer));
}

}  // namespace zl
