// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/encode.h"

#include <fmt/core.h>

#include "encode/palette.h"
#include "encode/png.h"
#include "raster/vips_part.h"

namespace zl {
namespace {

using vips_part::Image;

// libvips writes an EXIF block of its own, and its "strip" would take the profile as well. Segments as in ITU-T T.81, B.1.1.
Bytes withoutExif(ByteView jpeg) {
    constexpr std::uint8_t application1 = 0xE1, scan = 0xDA;
    Bytes out(jpeg.begin(), jpeg.begin() + 2);
    std::size_t at = 2;
    while (at + 4 <= jpeg.size() && jpeg[at + 1] != scan) {
        const std::size_t length = 2 + (static_cast<std::size_t>(jpeg[at + 2]) << 8 | jpeg[at + 3]);
        if (jpeg[at + 1] != application1)
            out.insert(out.end(), jpeg.begin() + static_cast<std::ptrdiff_t>(at), jpeg.begin() + static_cast<std::ptrdiff_t>(at + length));
        at += length;
    }
    out.insert(out.end(), jpeg.begin() + static_cast<std::ptrdiff_t>(at), jpeg.end());
    return out;
}

constexpr int paletteEffort = 5;  // more takes a third longer and comes out alike (docs/performance.md)

}  // namespace

std::string nameOf(const Encoding& e) {
    switch (e.format) {
        case Content::jpeg:
            return fmt::format("JPEG {}, {} chroma", e.quality, e.chroma == Chroma::full ? "full" : "half");
        case Content::png:
            return !e.palette ? "PNG, true colour" : e.dither ? "PNG, palette, dithered" : "PNG, palette";
        case Content::gif:
            return e.dither ? "GIF, dithered" : "GIF";
        case Content::webp:
            return e.quality == 0 ? "WebP, lossless" : fmt::format("WebP {}", e.quality);
        default:
            return std::string(factsOf(e.format).title);
    }
}

bool holdsAlphaOf(const Straight8& frame, Content format) {
    if (factsOf(format).alpha || isOpaque(frame)) return true;
    const int half = format == Content::gif ? 0 : 255;  // the least alpha beside 255 that the format holds
    for (const std::uint32_t p : frame.pixels())
        if (alphaOf(p) != 255 && alphaOf(p) != half) return false;
    return true;
}

Result<Bytes> encode(const Straight8& frame, const Encoding& e, Palette* colours) {
    const bool opaque = isOpaque(frame);
    if (!opaque && !holdsAlphaOf(frame, e.format))
        return fail(Code::limitNotMet,
                    fmt::format("{} cannot hold this alpha: the see-through part would turn solid.", factsOf(e.format).title),
                    "Choose a colour to lay it on, or a format with alpha.");
    if ((e.format == Content::png && e.palette) || (e.format == Content::gif && opaque)) {
        Palette own(frame);
        Palette& palette = colours ? *colours : own;
        return e.format == Content::png ? palette.asPng(e.dither) : palette.asGif(e.dither);
    }
    if (e.format == Content::png) return encodePng(frame, opaque, e.effort);
    const Image image = vips_part::bandsOf(frame, opaque);
    void* data = nullptr;
    std::size_t size = 0;
    int status = -1;
    if (image && e.format == Content::gif) {  // with alpha: all or nothing
        status = vips_gifsave_buffer(image.get(), &data, &size, "dither", e.dither ? 1.0 : 0.0, "effort", paletteEffort, nullptr);
    } else if (image && e.format == Content::webp) {
        status = vips_webpsave_buffer(image.get(), &data, &size, "lossless", e.quality == 0 ? TRUE : FALSE, "Q", std::max(1, e.quality),
                                      "effort", 4, "profile", "srgb", nullptr);
    } else if (image && e.format == Content::jpeg) {
        status = vips_jpegsave_buffer(image.get(), &data, &size, "Q", e.quality, "subsample_mode",
                                      e.chroma == Chroma::full ? VIPS_FOREIGN_SUBSAMPLE_OFF : VIPS_FOREIGN_SUBSAMPLE_ON, "optimize_coding",
                                      e.effort == Effort::release ? TRUE : FALSE, "profile", "srgb", nullptr);
    }
    if (status != 0) {
        const std::string why = vips_part::takeError();
        return fail(Code::unwritable, fmt::format("The picture could not be written as {}: {}.", factsOf(e.format).title,
                                                  why.empty() ? "that format is not written" : why));
    }
    const auto* first = static_cast<const std::uint8_t*>(data);
    const ByteView written(first, size);
    Bytes bytes = e.format == Content::jpeg ? withoutExif(written) : Bytes(written.begin(), written.end());
    g_free(data);
    return bytes;
}

}  // namespace zl
