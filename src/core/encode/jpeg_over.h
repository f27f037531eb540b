// SPDX-License-Identifier: GPL-3.0-or-later
// A change of some pixels of a JPEG that leaves the rest of the file's picture bit by bit as it
// was: only the blocks that hold a changed pixel are transformed and quantised again, with the
// file's own tables and sampling (ITU-T T.81; JFIF, ITU-T T.871).
#pragma once

#include <optional>

#include "base/bytes.h"
#include "raster/raster.h"

namespace zl {

struct JpegChanged {
    Bytes bytes;
    long long changed = 0, blocks = 0;  // of 8 x 8 coefficients, all components together
};

// `before` is what the JPEG decodes to, `after` the same with some pixels changed; both opaque. The
// scans are progressive where they were; metadata is left out. Nothing when it cannot be done so:
// it is no JPEG of 8-bit grey or YCbCr, it has to be turned, its profile is not sRGB, or the sizes
// differ.
std::optional<JpegChanged> changedJpeg(ByteView jpeg, const Straight8& before,
                                       const Straight8& after);

}  // namespace zl
