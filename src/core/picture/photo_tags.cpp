// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/photo_tags.h"

#include <fmt/core.h>

#include <array>
#include <mutex>

#include "base/module.h"
#include "picture/photo_tags_part.h"

namespace zl {
namespace {

std::mutex& one() {
    static std::mutex mutex;
    return mutex;
}

template <class Function>
Function ofModule(const char* name) {
    return reinterpret_cast<Function>(functionOfModule("zl_tags.so", name));
}

}  // namespace

Result<Bytes> withTags(ByteView photo, Bytes marked, const TagsAsked& asked,
                       const std::string& name) {
    const std::lock_guard lock(one());
    static const auto write = ofModule<tags_part::WriteTags>("zl_write_tags");
    const tags_part::Asked words{asked.keep == KeepTags::all      ? tags_part::keepAll
                                 : asked.keep == KeepTags::author ? tags_part::keepAuthor
                                                                  : tags_part::keepNone,
                                 asked.author.c_str(),
                                 asked.rights.c_str(),
                                 asked.address.c_str(),
                                 asked.orientation,
                                 asked.size.width,
                                 asked.size.height};
    Bytes out;
    const auto take = [](void* taker, const std::uint8_t* bytes, std::size_t size) {
        static_cast<Bytes*>(taker)->assign(bytes, bytes + size);
    };
    if (!write ||
        write(&words, photo.data(), photo.size(), marked.data(), marked.size(), take, &out) == 0)
        return fail(Code::unwritable,
                    fmt::format("The metadata of {} cannot be read or written.", name),
                    "Mark it without metadata.");
    return out;
}

std::string dayTaken(ByteView photo) {
    const std::lock_guard lock(one());
    static const auto read = ofModule<tags_part::DateTaken>("zl_date_taken");
    std::array<char, 32> text{};
    if (!read || read(photo.data(), photo.size(), text.data(), text.size()) == 0) return {};
    std::string day = std::string(text.data()).substr(0, 10);
    if (day.size() != 10 || day[4] != ':' || day[7] != ':') return {};
    day[4] = day[7] = '-';
    return day;
}

}  // namespace zl
