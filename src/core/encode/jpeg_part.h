// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of libjpeg-turbo (ITU-T T.81, JFIF). No profile is written: a JPEG without one is
// sRGB wherever it goes, and the usual profile of 7 kB would be a third of a small file
// (docs/decisions/015).
#pragma once

#include "base/bytes.h"
#include "base/result.h"
#include "encode/encode.h"
#include "raster/raster.h"

namespace zl {

// An opaque frame; alpha is not looked at. Effort::quick leaves the Huffman tables as they are
// printed. Errors: Code::unwritable.
[[nodiscard]] Result<Bytes> encodeJpeg(const Straight8& frame, const Encoding& encoding);

// The same picture, coefficient by coefficient, without its metadata (EXIF, XMP, comments, a
// profile): only segments are left out. Nothing when the bytes are no JPEG, or when leaving
// something out would change what is seen: it has to be turned, its profile is not sRGB, it is not
// one of 8-bit grey or YCbCr.
[[nodiscard]] std::optional<Bytes> strippedJpeg(ByteView jpeg);

}  // namespace zl
