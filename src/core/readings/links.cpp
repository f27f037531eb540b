// SPDX-License-Identifier: GPL-3.0-or-later
// `links`: link regions lie inside the frame, do not overlap, are at least 24 x 24 px (WCAG 2.2,
// SC 2.5.8) and lead to a well-formed http(s) address (HTML Living Standard, image maps; WHATWG
// URL).
#include "links/links.h"

#include <fmt/core.h>

#include <algorithm>

#include "readings/reading.h"

namespace zl {
namespace {

std::string nameOf(const LinkRegion& link) {
    return link.says.empty() ? link.address : link.says;
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
        if (tooSmallToHit(r))
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

}  // namespace zl
