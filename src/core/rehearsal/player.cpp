// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/player.h"

#include <fmt/core.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "raster/footage.h"
#include "rehearsal/programme.h"
#include "rehearsal/surface_parts.h"

namespace zl {
namespace {

std::optional<double> number(std::string_view text) {
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return {};
    return value;
}

}  // namespace

Result<Showing> parseShowing(const std::string& text) {
    if (text == "throughout") return Showing{};
    if (text == "closing") return Showing{Showing::When::closing, 0};
    constexpr std::string_view from = "from:";
    if (text.starts_with(from))
        if (const auto seconds = number(std::string_view(text).substr(from.size()));
            seconds && *seconds >= 0)
            return Showing{Showing::When::from, *seconds};
    return fail(Code::badUsage, fmt::format("\"{}\" is no showing time.", text.substr(0, 40)),
                "Use throughout, from:SECONDS or closing.");
}

double startOf(const Showing& showing, double length) {
    switch (showing.when) {
        case Showing::When::from:
            return showing.from;
        case Showing::When::closing:
            return std::max(0.0, length - closingPart);
        case Showing::When::throughout:
            break;
    }
    return 0;
}

bool isShown(const Showing& showing, double at, double length) {
    return at >= startOf(showing, length);
}

Result<void> checkShowing(const Showing& showing, double length) {
    if (showing.when != Showing::When::from || (showing.from >= 0 && showing.from < length))
        return {};
    return fail(Code::badUsage,
                fmt::format("The mark would show from {}, and the video ends at {}.",
                            clockWords(showing.from), clockWords(length)),
                "Choose an earlier start.");
}

std::string clockWords(double seconds) {
    const auto whole = static_cast<long long>(std::clamp(seconds, 0.0, 1e7));
    if (whole >= 3600)
        return fmt::format("{}:{:02}:{:02}", whole / 3600, whole / 60 % 60, whole % 60);
    return fmt::format("{}:{:02}", whole / 60, whole % 60);
}

Result<double> parseClock(const std::string& text) {
    double sum = 0;
    std::size_t at = 0;
    int parts = 0;
    bool good = !text.empty();
    while (good) {
        const std::size_t colon = text.find(':', at);
        const auto part = number(
            std::string_view(text).substr(at, colon == std::string::npos ? colon : colon - at));
        good = part && *part >= 0 && ++parts <= 3 && (parts == 1 || *part < 60);
        if (good) sum = sum * 60 + *part;
        if (colon == std::string::npos) break;
        at = colon + 1;
    }
    if (!good || sum > 1e6)
        return fail(Code::badUsage,
                    fmt::format("\"{}\" is no length of a video.", text.substr(0, 40)),
                    "Type minutes and seconds, as in 14:05.");
    if (sum <= 0)
        return fail(Code::badUsage, "A video is longer than 0 seconds.",
                    "Type minutes and seconds, as in 14:05.");
    return sum;
}

// The video with its control bar, the clock running, the mark where and when it shows.
Surface videoPlayer(const Sight& sight, const OnSurface& stand) {
    const Posted& posted = stand.posted;
    const PlayerPlan plan = playerPlan(sight.spec.width, stand.picture->size());
    Board board(plan.player, {0, 0, 0, 255});
    if (!putOwnVideo(board, sight, posted))
        board.put(0, 0, *stillFootage(sight.footage, plan.player));
    if (isShown(posted.showing, sight.at, posted.length)) board.place(plan.mark, stand.picture, {});
    const double w = plan.player.width, h = plan.player.height, bar = h - controlBar;
    board.fill({0, bar, w, static_cast<double>(controlBar)}, {16, 18, 20, 224});
    constexpr double side = 12;
    const double line = w - 2 * side, done = std::clamp(sight.at / posted.length, 0.0, 1.0);
    board.fill({side, bar + 8, line, 3}, {120, 126, 130, 255});
    board.fill({side, bar + 8, line * done, 3}, {240, 242, 243, 255});
    const double from = startOf(posted.showing, posted.length) / posted.length;
    // Where the mark begins, as a notch on the line.
    if (from > 0) board.fill({side + line * from - 1, bar + 4, 2, 11}, {240, 242, 243, 255});
    for (const double x : {side + 2, side + 9})
        board.fill({x, bar + 23, 4, 14}, {240, 242, 243, 255});
    board.words({side + 26, bar + 21, 200, 20}, clockWords(sight.at) + " / " + posted.lengthWords(),
                "Medium", 13, {240, 242, 243, 255}, 1);
    return made(board, plan.mark);
}

// What comes up when the pointer rests on the mark.
Surface hoverCard(const Sight& sight, const OnSurface& stand) {
    constexpr int rim = 12, mark = 48, words = 20;
    const int width = sight.spec.width,
              wide = std::max(1, static_cast<int>(std::lround(static_cast<double>(mark) *
                                                              stand.picture->width() /
                                                              stand.picture->height())));
    const int shown = std::min(wide, width / 2);
    Board board({width + 2 * rim, mark + 4 * rim}, stand.theme.ground);
    Colour seam = stand.theme.soft;
    seam.alpha = 120;
    board.rounded({rim / 2.0 - 1, rim / 2.0 - 1, width + rim + 2.0, mark + 3.0 * rim + 2}, 5, seam);
    board.rounded({rim / 2.0, rim / 2.0, width + rim * 1.0, mark + 3.0 * rim}, 4, stand.theme.tab);
    const int high = std::max(1, heightAt(shown, stand.picture->size()));
    const PixelRect at{2 * rim, 2 * rim, 2 * rim + shown, 2 * rim + high};
    board.place(at, stand.picture, stand.theme.tab);
    const double left = at.right + rim, room = width - left;
    board.words({left, 2 * rim + 4.0, room, words}, stand.posted.channel, "SemiBold", 14,
                stand.theme.ink, 1);
    board.words({left, 2 * rim + 25.0, room, words}, "See what else there is", "Regular", 12,
                stand.theme.soft, 1);
    return made(board, at);
}

}  // namespace zl
