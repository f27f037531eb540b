// SPDX-License-Identifier: GPL-3.0-or-later
// Where a mark stands on a video player, and how large.
#pragma once

#include "base/geometry.h"

namespace zl {

struct PlayerPlan {
    PixelSize player;
    PixelRect mark;  // px of the player
};
// A player of that width, 16:9. The mark is 1/12 of its height, at least 24 px, and stands 2.5 % of
// the height off the right edge and off the control bar, which is 48 px high (all from memory;
// ../data/briefs).
PlayerPlan playerPlan(int width, PixelSize mark);
inline constexpr int controlBar = 48;  // px

}  // namespace zl
