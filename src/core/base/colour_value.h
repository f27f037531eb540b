// SPDX-License-Identifier: GPL-3.0-or-later
// A colour as a value: straight 8-bit sRGB code values, and how it is written, "#RRGGBB[AA]".
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

#include "base/result.h"

namespace zl {

struct Colour {
    std::uint8_t red = 0, green = 0, blue = 0, alpha = 255;
    bool operator==(const Colour&) const = default;
};

// "#RRGGBB" or "#RRGGBBAA", either case.
[[nodiscard]] Result<Colour> parseColour(std::string_view text);
// "#RRGGBB", with the alpha behind it only when it is not 255.
std::string nameOf(Colour colour);

}  // namespace zl
