// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/cairo_part.h"

#include <numbers>

namespace zl::cairo_part {

Surface coverage(PixelRect box, const Turn& turn, RealPoint about,
                 const std::function<void(cairo_t*)>& paint) {
    Surface surface(cairo_image_surface_create(CAIRO_FORMAT_A8, box.width(), box.height()));
    if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS) return nullptr;
    const Context cairo(cairo_create(surface.get()));
    cairo_set_antialias(cairo.get(), CAIRO_ANTIALIAS_BEST);
    cairo_translate(cairo.get(), -box.left, -box.top);
    if (!turn.none()) {
        cairo_translate(cairo.get(), about.x, about.y);
        cairo_rotate(cairo.get(), turn.degrees * std::numbers::pi / 180);
        cairo_scale(cairo.get(), turn.flipX ? -1 : 1, turn.flipY ? -1 : 1);
        cairo_translate(cairo.get(), -about.x, -about.y);
    }
    paint(cairo.get());
    cairo_surface_flush(surface.get());
    return cairo_status(cairo.get()) == CAIRO_STATUS_SUCCESS ? std::move(surface) : nullptr;
}

}  // namespace zl::cairo_part
