// SPDX-License-Identifier: GPL-3.0-or-later
// What a file truly is, told by its first bytes, never by its name.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "base/bytes.h"

namespace zl {

enum class Content { unknown, png, jpeg, gif, webp, bmp, tiff, svg, heif, jxl };

// One row a kind: the table that everything that names a picture format reads.
struct ContentFacts {
    Content content;
    std::string_view id;       // "png", as briefs and options write it
    std::string_view title;    // "PNG"
    std::string_view type;     // media type
    std::string_view endings;  // space-separated, the usual one first
    bool alpha;                // the format can hold an alpha channel of 8 bits
    bool read;                 // pictures of this kind can be brought in
    bool written;              // releases of this kind can be written
};

std::span<const ContentFacts> allContents();
const ContentFacts& factsOf(Content content);
std::optional<Content> contentById(std::string_view id);
// By a file's ending with its dot, in lower case; nothing when the ending is none of ours.
std::optional<Content> contentByEnding(std::string_view ending);
// The usual ending with its dot.
std::string usualEnding(Content content);

// Signatures: PNG (W3C 2003, 5.2), JFIF/JPEG SOI (ITU-T T.81), GIF89a, RIFF WEBP, BMP, TIFF 6.0, an
// svg element, the brands of ISO/IEC 23008-12 (HEIC, AVIF), ISO/IEC 18181-2 (JPEG XL).
Content sniff(ByteView bytes);

// What a file that no picture kind knows is, in words: "a PDF document", "a video"; empty where
// nobody knows it here.
std::string nameOfOther(ByteView bytes);

// Whether a PNG is animated: it has an acTL chunk before its first image data (PNG, W3C
// 2025, 11.3.6).
bool isAnimatedPng(ByteView bytes);

}  // namespace zl
