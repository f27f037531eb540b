// SPDX-License-Identifier: GPL-3.0-or-later
// What the core and the module zl_tags say to one another. Plain values: no exception and no
// library's type passes between them.
#pragma once

#include <cstddef>
#include <cstdint>

namespace zl::tags_part {

inline constexpr int keepNone = 0, keepAuthor = 1, keepAll = 2;

struct Asked {
    int keep = keepNone;
    const char *author = "", *rights = "", *address = "";  // UTF-8; empty: as the photograph says
    int orientation = 1;                                   // EXIF's, 1..8
    int width = 0, height = 0;                             // px of what is written
};
using Take = void (*)(void* taker, const std::uint8_t* bytes, std::size_t size);

using WriteTags = int (*)(const Asked*, const std::uint8_t* photo, std::size_t photoSize,
                          const std::uint8_t* marked, std::size_t markedSize, Take, void* taker);
// "2026:11:29 14:03:00", ended by a zero byte.
using DateTaken = int (*)(const std::uint8_t* photo, std::size_t size, char* out, std::size_t room);

}  // namespace zl::tags_part
