// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/marking.h"

#include <fmt/core.h>

#include <cmath>

#include "raster/resample.h"
#include "raster/turn.h"

namespace zl {

RealRect placeOf(const MarkPlacing& placing, PixelSize mark, PixelSize frame) {
    const double factor =
        placing.widthShare > 0 ? placing.widthShare * frame.width / mark.width : 1;
    RealRect place{0, 0, mark.width * factor, mark.height * factor};
    const RealPoint share = shareOf(placing.at);
    const auto start = [](double s, double length, double side, double inset) {
        return s == 0 ? inset : s == 1 ? side - inset - length : (side - length) / 2;
    };
    place.x = start(share.x, place.width, frame.width, placing.inset.x);
    place.y = start(share.y, place.height, frame.height, placing.inset.y);
    if (factor == 1) {
        place.x = std::round(place.x);
        place.y = std::round(place.y);
    }
    return place;
}

Result<void> checkPlace(const RealRect& place, PixelSize frame) {
    constexpr double slip = 0.5;  // px
    if (place.width > frame.width + slip || place.height > frame.height + slip)
        return fail(Code::badUsage,
                    fmt::format("The mark would be {:.0f} x {:.0f} px, and the video has {} x {}.",
                                place.width, place.height, frame.width, frame.height),
                    "Make it narrower.");
    if (place.right() <= 0 || place.bottom() <= 0 || place.x >= frame.width ||
        place.y >= frame.height)
        return fail(Code::badUsage, "The mark would stand outside of the video.",
                    "Let it stand nearer to the middle.");
    return {};
}

CodedMark codedMark(const std::shared_ptr<const Straight8>& mark, const RealRect& place,
                    const VideoFacts& facts) {
    // Frames are mirrored and then turned to be shown; this is the way back.
    const int back = facts.mirrored ? facts.quarters : (4 - facts.quarters) % 4;
    RealRect at = turnedQuarters(place, facts.shown, back, facts.mirrored, false);
    auto pixels = mark;
    if (back != 0 || facts.mirrored)
        pixels =
            std::make_shared<const Straight8>(turnedQuarters(*mark, back, facts.mirrored, false));
    const PixelSize square =
        back % 2 == 0 ? facts.shown : PixelSize{facts.shown.height, facts.shown.width};
    const double across = static_cast<double>(facts.size.width) / square.width,
                 down = static_cast<double>(facts.size.height) / square.height;
    at = {at.x * across, at.y * down, at.width * across, at.height * down};
    const auto whole = [](double v) { return std::abs(v - std::round(v)) < 1e-6; };
    if (whole(at.x) && whole(at.y) && std::abs(at.width - pixels->width()) < 1e-6 &&
        std::abs(at.height - pixels->height()) < 1e-6)
        return {pixels, static_cast<int>(std::lround(at.x)), static_cast<int>(std::lround(at.y))};
    const Ink ink = resampled(pixels, isOpaque(*pixels), RealRect::of(pixels->size()), at,
                              PixelRect::of(facts.size));
    if (ink.box.empty()) return {std::make_shared<const Straight8>(), 0, 0};
    return {std::make_shared<const Straight8>(rounded8(ink)), ink.box.left, ink.box.top};
}

}  // namespace zl
