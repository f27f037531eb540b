// SPDX-License-Identifier: GPL-3.0-or-later
// The one adapter of libvips: started once, loaders blocked but for the wanted ones, RAII, its
// error text cleared at the call. Included by the core's own sources only.
#pragma once

#include <vips/vips.h>

#include <memory>
#include <string>

#include "base/bytes.h"
#include "raster/raster.h"

namespace zl::vips_part {

// Starts libvips on first use; later calls cost nothing. Safe from any thread.
void start();

// Empties libvips' error buffer. Its text is never told: the buffer belongs to the process, so it
// may be another thread's.
void forgetError();

struct Unref {
    void operator()(VipsImage* image) const { g_object_unref(image); }
};
using Image = std::unique_ptr<VipsImage, Unref>;

// A view of the raster as a 4-band 8-bit sRGB image, without a copy: the raster must outlive it.
Image viewOf(const Straight8& raster);

// The same; three bands when `opaque`, so that no alpha channel is written for nothing.
Image bandsOf(const Straight8& raster, bool opaque);

// The same with pixels of its own, so that it outlives the raster. (vips_image_copy_memory copies
// nothing that is in memory already.)
Image bandsCopiedFrom(const Straight8& raster, bool opaque);

}  // namespace zl::vips_part
