// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/colour_value.h"

#include <fmt/core.h>

#include <array>

namespace zl {
namespace {

int hexDigit(char c) {
    if (c >= '0' && c <= '9') return c - '0';
    if (c >= 'a' && c <= 'f') return c - 'a' + 10;
    if (c >= 'A' && c <= 'F') return c - 'A' + 10;
    return -1;
}

}  // namespace

Result<Colour> parseColour(std::string_view text) {
    std::array<int, 8> digits{};
    const bool shaped = (text.size() == 7 || text.size() == 9) && text.front() == '#';
    bool good = shaped;
    for (std::size_t i = 1; good && i < text.size(); ++i)
        good = (digits[i - 1] = hexDigit(text[i])) >= 0;
    if (!good)
        return fail(Code::badUsage, fmt::format("\"{}\" is not a colour.", text.substr(0, 40)),
                    "Write #RRGGBB, such as #FFC653.");
    const auto pair = [&](std::size_t at) {
        return static_cast<std::uint8_t>(digits[at] * 16 + digits[at + 1]);
    };
    return Colour{pair(0), pair(2), pair(4), text.size() == 9 ? pair(6) : std::uint8_t{255}};
}

std::string nameOf(Colour c) {
    if (c.alpha == 255) return fmt::format("#{:02X}{:02X}{:02X}", c.red, c.green, c.blue);
    return fmt::format("#{:02X}{:02X}{:02X}{:02X}", c.red, c.green, c.blue, c.alpha);
}

}  // namespace zl
