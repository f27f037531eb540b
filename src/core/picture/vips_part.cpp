// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/vips_part.h"

#include <mutex>

namespace zl::vips_part {

void start() {
    static std::once_flag once;
    std::call_once(once, [] {
        if (VIPS_INIT("zinc-ledge") != 0) return;
        // Hostile input is normal: nothing is read that was not asked for by name.
        vips_operation_block_set("VipsForeignLoad", TRUE);
        for (const char* loader :
             {"VipsForeignLoadPng", "VipsForeignLoadJpeg", "VipsForeignLoadWebp",
              "VipsForeignLoadNsgif", "VipsForeignLoadTiff", "VipsForeignLoadSvg",
              "VipsForeignLoadHeif", "VipsForeignLoadJxl"})
            vips_operation_block_set(loader, FALSE);
        vips_cache_set_max(0);
        // A broken picture is told by an Error's sentence, not by a library's lines on standard
        // error.
        g_log_set_handler(
            "VIPS", G_LOG_LEVEL_WARNING, [](const char*, GLogLevelFlags, const char*, void*) {},
            nullptr);
    });
}

void forgetError() {
    vips_error_clear();
}

Image viewOf(const Straight8& raster) {
    start();
    VipsImage* image = vips_image_new_from_memory(
        raster.bytes(), static_cast<std::size_t>(raster.size().count()) * 4, raster.width(),
        raster.height(), 4, VIPS_FORMAT_UCHAR);
    if (image) image->Type = VIPS_INTERPRETATION_sRGB;
    return Image(image);
}

Image bandsOf(const Straight8& raster, bool opaque) {
    Image image = viewOf(raster);
    if (!opaque || !image) return image;
    VipsImage* three = nullptr;
    if (vips_extract_band(image.get(), &three, 0, "n", 3, nullptr) != 0) return nullptr;
    return Image(three);
}

}  // namespace zl::vips_part
