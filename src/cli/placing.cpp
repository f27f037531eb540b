// SPDX-License-Identifier: GPL-3.0-or-later
#include "placing.h"

#include <fmt/core.h>

#include <cmath>
#include <optional>

#include "command.h"

namespace zl::cli {

void declarePlacing(Options& options, PlacingWords& words) {
    options
        .value("--at", words.at,
               "top-left, top, top-right, left, centre, right, bottom-left, bottom or bottom-right "
               "(the default)")
        .oneOf({stampPlaces.begin(), stampPlaces.end()});
    options.value("--inset", words.inset,
                  "X,Y from the edges it stands at, px or % of the base's sides (default 0,0)");
    options
        .value("--width", words.width,
               "The mark's width as a percentage of the base's; else its own px, not resampled")
        .between(0.01, 1000.0);
}

Result<RealPoint> insetOf(const std::string& text, PixelSize base) {
    const auto bad = [&] {
        return fail(Code::badUsage, fmt::format("--inset cannot be read: \"{}\".", text),
                    "Write X,Y in px or with % behind each, such as 2.5%,24.");
    };
    const std::size_t comma = text.find(',');
    if (comma == std::string::npos) return bad();
    const auto one = [&](std::string part, double side) -> std::optional<double> {
        const bool share = part.ends_with('%');
        if (share) part.pop_back();
        const auto number = parseNumbers(part, 1, "--inset");
        if (!number || std::abs(number->front()) > 100'000) return {};
        return share ? number->front() / 100 * side : number->front();
    };
    const auto x = one(text.substr(0, comma), base.width),
               y = one(text.substr(comma + 1), base.height);
    return x && y ? Result<RealPoint>(RealPoint{*x, *y}) : bad();
}

Result<MarkPlacing> placingOf(const PlacingWords& words, PixelSize base) {
    const auto inset = insetOf(words.inset, base);
    if (!inset) return passOn(inset.error());
    return MarkPlacing{*stampAtNamed(words.at), *inset, words.width / 100};
}

}  // namespace zl::cli
