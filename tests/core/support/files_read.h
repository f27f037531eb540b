// SPDX-License-Identifier: GPL-3.0-or-later
// Files and pieces read and mended in one call.
#pragma once

#include "measure/measure.h"
#include "mend/mend.h"
#include "support/support.h"

namespace zl {

using test::good;
using test::one;

inline std::vector<Reading> ofPiece(const Kit& kit) {
    InkStore store;
    const Piece& piece = kit.pieces.front();
    return good(readPiece({piece, kit}, test::brief(piece.brief), store, Weighing::exact)).readings;
}

inline Reading ofFile(const std::string& id, const Bytes& bytes, const std::string& briefId,
                      const std::string& name = "x.png") {
    return one(good(readPictureFile(bytes, name, test::brief(briefId))).readings, id);
}

inline Kit placed(RealRect place, PixelSize source = {200, 100}) {
    return test::withPicture(test::kitWith("video-thumbnail", {1280, 720}), test::textured(source),
                             place);
}

// Mends: afterwards the same reading passes, and the rest stands as it was.

struct Mended {
    Kit before, after;
    Reading reading;
};
inline Mended mend(const std::string& id, const std::string& readingId, const Kit& kit) {
    InkStore store;
    const Reading before = one(ofPiece(kit), readingId);
    EXPECT_GT(before.verdict, Verdict::pass);
    EXPECT_NE(std::find(before.mends.begin(), before.mends.end(), id), before.mends.end())
        << "it is offered";
    const Kit after = good(mended(id, kit, "p", test::brief(kit.pieces[0].brief), store));
    return {kit, after, one(ofPiece(after), readingId)};
}

}  // namespace zl
