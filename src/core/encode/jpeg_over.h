// SPDX-License-Identifier: GPL-3.0-or-later
// A change of some pixels of a JPEG that leaves the rest of the file's picture bit by bit as it
// was: only the blocks that hold a changed pixel are transformed and quantised again, with the
// file's own tables and sampling (ITU-T T.81; JFIF, ITU-T T.871).
#pragma once

#include <cstdint>
#include <optional>
#include <span>

#include "base/bytes.h"
#include "raster/raster.h"

namespace zl {

struct JpegChanged {
    Bytes bytes;
    long long changed = 0, blocks = 0;  // of 8 x 8 coefficients, all components together
};

// What is done to a picture's samples. `component`: 0 is Y, 1 Cb, 2 Cr, each 0..255 (ITU-T T.871).
// Positions are px of the picture as it is stored, before any orientation.
class SampleChange {
  public:
    virtual ~SampleChange() = default;
    // Nothing outside of it is changed.
    virtual PixelRect box() const = 0;
    // Whether something in that part may be changed.
    virtual bool touches(const PixelRect& part) const { return !box().intersected(part).empty(); }
    // Changes the samples of a block whose first stands for (left, top); each stands for `across`
    // by `down` px. Whether one was changed.
    virtual bool into(std::span<double, 64> samples, int component, int left, int top, int across,
                      int down) const = 0;
};

// One block out of its coefficients, changed, and back, in double precision; `steps` are its
// quantisation table's, both in rows of the block. Whether it was changed.
bool changeBlock(std::span<std::int16_t, 64> coefficients, std::span<const std::uint16_t, 64> steps,
                 const SampleChange& change, int component, int left, int top, int across,
                 int down);

// The scans are progressive where they were; metadata is left out. Nothing when it cannot be done
// so: it is no JPEG of 8-bit grey or YCbCr, or it breaks off.
std::optional<JpegChanged> changedJpeg(ByteView jpeg, const SampleChange& change);

// The same for what the JPEG decodes to, `before`, and that with some pixels changed, `after`; both
// opaque. Nothing, too, when it has to be turned, its profile is not sRGB, or the sizes differ.
std::optional<JpegChanged> changedJpeg(ByteView jpeg, const Straight8& before,
                                       const Straight8& after);

}  // namespace zl
