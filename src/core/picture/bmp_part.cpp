// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/bmp_part.h"

#include <gdk-pixbuf/gdk-pixbuf.h>

#include <cstdlib>
#include <memory>

namespace zl::bmp_part {
namespace {

// A BITMAPFILEHEADER of 14 bytes, then a BITMAPINFOHEADER or a longer one. Older headers
// of 12 bytes have sides of 16 bits.
constexpr std::size_t fileHeader = 14, oldHeader = 12, infoHeader = 40;

std::uint32_t word(ByteView bytes, std::size_t at) {
    std::uint32_t value = 0;
    for (std::size_t i = 4; i-- > 0;) value = value << 8 | bytes[at + i];
    return value;
}
int half(ByteView bytes, std::size_t at) {
    return bytes[at] | bytes[at + 1] << 8;
}

struct Header {
    PixelSize size;
    bool upwards = true;  // the last row comes first
    int bits = 0;
    std::uint32_t packing = 0;  // 0: none
    std::uint32_t alphaMask = 0;
};

std::optional<Header> headerOf(ByteView bytes) {
    if (bytes.size() < fileHeader + oldHeader) return {};
    const std::uint32_t length = word(bytes, fileHeader);
    // The loader makes room for whatever a header tells, up to 4 GB: here for the pixels' place,
    // its own length and below for the colours.
    if (word(bytes, 10) > bytes.size() || length > bytes.size()) return {};
    Header header;
    if (length == oldHeader) {
        header.size = {half(bytes, 18), half(bytes, 20)};
        header.bits = half(bytes, 24);
    } else {
        if (length < infoHeader || bytes.size() < fileHeader + infoHeader) return {};
        const auto height = static_cast<std::int32_t>(word(bytes, 22));
        if (height == INT32_MIN) return {};
        header.size = {static_cast<std::int32_t>(word(bytes, 18)), std::abs(height)};
        header.upwards = height > 0;
        header.bits = half(bytes, 28);
        header.packing = word(bytes, 30);
        if (word(bytes, 46) > bytes.size() / 4) return {};
        // From BITMAPV3INFOHEADER on.
        if (length >= 56 && bytes.size() >= fileHeader + 56) header.alphaMask = word(bytes, 66);
    }
    if (header.size.width <= 0 || header.size.height <= 0) return {};
    if (header.size.count() > mostPixels) return header;  // it is told, and read no further
    // Packed in no way, all rows are there, each of whole four bytes.
    constexpr std::uint32_t none = 0, inMasks = 3;
    const long long row = (static_cast<long long>(header.size.width) * header.bits + 31) / 32 * 4,
                    least = word(bytes, 10) + row * header.size.height;
    if ((header.packing == none || header.packing == inMasks) &&
        least > static_cast<long long>(bytes.size()))
        return {};
    return header;
}

// Many programs write alpha into the fourth byte, which the format calls unused (common practice,
// no source). All zero: it really is unused.
template <class Take>
bool fourthBytes(ByteView bytes, const Header& header, const Take& take) {
    const std::size_t from = word(bytes, 10);
    const auto width = static_cast<std::size_t>(header.size.width),
               height = static_cast<std::size_t>(header.size.height);
    if (header.bits != 32 || header.packing != 0 || from > bytes.size() ||
        (bytes.size() - from) / 4 / width < height)
        return false;
    bool any = false;
    for (std::size_t y = 0; y < height; ++y)
        for (std::size_t x = 0; x < width; ++x) {
            const std::uint8_t alpha = bytes[from + 4 * (y * width + x) + 3];
            any = any || alpha != 0;
            const std::size_t row = header.upwards ? height - 1 - y : y;
            take(static_cast<int>(x), static_cast<int>(row), alpha);
        }
    return any;
}

struct Unref {
    void operator()(GdkPixbufLoader* loader) const {
        gdk_pixbuf_loader_close(loader, nullptr);
        g_object_unref(loader);
    }
};

}  // namespace

std::optional<Facts> readFacts(ByteView bytes) {
    const auto header = headerOf(bytes);
    if (!header) return {};
    return Facts{header->size, (header->packing == 3 && header->alphaMask != 0) ||
                                   fourthBytes(bytes, *header, [](int, int, int) {})};
}

std::optional<Straight8> decode(ByteView bytes) {
    const auto header = headerOf(bytes);
    if (!header || header->size.count() > mostPixels) return {};
    const std::unique_ptr<GdkPixbufLoader, Unref> loader(
        gdk_pixbuf_loader_new_with_type("bmp", nullptr));
    if (!loader || !gdk_pixbuf_loader_write(loader.get(), bytes.data(), bytes.size(), nullptr) ||
        !gdk_pixbuf_loader_close(loader.get(), nullptr))
        return {};
    const GdkPixbuf* pixbuf = gdk_pixbuf_loader_get_pixbuf(loader.get());
    if (!pixbuf || gdk_pixbuf_get_width(pixbuf) != header->size.width ||
        gdk_pixbuf_get_height(pixbuf) != header->size.height)
        return {};
    Straight8 out(header->size);
    const int channels = gdk_pixbuf_get_n_channels(pixbuf);
    for (int y = 0; y < out.height(); ++y) {
        const guchar* from = gdk_pixbuf_read_pixels(pixbuf) +
                             static_cast<std::ptrdiff_t>(y) * gdk_pixbuf_get_rowstride(pixbuf);
        for (int x = 0; x < out.width(); ++x, from += channels)
            out.row(y)[x] = packed(from[0], from[1], from[2], channels == 4 ? from[3] : 255);
    }
    if (fourthBytes(bytes, *header, [](int, int, int) {}))
        fourthBytes(bytes, *header, [&](int x, int y, int alpha) {
            std::uint32_t& p = out.row(y)[x];
            p = packed(redOf(p), greenOf(p), blueOf(p), alpha);
        });
    return out;
}

}  // namespace zl::bmp_part
