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

namespace {

constexpr int channels = 4;

Image tagged(VipsImage* image) {
    if (image) image->Type = VIPS_INTERPRETATION_sRGB;
    return Image(image);
}

Image withoutAlpha(Image image) {
    VipsImage* three = nullptr;
    if (!image || vips_extract_band(image.get(), &three, 0, "n", 3, nullptr) != 0) return nullptr;
    return Image(three);
}

std::size_t bytesOf(const Straight8& raster) {
    return static_cast<std::size_t>(raster.size().count()) * channels;
}

}  // namespace

Image viewOf(const Straight8& raster) {
    start();
    return tagged(vips_image_new_from_memory(raster.bytes(), bytesOf(raster), raster.width(),
                                             raster.height(), channels, VIPS_FORMAT_UCHAR));
}

Image bandsOf(const Straight8& raster, bool opaque) {
    return opaque ? withoutAlpha(viewOf(raster)) : viewOf(raster);
}

Image bandsCopiedFrom(const Straight8& raster, bool opaque) {
    start();
    Image image =
        tagged(vips_image_new_from_memory_copy(raster.bytes(), bytesOf(raster), raster.width(),
                                               raster.height(), channels, VIPS_FORMAT_UCHAR));
    return opaque ? withoutAlpha(std::move(image)) : std::move(image);
}

}  // namespace zl::vips_part
