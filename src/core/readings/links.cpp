// SPDX-License-Identifier: GPL-3.0-or-later
// `links`: link regions lie inside the frame, do not overlap, are at least 24 x 24 px (WCAG 2.2,
// SC 2.5.8) and lead to a well-formed http(s) address (HTML Living Standard, image maps; WHATWG
// URL).
#include "links/links.h"

#include <fmt/core.h>

#include <algorithm>

#include "kit/edits.h"
#include "readings/mend_parts.h"
#include "readings/reading.h"

namespace zl {
namespace {

std::string nameOf(const LinkRegion& link) {
    return link.says.empty() ? link.address : link.says;
}

bool isSmall(const PixelRect& r) {
    return r.width() < leastTarget || r.height() < leastTarget;
}

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

Reading measureLinks(const Subject& subject) {
    Reading reading;
    reading.unit = "regions";
    const Piece& piece = *subject.piece;
    if (piece.links.empty()) {
        reading.says = {"links.none", {}};
        return reading;
    }
    const PixelRect frame = PixelRect::of(piece.frame);
    std::vector<bool> blamed(piece.links.size());
    const auto tell = [&](std::size_t i, const PixelRect& place, Message says) {
        blamed[i] = true;
        reading.findings.push_back({place, {}, std::move(says)});
    };
    for (std::size_t i = 0; i < piece.links.size(); ++i) {
        const LinkRegion& link = piece.links[i];
        const PixelRect& r = link.place;
        if (r.intersected(frame) != r) tell(i, r, {"links.outside", {nameOf(link)}});
        if (isSmall(r))
            tell(i, r,
                 {"links.small",
                  {nameOf(link), static_cast<long long>(r.width()),
                   static_cast<long long>(r.height())}});
        if (const auto good = checkAddress(link.address); !good)
            tell(i, r, {"links.address", {good.error().what}});
        for (std::size_t j = i + 1; j < piece.links.size(); ++j)
            if (const PixelRect both = r.intersected(piece.links[j].place); !both.empty()) {
                tell(i, both, {"links.overlap", {nameOf(link), nameOf(piece.links[j])}});
                blamed[j] = true;
            }
    }
    const auto wrong = std::count(blamed.begin(), blamed.end(), true);
    const auto all = static_cast<long long>(piece.links.size());
    reading.verdict = wrong > 0 ? Verdict::fail : Verdict::pass;
    reading.value = static_cast<double>(all);
    reading.shown = std::to_string(all);
    reading.shownBeside = wrong > 0 ? fmt::format("{} wrong", wrong) : "all lead on";
    reading.says = wrong > 0 ? Message{"links.wrong", {static_cast<long long>(wrong), all}}
                             : Message{"links.good", {all}};
    if (wrong > 0) reading.mends.emplace_back("put-links-right");
    return reading;
}

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
            if (there.intersected(PixelRect::of(out.frame)) != there || isSmall(there))
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
