// SPDX-License-Identifier: GPL-3.0-or-later
#include "brief/player_plan.h"

#include <algorithm>
#include <cmath>

namespace zl {

PlayerPlan playerPlan(int width, PixelSize mark) {
    constexpr double share = 1.0 / 12, least = 24, inset = 0.025;
    const int height = std::max(controlBar + 32, static_cast<int>(std::lround(width * 9.0 / 16)));
    const double markHeight = std::round(std::max(least, height * share)),
                 markWidth = std::max(1.0, std::round(markHeight * mark.width / mark.height));
    const int left = static_cast<int>(std::lround(width - inset * height - markWidth)),
              top =
                  static_cast<int>(std::lround(height - controlBar - inset * height - markHeight));
    return {{width, height},
            {left, top, left + static_cast<int>(markWidth), top + static_cast<int>(markHeight)}};
}

}  // namespace zl
