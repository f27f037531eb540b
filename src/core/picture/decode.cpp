// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/decode.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <string_view>

#include "picture/bmp_part.h"
#include "picture/jpeg_whole.h"
#include "picture/profile.h"
#include "picture/vips_part.h"

namespace zl {
namespace {

using vips_part::Image;

tl::unexpected<Error> damaged(const std::string& name, Content content) {
    vips_part::forgetError();
    return fail(Code::unreadable,
                fmt::format("{} cannot be read: as {} it is damaged or breaks off.", name,
                            factsOf(content).title),
                "Bring an undamaged copy.");
}

Result<void> notTooLarge(PixelSize size, const std::string& name) {
    if (size.count() <= mostPixels) return {};
    return fail(Code::unreadable,
                fmt::format("{} has {} x {} pixels, more than the 100 million allowed.", name,
                            size.width, size.height),
                "Bring a smaller picture.");
}

// Out of the header alone.
Result<PictureFacts> bmpFacts(ByteView bytes, const std::string& name) {
    const auto header = bmp_part::readFacts(bytes);
    if (!header) return damaged(name, Content::bmp);
    if (auto fits = notTooLarge(header->size, name); !fits) return passOn(fits.error());
    PictureFacts facts;
    facts.content = Content::bmp;
    facts.size = header->size;
    facts.alphaChannel = header->alpha;
    return facts;
}

// libvips has no loader of its own for BMP; its pixels are handed to it.
Image loadedBmp(ByteView bytes) {
    const auto pixels = bmp_part::decode(bytes);
    const auto facts = bmp_part::readFacts(bytes);
    if (!pixels || !facts) return nullptr;
    return vips_part::bandsCopiedFrom(*pixels, !facts->alpha);
}

// How much smaller a JPEG is read, or how much larger an SVG is drawn.
struct Load {
    int shrink = 1;
    double enlarge = 1;
};

// Each kind goes to its own loader: libvips never guesses.
Image loaded(ByteView bytes, Content content, Load load) {
    VipsImage* out = nullptr;
    if (content == Content::bmp) return loadedBmp(bytes);
    const char* loader = content == Content::png    ? "pngload_buffer"
                         : content == Content::jpeg ? "jpegload_buffer"
                         : content == Content::webp ? "webpload_buffer"
                         : content == Content::gif  ? "gifload_buffer"
                         : content == Content::tiff ? "tiffload_buffer"
                         : content == Content::heif ? "heifload_buffer"
                         : content == Content::jxl  ? "jxlload_buffer"
                                                    : "svgload_buffer";
    VipsBlob* blob = vips_blob_new(nullptr, bytes.data(), bytes.size());
    const auto call = [&](const char* option, auto value) {
        return vips_call(loader, blob, &out, "access", VIPS_ACCESS_SEQUENTIAL, "fail_on",
                         VIPS_FAIL_ON_TRUNCATED, option, value, nullptr);
    };
    const int status = load.shrink > 1    ? call("shrink", load.shrink)
                       : load.enlarge > 1 ? call("scale", load.enlarge)
                                          : call(nullptr, 0);
    vips_area_unref(VIPS_AREA(blob));
    return Image(status == 0 ? out : nullptr);
}

// Kinds that not every libvips reads.
const char* optionalLoader(Content content) {
    return content == Content::heif  ? "heifload_buffer"
           : content == Content::jxl ? "jxlload_buffer"
                                     : nullptr;
}

Result<Image> opened(ByteView bytes, const std::string& name, Content& content, Load load = {}) {
    if (bytes.empty())
        return fail(Code::unreadable, name + " is empty.", "Bring the picture again.");
    content = sniff(bytes);
    constexpr const char* bring =
        "Bring a PNG, JPEG, WebP, GIF, AVIF, HEIC, JPEG XL, BMP, TIFF or SVG.";
    if (content == Content::unknown) {
        const std::string other = nameOfOther(bytes);
        return fail(Code::unreadable,
                    other.empty()
                        ? name + " is not a picture that can be read."
                        : fmt::format("{} is {}, which cannot be read as a picture.", name, other),
                    bring);
    }
    if (!factsOf(content).read)
        return fail(
            Code::unreadable,
            fmt::format("{} is a {} picture, which cannot be read.", name, factsOf(content).title),
            bring);
    vips_part::start();
    if (const char* loader = optionalLoader(content);
        loader && vips_type_find("VipsOperation", loader) == 0)
        return fail(Code::unreadable,
                    fmt::format("{} is a {} picture, which this installation cannot read.", name,
                                factsOf(content).title),
                    "Install a libvips that reads it, or bring a PNG.");
    if (content == Content::bmp)
        if (const auto facts = bmpFacts(bytes, name); !facts) return passOn(facts.error());
    Image image = loaded(bytes, content, load);
    if (!image) return damaged(name, content);
    if (auto fits = notTooLarge({image->Xsize, image->Ysize}, name); !fits)
        return passOn(fits.error());
    return image;
}

PictureFacts factsFrom(VipsImage* image, Content content, ByteView bytes) {
    PictureFacts facts;
    facts.content = content;
    facts.size = {image->Xsize, image->Ysize};
    if (vips_image_get_orientation_swap(image)) std::swap(facts.size.width, facts.size.height);
    facts.alphaChannel = vips_image_hasalpha(image);
    facts.bitsPerChannel = image->BandFmt == VIPS_FORMAT_USHORT ? 16 : 8;
    facts.cmyk = image->Type == VIPS_INTERPRETATION_CMYK;
    facts.pages = content == Content::svg ? 1 : std::max(1, vips_image_get_n_pages(image));
    if (content == Content::svg)
        facts.held =
            picturesInSvg(bytes, facts.size, [](ByteView file) -> std::optional<PixelSize> {
                const Content kind = sniff(file);
                if (kind == Content::unknown || kind == Content::svg) return {};
                const auto held = readFacts(file, "A picture in it");
                return held ? std::optional(held->size) : std::nullopt;
            });
    if (content == Content::png && isAnimatedPng(bytes)) facts.pages = 2;
    const void* data = nullptr;
    std::size_t size = 0;
    if (vips_image_get_typeof(image, VIPS_META_ICC_NAME) != 0 &&
        vips_image_get_blob(image, VIPS_META_ICC_NAME, &data, &size) == 0)
        facts.profileIsSrgb = actsAsSrgb({static_cast<const std::uint8_t*>(data), size});
    return facts;
}

// One libvips step: takes the input, gives the output, or nothing.
template <class Step>
bool advance(Image& image, const Step& step) {
    VipsImage* out = nullptr;
    if (step(image.get(), &out) != 0) return false;
    image.reset(out);
    return true;
}

// 16 bit to 8 by rounding; libvips' own shift would darken by half a code value on average.
bool toEightBit(Image& image) {
    if (image->BandFmt != VIPS_FORMAT_USHORT) return true;
    const bool grey = image->Type == VIPS_INTERPRETATION_GREY16;
    return advance(image,
                   [](VipsImage* in, VipsImage** out) {
                       return vips_linear1(in, out, 1.0 / 257.0, 0.0, nullptr);
                   }) &&
           advance(image,
                   [](VipsImage* in, VipsImage** out) { return vips_rint(in, out, nullptr); }) &&
           advance(image, [](VipsImage* in,
                             VipsImage** out) { return vips_cast_uchar(in, out, nullptr); }) &&
           advance(image, [grey](VipsImage* in, VipsImage** out) {
               return vips_copy(in, out, "interpretation",
                                grey ? VIPS_INTERPRETATION_B_W : VIPS_INTERPRETATION_sRGB, nullptr);
           });
}

bool toStraightRgba(Image& image, const PictureFacts& facts) {
    if (!facts.profileIsSrgb && !advance(image, [](VipsImage* in, VipsImage** out) {
            return vips_icc_transform(in, out, "srgb", "embedded", TRUE, "depth", 8, "intent",
                                      VIPS_INTENT_RELATIVE, nullptr);
        }))
        vips_part::forgetError();  // a broken profile: the values are taken as sRGB, which is what
                                   // a destination would do
    if (!toEightBit(image)) return false;
    if (image->Type != VIPS_INTERPRETATION_sRGB &&
        !advance(image, [](VipsImage* in, VipsImage** out) {
            return vips_colourspace(in, out, VIPS_INTERPRETATION_sRGB, nullptr);
        }))
        return false;
    if (image->BandFmt != VIPS_FORMAT_UCHAR && !advance(image, [](VipsImage* in, VipsImage** out) {
            return vips_cast_uchar(in, out, nullptr);
        }))
        return false;
    if (image->Bands == 3 && !advance(image, [](VipsImage* in, VipsImage** out) {
            return vips_bandjoin_const1(in, out, 255.0, nullptr);
        }))
        return false;
    return image->Bands == 4;
}

// Strip by strip, as they are made: the pixels are never held twice.
int copyStrip(VipsRegion* region, VipsRect* area, void* into) {
    auto& pixels = *static_cast<Straight8*>(into);
    for (int y = area->top; y < area->top + area->height; ++y)
        std::memcpy(pixels.row(y) + area->left, VIPS_REGION_ADDR(region, area->left, y),
                    static_cast<std::size_t>(area->width) * 4);
    return 0;
}

}  // namespace

Result<PictureFacts> readFacts(ByteView bytes, const std::string& name) {
    if (sniff(bytes) == Content::bmp) return bmpFacts(bytes, name);
    Content content{};
    auto image = opened(bytes, name, content);
    if (!image) return passOn(image.error());
    return factsFrom(image->get(), content, bytes);
}

namespace {

Result<Picture> decodeAt(Load load, ByteView bytes, const std::string& name) {
    Content content{};
    auto image = opened(bytes, name, content, load);
    if (!image) return passOn(image.error());
    Picture picture;
    picture.facts = factsFrom(image->get(), content, bytes);
    if (!toStraightRgba(*image, picture.facts)) return damaged(name, content);
    if (vips_image_get_orientation(image->get()) > 1) {
        // Turning needs the pixels in any order; a sequential reader has them only once.
        VipsImage* memory = vips_image_copy_memory(image->get());
        if (!memory) return damaged(name, content);
        image->reset(memory);
        if (!advance(*image,
                     [](VipsImage* in, VipsImage** out) { return vips_autorot(in, out, nullptr); }))
            return damaged(name, content);
    }
    Straight8 pixels(PixelSize{(*image)->Xsize, (*image)->Ysize});
    if (vips_sink_disc(image->get(), copyStrip, &pixels) != 0) return damaged(name, content);
    picture.facts.size = pixels.size();
    picture.opaque = !picture.facts.alphaChannel || isOpaque(pixels);
    picture.pixels = std::make_shared<Straight8>(std::move(pixels));
    return picture;
}

// A JPEG that does not end in its last marker (EOI; ITU-T T.81, B.2.1) may lack more than that:
// libvips does not always tell when its last rows are missing. With the marker behind it, it is
// read; one that ends and has something else behind it, too.
Result<Picture> decodeWhole(Load load, ByteView bytes, const std::string& name) {
    constexpr std::uint8_t end[] = {0xFF, 0xD9};
    if (sniff(bytes) != Content::jpeg || std::ranges::equal(bytes.last(2), end))
        return decodeAt(load, bytes, name);
    Bytes closed(bytes.begin(), bytes.end());
    closed.insert(closed.end(), std::begin(end), std::end(end));
    return isWholeJpeg(closed) ? decodeAt(load, closed, name) : damaged(name, Content::jpeg);
}

}  // namespace

Result<Picture> decode(ByteView bytes, const std::string& name) {
    return unlessTooLarge(name, [&] { return decodeWhole({}, bytes, name); });
}

Result<Picture> decodeFor(PixelSize least, ByteView bytes, const std::string& name) {
    const auto facts = readFacts(bytes, name);
    if (!facts) return passOn(facts.error());
    Load load;
    const PixelSize own = facts->size;
    while (facts->content == Content::jpeg && load.shrink < 8 &&
           own.width >= 4 * load.shrink * least.width &&
           own.height >= 4 * load.shrink * least.height)
        load.shrink *= 2;
    if (facts->content == Content::svg) {
        const double most = std::sqrt(static_cast<double>(mostPixels) /
                                      static_cast<double>((own.width + 1LL) * (own.height + 1LL)));
        load.enlarge = std::min(most, std::max(static_cast<double>(least.width) / own.width,
                                               static_cast<double>(least.height) / own.height));
    }
    auto picture = unlessTooLarge(name, [&] { return decodeWhole(load, bytes, name); });
    if (picture && facts->content != Content::svg) picture->facts.size = own;
    return picture;
}

}  // namespace zl
