// SPDX-License-Identifier: GPL-3.0-or-later
// A mark on a video player: where it stands, how large, and when it shows.
#pragma once

#include <string>

#include "base/geometry.h"
#include "base/result.h"
#include "brief/player_plan.h"

namespace zl {

// When a mark is on the player.
struct Showing {
    enum class When { throughout, from, closing } when = When::throughout;
    double from = 0;  // s, of When::from
    bool operator==(const Showing&) const = default;
};

// The closing part of a video, s (from memory).
inline constexpr double closingPart = 15;

// "throughout", "from:S" or "closing"; Code::badUsage for anything else.
[[nodiscard]] Result<Showing> parseShowing(const std::string& text);
// The second from which the mark shows.
double startOf(const Showing& showing, double length);
bool isShown(const Showing& showing, double at, double length);
// A start after the video's end, or before its beginning, is Code::badUsage.
[[nodiscard]] Result<void> checkShowing(const Showing& showing, double length);

// 845 -> "14:05"
std::string clockWords(double seconds);
// "14:05", "1:02:03" or "90"; Code::badUsage for anything else, and for a length of 0.
[[nodiscard]] Result<double> parseClock(const std::string& text);

}  // namespace zl
