// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/encode.h"

#include <fmt/core.h>

#include "encode/jpeg_part.h"
#include "encode/palette.h"
#include "encode/png.h"
#include "picture/vips_part.h"

namespace zl {
namespace {

using vips_part::Image;

constexpr int paletteEffort =
    5;  // more takes a third longer and comes out alike (docs/performance.md)

}  // namespace

std::string_view wordOf(Chroma chroma) {
    return chroma == Chroma::full ? "full" : chroma == Chroma::half ? "half" : "wide";
}

std::string_view samplingOf(Chroma chroma) {
    return chroma == Chroma::full ? "4:4:4" : chroma == Chroma::half ? "4:2:0" : "4:2:2";
}

std::string nameOf(const Encoding& e) {
    switch (e.format) {
        case Content::jpeg:
            return fmt::format("JPEG {}, {} chroma", e.quality, wordOf(e.chroma));
        case Content::png:
            if (e.palette && e.colours < 256) return fmt::format("PNG, {} colours", e.colours);
            return !e.palette ? "PNG, true colour"
                   : e.dither ? "PNG, palette, dithered"
                              : "PNG, palette";
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
    const int half =
        format == Content::gif ? 0 : 255;  // the least alpha beside 255 that the format holds
    for (const std::uint32_t p : frame.pixels())
        if (alphaOf(p) != 255 && alphaOf(p) != half) return false;
    return true;
}

Result<Bytes> encode(const Straight8& frame, const Encoding& e, ColourTable* colours) {
    const bool opaque = isOpaque(frame);
    if (!opaque && !holdsAlphaOf(frame, e.format))
        return fail(Code::limitNotMet,
                    fmt::format("{} cannot hold this alpha: the see-through part would turn solid.",
                                factsOf(e.format).title),
                    "Choose a colour to lay it on, or a format with alpha.");
    if ((e.format == Content::png && e.palette) || (e.format == Content::gif && opaque)) {
        ColourTable own(frame, ColourTable::Layouts::asked, e.colours);
        ColourTable& palette = colours && e.colours == 256 ? *colours : own;
        return e.format == Content::png ? palette.asPng(e.dither) : palette.asGif(e.dither);
    }
    if (e.format == Content::png) return encodePng(frame, opaque, e.effort, e.reduced);
    if (e.format == Content::jpeg) return encodeJpeg(frame, e);
    const Image image = vips_part::bandsOf(frame, opaque);
    void* data = nullptr;
    std::size_t size = 0;
    int status = -1;
    if (image && e.format == Content::gif) {  // with alpha: all or nothing
        status = vips_gifsave_buffer(image.get(), &data, &size, "dither", e.dither ? 1.0 : 0.0,
                                     "effort", paletteEffort, nullptr);
    } else if (image && e.format == Content::webp) {
        status = vips_webpsave_buffer(image.get(), &data, &size, "lossless",
                                      e.quality == 0 ? TRUE : FALSE, "Q", std::max(1, e.quality),
                                      "effort", 4, nullptr);
    }
    if (status != 0) {
        vips_part::forgetError();
        constexpr int mostOfWebp = 16'383;  // px a side (RFC 9649, 2.7.1.1: 14 bits)
        const bool tooLarge =
            e.format == Content::webp && std::max(frame.width(), frame.height()) > mostOfWebp;
        return fail(Code::unwritable,
                    fmt::format("The picture could not be written as {}.", factsOf(e.format).title),
                    tooLarge ? "WebP holds 16,383 pixels a side at most: make it smaller, or "
                               "choose another format."
                             : "Choose another format.");
    }
    const auto* first = static_cast<const std::uint8_t*>(data);
    const ByteView written(first, size);
    Bytes bytes(written.begin(), written.end());
    g_free(data);
    return bytes;
}

}  // namespace zl
