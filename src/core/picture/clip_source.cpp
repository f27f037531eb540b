// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/clip_source.h"

#include <charconv>

namespace zl {
namespace {

// No hash has a colon in it.
constexpr std::string_view sign = "moment:";

}  // namespace

std::string momentName(const std::string& file, long long number) {
    return std::string(sign) + std::to_string(number) + ":" + file;
}

std::optional<MomentName> momentNamed(const std::string& name) {
    if (!name.starts_with(sign)) return {};
    MomentName out;
    const std::size_t colon = name.find(':', sign.size());
    if (colon == std::string::npos) return {};
    std::from_chars(name.data() + sign.size(), name.data() + colon, out.number);
    out.file = name.substr(colon + 1);
    return out;
}

}  // namespace zl
