// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of Cairo: RAII, and shapes drawn as coverage. Included by the core's own sources.
#pragma once

#include <cairo/cairo.h>

#include <functional>
#include <memory>

#include "base/geometry.h"

namespace zl::cairo_part {

struct Release {
    void operator()(cairo_surface_t* p) const { cairo_surface_destroy(p); }
    void operator()(cairo_t* p) const { cairo_destroy(p); }
};
using Surface = std::unique_ptr<cairo_surface_t, Release>;
using Context = std::unique_ptr<cairo_t, Release>;

// Coverage 0..255 of what `paint` draws, on an alpha-only surface whose pixel (0, 0) is the frame's
// (box.left, box.top). Frame coordinates hold for `paint`, mirrored and turned about `about`.
// Nothing when there is no memory for it.
Surface coverage(PixelRect box, const Turn& turn, RealPoint about,
                 const std::function<void(cairo_t*)>& paint);

inline const unsigned char* rowOf(cairo_surface_t* surface, int y) {
    return cairo_image_surface_get_data(surface) +
           static_cast<std::ptrdiff_t>(cairo_image_surface_get_stride(surface)) * y;
}

}  // namespace zl::cairo_part
