// SPDX-License-Identifier: GPL-3.0-or-later
// PNG (ISO/IEC 15948), deflated by libdeflate behind row filters that are chosen by trial
// (docs/decisions/012).
#pragma once

#include <span>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"
#include "encode/encode.h"
#include "raster/raster.h"

namespace zl {

// Straight 8-bit sRGB, tagged; `opaque`: without an alpha channel; `reduced`: as grey or a palette
// where that holds the same pixels in fewer bytes. Effort::release deflates with the row filter
// that serves a sample of the picture best, and is never larger than Effort::quick. Deterministic.
// Errors: Code::unwritable.
[[nodiscard]] Result<Bytes> encodePng(const Straight8& frame, bool opaque, Effort effort,
                                      bool reduced = true);

// Straight 16-bit sRGB, red, green, blue, alpha side by side, in the machine's order; without an
// alpha channel where every alpha is 65535. Errors: Code::unwritable.
[[nodiscard]] Result<Bytes> encodePng16(PixelSize size, std::span<const std::uint16_t> rgba);

// With a palette, which is tagged sRGB; tRNS only where a colour is see-through. `numbers`: each
// pixel's place in `colours`, row by row; `colours`: 1..256, packed as a frame's pixels are.
// Errors: Code::unwritable.
[[nodiscard]] Result<Bytes> encodeIndexedPng(const std::vector<std::uint8_t>& numbers,
                                             PixelSize size,
                                             const std::vector<std::uint32_t>& colours);

}  // namespace zl
