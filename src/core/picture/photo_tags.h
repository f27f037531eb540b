// SPDX-License-Identifier: GPL-3.0-or-later
// A photograph's metadata: who made it, when, and what its marked copy keeps of it. EXIF (CIPA
// DC-008), XMP (ISO 16684-1) and IPTC records, by Exiv2 in a module that is loaded at the first
// call. Any thread; one works at a time.
#pragma once

#include <string>

#include "base/bytes.h"
#include "base/geometry.h"
#include "base/result.h"

namespace zl {

// author: who made it and whose it is, nothing else: neither the place nor serial numbers.
enum class KeepTags { none, author, all };

struct TagsAsked {
    KeepTags keep = KeepTags::author;
    std::string author{}, rights{}, address{};  // empty: as the photograph says
    int orientation = 1;                        // EXIF's, 1..8, that the copy needs
    PixelSize size{};                           // of the copy, as it is stored
};

// `marked`, a JPEG, PNG or WebP without metadata of its own, with that of `photo` as far as it is
// kept. Small pictures of the photograph without its mark are never kept. Errors: Code::unwritable.
[[nodiscard]] Result<Bytes> withTags(ByteView photo, Bytes marked, const TagsAsked& asked,
                                     const std::string& name);

// The day that the photograph says it was taken, "2026-11-29"; empty when it says none.
std::string dayTaken(ByteView photo);

}  // namespace zl
