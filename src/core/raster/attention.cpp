// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/attention.h"

#include "raster/vips_part.h"

namespace zl {

RealPoint attentionPoint(const Straight8& picture) {
    const RealPoint centre{0.5, 0.5};
    const vips_part::Image image = vips_part::viewOf(picture);
    if (!image || picture.width() < 8 || picture.height() < 8) return centre;
    VipsImage* out = nullptr;
    int x = 0, y = 0;
    // The crop's own size does not matter: the measure tells its point in px of the picture.
    if (vips_smartcrop(image.get(), &out, picture.width() / 2, picture.height() / 2, "interesting", VIPS_INTERESTING_ATTENTION,
                       "attention_x", &x, "attention_y", &y, nullptr) != 0) {
        vips_part::takeError();
        return centre;
    }
    g_object_unref(out);
    return {std::clamp((x + 0.5) / picture.width(), 0.0, 1.0), std::clamp((y + 0.5) / picture.height(), 0.0, 1.0)};
}

}  // namespace zl
