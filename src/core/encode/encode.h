// SPDX-License-Identifier: GPL-3.0-or-later
// Encoders: a frame to a file's bytes. sRGB is tagged; nothing else is written beside the pixels. Deterministic.
#pragma once

#include "base/bytes.h"
#include "base/colour_value.h"
#include "base/result.h"
#include "raster/content.h"
#include "raster/raster.h"

namespace zl {

enum class Chroma { full, half };  // 4:4:4, 4:2:0
enum class Effort {
    quick,   // an upper bound of the weight at once
    release  // what is written
};

struct Encoding {
    Content format = Content::png;  // png or jpeg
    int quality = 90;               // JPEG, 1..100
    Chroma chroma = Chroma::full;   // JPEG
    Effort effort = Effort::release;
    bool operator==(const Encoding&) const = default;
};

// "PNG", "JPEG 94, half chroma"
std::string nameOf(const Encoding& encoding);

// Pixels are straight 8-bit sRGB. An opaque frame is written without an alpha channel. A format without alpha needs an
// opaque frame: lay it over a colour first (flattenOnto), else Code::limitNotMet says that alpha would be lost.
[[nodiscard]] Result<Bytes> encode(const Straight8& frame, const Encoding& encoding);

}  // namespace zl
