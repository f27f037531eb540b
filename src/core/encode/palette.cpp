// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/palette.h"

#include <cgif.h>
#include <libimagequant.h>
#include <png.h>

#include <fmt/core.h>

#include <cstring>

namespace zl {
namespace {

constexpr int speed = 6;  // of 10; slower ones take a third longer and come out alike (docs/performance.md)

template <class T, void (*destroy)(T*)>
struct Destroys {
    void operator()(T* t) const { destroy(t); }
};
template <class T, void (*destroy)(T*)>
using Owned = std::unique_ptr<T, Destroys<T, destroy>>;

tl::unexpected<Error> unwritten(const std::string& format, const std::string& why) {
    return fail(Code::unwritable, fmt::format("The picture could not be written as {}: {}.", format, why));
}

}  // namespace

struct Palette::Quantised {
    Owned<liq_attr, liq_attr_destroy> options;
    Owned<liq_image, liq_image_destroy> image;
    Owned<liq_result, liq_result_destroy> result;
};

Palette::Palette(const Straight8& frame) : frame_(frame) {}
Palette::~Palette() = default;

Result<std::shared_ptr<const Palette::Indexed>> Palette::indexed(bool dither) {
    const std::scoped_lock lock(mutex_);
    auto& kept = indexed_[dither ? 1 : 0];
    if (kept) return kept;
    if (!quantised_) {
        auto made = std::make_unique<Quantised>();
        made->options.reset(liq_attr_create());
        if (!made->options) return unwritten("a palette", "there is no memory for it");
        liq_set_speed(made->options.get(), speed);
        made->image.reset(liq_image_create_rgba(made->options.get(), frame_.bytes(), frame_.width(), frame_.height(), 0));
        liq_result* result = nullptr;
        if (!made->image || liq_image_quantize(made->image.get(), made->options.get(), &result) != LIQ_OK)
            return unwritten("a palette", "no colours were found");
        made->result.reset(result);
        quantised_ = std::move(made);
    }
    auto out = std::make_shared<Indexed>();
    out->pixels.resize(static_cast<std::size_t>(frame_.size().count()));
    liq_set_dithering_level(quantised_->result.get(), dither ? 1.0f : 0.0f);
    if (liq_write_remapped_image(quantised_->result.get(), quantised_->image.get(), out->pixels.data(), out->pixels.size()) != LIQ_OK)
        return unwritten("a palette", "its colours could not be laid out");
    const liq_palette& palette = *liq_get_palette(quantised_->result.get());
    for (unsigned i = 0; i < palette.count; ++i) {
        const liq_color& c = palette.entries[i];
        out->colours.push_back(packed(c.r, c.g, c.b, c.a));
    }
    kept = std::move(out);
    return kept;
}

Result<Straight8> Palette::picture(bool dither) {
    const auto found = indexed(dither);
    if (!found) return passOn(found.error());
    Straight8 out(frame_.size());
    for (int y = 0; y < out.height(); ++y) {
        const std::uint8_t* from = (*found)->pixels.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(out.width());
        std::uint32_t* row = out.row(y);
        for (int x = 0; x < out.width(); ++x) row[x] = (*found)->colours[from[x]];
    }
    return out;
}

Result<Bytes> Palette::asPng(bool dither) {
    const auto found = indexed(dither);
    if (!found) return passOn(found.error());
    const Indexed& picture = **found;
    png_image image;
    std::memset(&image, 0, sizeof image);
    image.version = PNG_IMAGE_VERSION;
    image.width = static_cast<png_uint_32>(frame_.width());
    image.height = static_cast<png_uint_32>(frame_.height());
    image.format = isOpaque(frame_) ? PNG_FORMAT_RGB_COLORMAP : PNG_FORMAT_RGBA_COLORMAP;
    image.colormap_entries = static_cast<png_uint_32>(picture.colours.size());
    const std::size_t channels = isOpaque(frame_) ? 3 : 4;
    Bytes colours;
    for (const std::uint32_t c : picture.colours)
        for (std::size_t i = 0; i < channels; ++i) colours.push_back(static_cast<std::uint8_t>(c >> (8 * i)));
    png_alloc_size_t size = PNG_IMAGE_PNG_SIZE_MAX(image);
    Bytes out(size);
    const bool written = png_image_write_to_memory(&image, out.data(), &size, 0, picture.pixels.data(), 0, colours.data()) != 0;
    const std::string why = image.message;
    png_image_free(&image);
    if (!written) return unwritten("PNG", why);
    out.resize(size);
    return out;
}

Result<Bytes> Palette::asGif(bool dither) {
    constexpr int longest = 65535;  // GIF89a, section 18: two bytes a side
    if (std::max(frame_.width(), frame_.height()) > longest) return unwritten("GIF", "a side is longer than the format can tell");
    const auto found = indexed(dither);
    if (!found) return passOn(found.error());
    Indexed picture = **found;  // the encoder asks for its own
    Bytes colours;
    for (const std::uint32_t c : picture.colours)
        for (int i = 0; i < 3; ++i) colours.push_back(static_cast<std::uint8_t>(c >> (8 * i)));
    Bytes out;
    CGIF_Config config;
    std::memset(&config, 0, sizeof config);
    config.width = static_cast<std::uint16_t>(frame_.width());
    config.height = static_cast<std::uint16_t>(frame_.height());
    config.pGlobalPalette = colours.data();
    config.numGlobalPaletteEntries = static_cast<std::uint16_t>(picture.colours.size());
    config.pContext = &out;
    config.pWriteFn = [](void* into, const std::uint8_t* bytes, const std::size_t count) -> int {
        auto& all = *static_cast<Bytes*>(into);
        all.insert(all.end(), bytes, bytes + count);
        return 0;
    };
    CGIF_FrameConfig one;
    std::memset(&one, 0, sizeof one);
    one.pImageData = picture.pixels.data();
    CGIF* gif = cgif_newgif(&config);
    const bool added = gif && cgif_addframe(gif, &one) == CGIF_OK;
    const bool closed = gif && cgif_close(gif) == CGIF_OK;
    if (!added || !closed) return unwritten("GIF", "its encoder refused it");
    return out;
}

}  // namespace zl
