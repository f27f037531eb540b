// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/profile.h"

#include <cstring>

#include "picture/vips_part.h"

namespace zl {

std::optional<Straight8> inProfile(const Straight8& srgb, ByteView icc) {
    using vips_part::Image;
    if (srgb.empty() || icc.empty()) return {};
    vips_part::start();
    const Image view = vips_part::bandsOf(srgb, true);
    VipsImage *connected = nullptr, *converted = nullptr;
    if (!view || vips_icc_import(view.get(), &connected, "input_profile", "srgb", "intent",
                                 VIPS_INTENT_RELATIVE, nullptr) != 0) {
        vips_part::forgetError();
        return {};
    }
    const Image between(connected);
    vips_image_set_blob_copy(between.get(), VIPS_META_ICC_NAME, icc.data(), icc.size());
    if (vips_icc_export(between.get(), &converted, "depth", 8, "intent", VIPS_INTENT_RELATIVE,
                        nullptr) != 0) {
        vips_part::forgetError();
        return {};
    }
    const Image out(converted);
    std::size_t size = 0;
    void* pixels = out->Bands == 3 && out->BandFmt == VIPS_FORMAT_UCHAR
                       ? vips_image_write_to_memory(out.get(), &size)
                       : nullptr;
    vips_part::forgetError();
    if (!pixels) return {};
    Straight8 raster(srgb.size());
    const auto* from = static_cast<const std::uint8_t*>(pixels);
    for (int y = 0; y < raster.height(); ++y)
        for (int x = 0; x < raster.width(); ++x, from += 3)
            raster.row(y)[x] = packed(from[0], from[1], from[2], alphaOf(srgb.row(y)[x]));
    g_free(pixels);
    return raster;
}

}  // namespace zl
