// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/clip_source.h"

#include <charconv>

namespace zl {
namespace {

// No hash has a colon in it.
constexpr std::string_view sign = "moment:";

}  // namespace

std::string momentName(const MomentName& name) {
    return std::string(sign) + (name.quick ? "~" : "") + std::to_string(name.number) + ":" +
           name.file;
}

std::optional<MomentName> momentNamed(const std::string& name) {
    if (!name.starts_with(sign)) return {};
    MomentName out;
    std::size_t from = sign.size();
    const std::size_t colon = name.find(':', from);
    if (colon == std::string::npos) return {};
    out.quick = name[from] == '~';
    if (out.quick) ++from;
    std::from_chars(name.data() + from, name.data() + colon, out.number);
    out.file = name.substr(colon + 1);
    return out;
}

}  // namespace zl
