// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of libjpeg-turbo (ITU-T T.81, JFIF). No profile is written: a JPEG without one is
// sRGB wherever it goes, and the usual profile of 7 kB would be a third of a small file
// (docs/decisions/015).
#pragma once

#include <functional>
#include <optional>

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

// Of a JPEG's segments: how it has to be turned to be seen upright (EXIF, 1..8), and its ICC
// profile; empty where there is none.
struct JpegHead {
    int orientation = 1;
    Bytes profile{};
    bool tagged = false;  // it has EXIF, XMP or IPTC records
};
JpegHead headOf(ByteView jpeg);

// `coded` without any metadata but the profile of `photo`: not even what else lies behind the end
// of the picture, which may be a second one.
[[nodiscard]] Bytes bareJpeg(ByteView coded, ByteView photo);

// The frame as a JPEG with the sampling of `photo`, which is a JPEG of 8-bit YCbCr or grey, and its
// quantisation tables or those of a quality, 1..100; alpha is not looked at. Errors:
// Code::unwritable.
[[nodiscard]] Result<Bytes> encodeJpegLike(const Straight8& frame, ByteView photo, int quality = 0);

// The same of a JPEG itself, decoded and encoded row by row: `change(y, row)` may change a row's
// red, green and blue, side by side, as they are stored. Its Huffman tables are those printed in
// ITU-T T.81, K.3. Nothing when it is none of 8-bit grey or YCbCr, or breaks off.
[[nodiscard]] std::optional<Bytes> recodedJpeg(
    ByteView jpeg, int quality, const std::function<void(int y, std::uint8_t* row)>& change);

}  // namespace zl
