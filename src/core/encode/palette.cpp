// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/palette.h"

#include <cgif.h>
#include <libimagequant.h>

#include <fmt/core.h>

#include <algorithm>
#include <bit>
#include <cstring>

#include "base/owned.h"
#include "encode/png.h"

namespace zl {
namespace {

constexpr int speed = 5;  // of 10; quicker ones depend on the number of processors, slower ones
                          // come out alike (docs/performance.md)

tl::unexpected<Error> unwritten(const std::string& format, const std::string& why) {
    return fail(Code::unwritable,
                fmt::format("The picture could not be written as {}: {}.", format, why));
}

}  // namespace

struct ColourTable::Quantised {
    Owned<liq_attr, liq_attr_destroy> options;
    Owned<liq_image, liq_image_destroy> image;
    Owned<liq_result, liq_result_destroy> result;
};

ColourTable::ColourTable(const Straight8& frame, Layouts layouts, int most)
    : frame_(frame), layouts_(layouts), most_(most) {}
ColourTable::~ColourTable() = default;

namespace {

bool layOut(liq_image* image, PixelSize size, liq_result* palette,
            std::vector<std::uint8_t>& numbers) {
    numbers.resize(static_cast<std::size_t>(size.count()));
    return image &&
           liq_write_remapped_image(palette, image, numbers.data(), numbers.size()) == LIQ_OK;
}

// A frame's colours, each once, and the place of each pixel's among them.
struct Colours {
    std::vector<std::uint32_t> each, ofPixel;
};

// Nothing where there are more than `most`. Colours are found by open addressing; most pixels have
// their left neighbour's.
std::optional<Colours> coloursOf(const Straight8& frame, std::size_t most) {
    constexpr std::uint32_t free = 0xFFFFFFFFu,
                            spread =
                                2654435769u;  // 2^32 / golden ratio: Knuth, volume 3, section 6.4
    const int bits = static_cast<int>(std::bit_width(2 * most));
    std::vector<std::uint32_t> slots(std::size_t{1} << bits, free);
    Colours colours;
    colours.ofPixel.resize(frame.pixels().size());
    std::uint32_t* to = colours.ofPixel.data();
    std::uint32_t last = ~frame.pixels()[0], place = 0;
    for (const std::uint32_t p : frame.pixels()) {
        if (p != last) {
            std::size_t slot = p * spread >> (32 - bits);
            while (slots[slot] != free && colours.each[slots[slot]] != p)
                slot = (slot + 1) % slots.size();
            if (slots[slot] == free) {
                if (colours.each.size() == most) return {};
                slots[slot] = static_cast<std::uint32_t>(colours.each.size());
                colours.each.push_back(p);
            }
            place = slots[slot];
            last = p;
        }
        *to++ = place;
    }
    return colours;
}

// Without dithering like pixels get like numbers: each colour is looked up once. Nothing where most
// pixels differ from all others.
std::optional<std::vector<std::uint8_t>> byColour(const Straight8& frame, liq_attr* options,
                                                  liq_result* palette) {
    constexpr std::size_t width = 256;
    auto colours = coloursOf(frame, frame.pixels().size() / 4 + 1);
    if (!colours) return {};
    Straight8 once(
        {static_cast<int>(width), static_cast<int>((colours->each.size() + width - 1) / width)});
    colours->each.resize(width * static_cast<std::size_t>(once.height()), colours->each.back());
    std::copy(colours->each.begin(), colours->each.end(), once.row(0));
    std::vector<std::uint8_t> numbers, out(colours->ofPixel.size());
    const Owned<liq_image, liq_image_destroy> image(
        liq_image_create_rgba(options, once.bytes(), once.width(), once.height(), 0));
    if (!layOut(image.get(), once.size(), palette, numbers)) return {};
    std::transform(colours->ofPixel.begin(), colours->ofPixel.end(), out.begin(),
                   [&](std::uint32_t place) { return numbers[place]; });
    return out;
}

}  // namespace

Result<void> ColourTable::quantise() {
    auto made = std::make_unique<Quantised>();
    made->options.reset(liq_attr_create());
    if (!made->options) return unwritten("a palette", "there is no memory for it");
    liq_set_speed(made->options.get(), speed);
    liq_set_max_colors(made->options.get(), most_);
    made->image.reset(liq_image_create_rgba(made->options.get(), frame_.bytes(), frame_.width(),
                                            frame_.height(), 0));
    liq_result* result = nullptr;
    if (!made->image ||
        liq_image_quantize(made->image.get(), made->options.get(), &result) != LIQ_OK)
        return unwritten("a palette", "no colours were found");
    made->result.reset(result);
    quantised_ = std::move(made);
    return {};
}

Result<std::shared_ptr<const ColourTable::Indexed>> ColourTable::laidOut(bool dither) {
    const std::scoped_lock lock(mutex_);
    auto out = std::make_shared<Indexed>();
    liq_attr* const options = quantised_->options.get();
    liq_result* const result = quantised_->result.get();
    liq_set_dithering_level(result, dither ? 1.0f : 0.0f);
    auto looked = dither ? std::nullopt : byColour(frame_, options, result);
    if (looked)
        out->pixels = std::move(*looked);
    else if (!layOut(quantised_->image.get(), frame_.size(), result, out->pixels))
        return unwritten("a palette", "its colours could not be laid out");
    const liq_palette& palette = *liq_get_palette(result);
    for (unsigned i = 0; i < palette.count; ++i) {
        const liq_color& c = palette.entries[i];
        out->colours.push_back(packed(c.r, c.g, c.b, c.a));
    }
    return out;
}

Result<std::shared_ptr<const ColourTable::Indexed>> ColourTable::indexed(bool dither) {
    const auto layOnce = [&](std::size_t dithered) {
        std::call_once(laid_[dithered], [&] { indexed_[dithered] = laidOut(dithered == 1); });
    };
    std::call_once(found_, [&] {
        status_ = quantise();
        if (status_ && layouts_ == Layouts::both) layOnce(0);
    });
    if (!status_) return passOn(status_.error());
    layOnce(dither ? 1 : 0);
    return indexed_[dither ? 1 : 0];
}

Result<Straight8> ColourTable::picture(bool dither) {
    const auto found = indexed(dither);
    if (!found) return passOn(found.error());
    Straight8 out(frame_.size());
    for (int y = 0; y < out.height(); ++y) {
        const std::uint8_t* from =
            (*found)->pixels.data() +
            static_cast<std::size_t>(y) * static_cast<std::size_t>(out.width());
        std::uint32_t* row = out.row(y);
        for (int x = 0; x < out.width(); ++x) row[x] = (*found)->colours[from[x]];
    }
    return out;
}

Result<Bytes> ColourTable::asPng(bool dither) {
    const auto found = indexed(dither);
    if (!found) return passOn(found.error());
    return encodeIndexedPng((*found)->pixels, frame_.size(), (*found)->colours);
}

Result<Bytes> ColourTable::asGif(bool dither) {
    constexpr int longest = 65535;  // GIF89a, section 18: two bytes a side
    if (std::max(frame_.width(), frame_.height()) > longest)
        return unwritten("GIF", "a side is longer than the format can tell");
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
