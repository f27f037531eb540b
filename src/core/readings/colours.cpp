// SPDX-License-Identifier: GPL-3.0-or-later
// `colours`: how many distinct colours cover 99 % of the ink, by alpha, at 5 bit a channel, where the brief asks for few. Common
// practice, no source: one colour reads best as a corner mark.
#include <fmt/core.h>

#include <algorithm>

#include "readings/reading.h"

namespace zl {

Reading measureColours(const Subject& subject) {
    Reading reading;
    reading.unit = "colours";
    if (!subject.brief->colours) {
        reading.says = {"colours.any", {}};
        return reading;
    }
    const int few = *subject.brief->colours;
    reading.limit = static_cast<double>(few);
    std::vector<long long> weights(1 << 15);
    long long all = 0;
    for (const std::uint32_t p : subject.pixels->pixels()) {
        weights[(p >> 3 & 31u) | (p >> 11 & 31u) << 5 | (p >> 19 & 31u) << 10] += alphaOf(p);
        all += alphaOf(p);
    }
    if (all == 0) {
        reading.says = {"colours.none", {}};
        return reading;
    }
    std::sort(weights.begin(), weights.end(), std::greater<>());
    constexpr double most = 0.99;
    long long covered = 0, count = 0;
    while (static_cast<double>(covered) < most * static_cast<double>(all)) covered += weights[static_cast<std::size_t>(count++)];
    reading.value = static_cast<double>(count);
    reading.verdict = count <= few ? Verdict::pass : Verdict::watch;
    reading.rule = Rule{static_cast<double>(count), static_cast<double>(few), 4.0 * few};
    reading.shown = fmt::format("{}", count);
    reading.shownBeside = fmt::format("of {} that read well", few);
    reading.says = {count <= few ? "colours.few" : "colours.many", {count, static_cast<long long>(few)}};
    return reading;
}

}  // namespace zl
