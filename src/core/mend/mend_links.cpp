// SPDX-License-Identifier: GPL-3.0-or-later
// Link regions put right: led somewhere, apart from each other, large enough, inside the frame.
#include "edit/edits.h"
#include "links/links.h"
#include "mend/mend_parts.h"

namespace zl {
namespace {

PixelRect keptInside(PixelRect r, PixelSize frame) {
    const auto by = [](int low, int high, int end) {
        return low < 0 ? -low : high > end ? std::max(end - high, -low) : 0;
    };
    r = r.moved(by(r.left, r.right, frame.width), by(r.top, r.bottom, frame.height));
    return r.intersected(PixelRect::of(frame));
}

// What is left of `r` beside `other`: the largest of the four rests.
PixelRect beside(const PixelRect& r, const PixelRect& other) {
    const PixelRect rests[] = {{r.left, r.top, std::min(r.right, other.left), r.bottom},
                               {std::max(r.left, other.right), r.top, r.right, r.bottom},
                               {r.left, r.top, r.right, std::min(r.bottom, other.top)},
                               {r.left, std::max(r.top, other.bottom), r.right, r.bottom}};
    PixelRect best;
    for (const PixelRect& rest : rests)
        if (rest.size().count() > best.size().count()) best = rest;
    return best;
}

}  // namespace

Result<Kit> putLinksRight(const PieceToMend& it) {
    Piece out = it.piece;
    for (std::size_t i = 0; i < out.links.size(); ++i) {
        LinkRegion& link = out.links[i];
        if (!checkAddress(link.address) && checkAddress("https://" + link.address))
            link.address = "https://" + link.address;
        // Apart from those before it, then as large as a finger asks, away from them.
        for (std::size_t j = 0; j < i; ++j)
            if (!link.place.intersected(out.links[j].place).empty())
                link.place = beside(link.place, out.links[j].place);
        const int growX = std::max(0, leastTarget - link.place.width()),
                  growY = std::max(0, leastTarget - link.place.height());
        const PixelRect grown{link.place.left - growX / 2, link.place.top - growY / 2,
                              link.place.right + growX - growX / 2,
                              link.place.bottom + growY - growY / 2};
        const PixelRect& r = grown;
        const auto fits = [&](const PixelRect& there) {
            if (there.intersected(PixelRect::of(out.frame)) != there || tooSmallToHit(there))
                return false;
            for (std::size_t j = 0; j < i; ++j)
                if (!there.intersected(out.links[j].place).empty()) return false;
            return true;
        };
        // The nearest place where it fits, in whole px: beside one of the others, or inside the
        // frame.
        std::vector<PixelRect> tries{keptInside(r, out.frame)};
        for (std::size_t j = 0; j < i; ++j) {
            const PixelRect& o = out.links[j].place;
            for (const PixelRect& there :
                 {r.moved(o.left - r.right, 0), r.moved(o.right - r.left, 0),
                  r.moved(0, o.top - r.bottom), r.moved(0, o.bottom - r.top)})
                tries.push_back(keptInside(there, out.frame));
        }
        long long least = -1;
        for (const PixelRect& there : tries) {
            const long long away = std::abs(there.left - r.left) + std::abs(there.top - r.top);
            if (fits(there) && (least < 0 || away < least)) {
                least = away;
                link.place = there;
            }
        }
    }
    if (out.links == it.piece.links)
        return fail(Code::limitNotMet, "These links cannot be put right by themselves.",
                    "Type where they lead, or draw them apart.");
    return withChangedPiece(it.kit, std::move(out));
}

}  // namespace zl
