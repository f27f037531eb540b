// SPDX-License-Identifier: GPL-3.0-or-later
// Encoders: a frame to a file's bytes. sRGB is tagged; nothing else is written beside the pixels.
// Deterministic.
#pragma once

#include <optional>

#include "base/bytes.h"
#include "base/colour_value.h"
#include "base/result.h"
#include "picture/content.h"
#include "raster/raster.h"

namespace zl {

class ColourTable;  // encode/palette.h

enum class Chroma { full, half, wide };  // 4:4:4, 4:2:0, 4:2:2 (halved across only)
enum class Table {
    printed,
    even
};  // of quantisation: those printed in ITU-T T.81, or one that is finer at small sizes
enum class Effort {
    quick,   // an upper bound of the weight at once
    release  // what is written
};

struct Encoding {
    Content format = Content::png;  // png, jpeg, gif or webp
    int quality = 90;               // JPEG and WebP, 1..100; WebP 0: lossless
    Chroma chroma = Chroma::full;   // JPEG
    Effort effort = Effort::release;
    bool palette = false;          // PNG: 256 colours
    bool dither = true;            // PNG with a palette, GIF
    int colours = 256;             // of a palette, at most
    bool progressive = false;      // JPEG: in scans from coarse to fine, mostly a little smaller
    Table table = Table::printed;  // JPEG
    bool reduced = true;  // PNG in true colour: as grey or a palette where that holds the same
                          // pixels; false for working files
    bool operator==(const Encoding&) const = default;
    bool exact() const {
        return (format == Content::png && !palette) || (format == Content::webp && quality == 0);
    }
};

std::string_view wordOf(Chroma chroma);      // "full", "half", "wide"
std::string_view samplingOf(Chroma chroma);  // "4:4:4", "4:2:0", "4:2:2"

// "PNG, true colour", "PNG, palette, dithered", "JPEG 94, half chroma", "WebP, lossless"
std::string nameOf(const Encoding& encoding);

// Whether the format can hold the frame's alpha as it is: PNG and WebP any, GIF only nothing or
// all, JPEG none.
bool holdsAlphaOf(const Straight8& frame, Content format);

// Pixels are straight 8-bit sRGB. An opaque frame is written without an alpha channel. A format
// that cannot hold its alpha needs an opaque frame: lay it over a colour first (flattenOnto), else
// Code::limitNotMet says that alpha would be lost. `colours`: the frame's palette where several
// encodings share it; the bytes are the same without.
[[nodiscard]] Result<Bytes> encode(const Straight8& frame, const Encoding& encoding,
                                   ColourTable* colours = nullptr);

}  // namespace zl
