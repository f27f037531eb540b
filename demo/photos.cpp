// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/photos.h"

#include <cairo.h>
#include <vips/vips.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <memory>

#include "demo/scene.h"
#include "encode/encode.h"
#include "encode/jpeg_part.h"
#include "picture/decode.h"
#include "picture/photo_tags.h"

namespace zl::demo {
namespace {

constexpr double fullTurn = 6.283185307179586;

std::uint32_t mixedUp(std::uint32_t v) {
    v ^= v >> 16;
    v *= 0x7feb352du;
    v ^= v >> 15;
    v *= 0x846ca68bu;
    return v ^ v >> 16;
}
double chance(std::uint32_t n) {
    return mixedUp(n) / 4294967296.0;
}

// A scene in px of a picture that is `size.width` wide, with the grain of a sensor.
Straight8 taken(PixelSize size, int grain, const std::function<void(cairo_t*, double h)>& draw) {
    cairo_surface_t* sheet =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, size.width, size.height);
    cairo_t* c = cairo_create(sheet);
    cairo_scale(c, size.width, size.width);
    draw(c, static_cast<double>(size.height) / size.width);
    cairo_surface_flush(sheet);
    Straight8 out(size);
    const int stride = cairo_image_surface_get_stride(sheet);
    for (int y = 0; y < size.height; ++y) {
        const unsigned char* row =
            cairo_image_surface_get_data(sheet) + static_cast<std::ptrdiff_t>(y) * stride;
        for (int x = 0; x < size.width; ++x) {
            const std::uint32_t n = mixedUp(static_cast<std::uint32_t>(y * size.width + x));
            const auto most = static_cast<std::uint32_t>(grain) + 1;
            const int speck = static_cast<int>(n % most) - static_cast<int>((n >> 16) % most);
            const auto channel = [&](int i) { return std::clamp(row[4 * x + i] + speck, 0, 255); };
            out.row(y)[x] = packed(channel(2), channel(1), channel(0), 255);
        }
    }
    cairo_destroy(c);
    cairo_surface_destroy(sheet);
    return out;
}

void paint(cairo_t* c, double r, double g, double b) {
    cairo_set_source_rgb(c, r, g, b);
}

void ground(cairo_t* c, double from, double to, const std::array<double, 3>& one,
            const std::array<double, 3>& two) {
    cairo_pattern_t* shade = cairo_pattern_create_linear(0, from, 0, to);
    cairo_pattern_add_color_stop_rgb(shade, 0, one[0], one[1], one[2]);
    cairo_pattern_add_color_stop_rgb(shade, 1, two[0], two[1], two[2]);
    cairo_set_source(c, shade);
    cairo_rectangle(c, 0, from, 1, to - from);
    cairo_fill(c);
    cairo_pattern_destroy(shade);
}

void box(cairo_t* c, double x, double y, double w, double h) {
    cairo_rectangle(c, x, y, w, h);
    cairo_fill(c);
}

// A signal post with its arm, its foot at (x, y).
void post(cairo_t* c, double x, double y, double high) {
    paint(c, 0.12, 0.11, 0.14);
    box(c, x - high * 0.03, y - high, high * 0.06, high);
    cairo_save(c);
    cairo_translate(c, x, y - high * 0.86);
    cairo_rotate(c, -0.4);
    paint(c, 0.85, 0.26, 0.18);
    box(c, -high * 0.42, -high * 0.055, high * 0.44, high * 0.11);
    paint(c, 0.97, 0.95, 0.88);
    box(c, -high * 0.34, -high * 0.055, high * 0.06, high * 0.11);
    cairo_restore(c);
}

// Fog over a line: nearly white.
void fog(cairo_t* c, double h) {
    ground(c, 0, h * 0.7, {0.95, 0.96, 0.97}, {0.90, 0.91, 0.91});
    ground(c, h * 0.7, h, {0.88, 0.89, 0.88}, {0.80, 0.82, 0.80});
    cairo_push_group(c);
    post(c, 0.3, h * 0.78, h * 0.6);
    cairo_pop_group_to_source(c);
    cairo_paint_with_alpha(c, 0.35);
}

// Night: lamps and little else.
void night(cairo_t* c, double h) {
    ground(c, 0, h, {0.03, 0.04, 0.09}, {0.06, 0.05, 0.07});
    for (std::uint32_t i = 0; i < 40; ++i) {
        const double bright = chance(i * 3 + 2);
        cairo_set_source_rgba(c, 1, 0.9, 0.7, bright * 0.7);
        cairo_arc(c, chance(i * 3), chance(i * 3 + 1) * h * 0.6, 0.001 + bright * 0.001, 0,
                  fullTurn);
        cairo_fill(c);
    }
    for (const double x : {0.22, 0.24, 0.61}) {
        paint(c, 1, 0.75, 0.35);
        cairo_arc(c, x, h * 0.72, 0.012, 0, fullTurn);
        cairo_fill(c);
    }
}

// Ballast from near: busy everywhere.
void ballast(cairo_t* c, double h) {
    paint(c, 0.35, 0.33, 0.32);
    cairo_paint(c);
    for (std::uint32_t i = 0; i < 5200; ++i) {
        const double grey = 0.2 + 0.7 * chance(i * 7 + 2), warm = 0.1 * chance(i * 7 + 5);
        paint(c, grey + warm, grey, grey - warm / 2);
        cairo_save(c);
        cairo_translate(c, chance(i * 7), chance(i * 7 + 1) * h);
        cairo_rotate(c, fullTurn * chance(i * 7 + 3));
        const double r = 0.006 + 0.012 * chance(i * 7 + 4);
        box(c, -r, -r * 0.6, 2 * r, r * 1.2);
        cairo_restore(c);
    }
}

// Levers in a row.
void levers(cairo_t* c, double h) {
    ground(c, 0, h, {0.55, 0.47, 0.38}, {0.30, 0.24, 0.20});
    for (int i = 0; i < 9; ++i) {
        const double x = 0.08 + 0.105 * i;
        const bool red = i % 3 == 0;
        paint(c, red ? 0.78 : 0.20, red ? 0.20 : 0.36, red ? 0.16 : 0.55);
        box(c, x, h * (i == 5 ? 0.36 : 0.2), 0.03, h * 0.7);
        paint(c, 0.82, 0.84, 0.86);
        cairo_arc(c, x + 0.015, h * (i == 5 ? 0.36 : 0.2), 0.026, 0, fullTurn);
        cairo_fill(c);
    }
}

// A field in the afternoon.
void field(cairo_t* c, double h) {
    ground(c, 0, h * 0.5, {0.45, 0.65, 0.86}, {0.80, 0.88, 0.92});
    ground(c, h * 0.5, h, {0.52, 0.62, 0.30}, {0.30, 0.44, 0.18});
    for (std::uint32_t i = 0; i < 9; ++i) {
        cairo_set_source_rgba(c, 1, 1, 1, 0.7);
        cairo_arc(c, 0.15 + 0.09 * i, h * (0.14 + 0.06 * chance(i)), 0.03 + 0.03 * chance(i + 50),
                  0, fullTurn);
        cairo_fill(c);
    }
    post(c, 0.76, h * 0.82, h * 0.62);
}

// A lamp's face, for square ones.
void lamp(cairo_t* c, double h) {
    ground(c, 0, h, {0.16, 0.19, 0.22}, {0.26, 0.28, 0.30});
    const std::array<std::array<double, 4>, 4> rings{{{0.36, 0.08, 0.08, 0.09},
                                                      {0.31, 0.72, 0.55, 0.20},
                                                      {0.27, 0.10, 0.36, 0.28},
                                                      {0.16, 0.42, 0.86, 0.66}}};
    for (const auto& [r, red, green, blue] : rings) {
        paint(c, red, green, blue);
        cairo_arc(c, 0.5, h * 0.46, r, 0, fullTurn);
        cairo_fill(c);
    }
}

Result<Bytes> jpegOf(const Straight8& picture, int quality, Chroma chroma = Chroma::half) {
    Encoding how{Content::jpeg, quality, chroma};
    how.effort = Effort::quick;  // the printed Huffman tables, as cameras write them
    return encode(picture, how);
}

// Four inks without a profile, as a printer's file has them.
Result<Bytes> inksOf(const Straight8& picture) {
    Bytes inks;
    for (const std::uint32_t p : picture.pixels()) {
        const int most = std::max({redOf(p), greenOf(p), blueOf(p), 1});
        for (const int v : {redOf(p), greenOf(p), blueOf(p)})
            inks.push_back(static_cast<std::uint8_t>(255 - v * 255 / most));
        inks.push_back(static_cast<std::uint8_t>(255 - most));
    }
    VipsImage* plain = vips_image_new_from_memory_copy(inks.data(), inks.size(), picture.width(),
                                                       picture.height(), 4, VIPS_FORMAT_UCHAR);
    VipsImage* tagged = nullptr;
    void* data = nullptr;
    std::size_t size = 0;
    const bool good =
        plain &&
        vips_copy(plain, &tagged, "interpretation", VIPS_INTERPRETATION_CMYK, nullptr) == 0 &&
        vips_jpegsave_buffer(tagged, &data, &size, "Q", 90, nullptr) == 0;
    Bytes bytes;
    if (good) {
        const auto* from = static_cast<const std::uint8_t*>(data);
        bytes.assign(from, from + size);
    }
    g_free(data);
    if (tagged) g_object_unref(tagged);
    if (plain) g_object_unref(plain);
    if (!good) return fail(Code::unwritable, "The demo's photograph for print cannot be written.");
    return bytes;
}

}  // namespace

Result<std::vector<PhotoFile>> makePhotos() {
    std::vector<PhotoFile> files;
    std::optional<Error> error;
    const auto add = [&](const char* name, Result<Bytes> bytes) {
        if (bytes)
            files.push_back({name, std::move(*bytes)});
        else
            error = bytes.error();
    };
    add("01-the-line-at-noon.jpg", jpegOf(taken({1600, 1067}, 6, field), 90));
    add("02-levers-upright.jpg", jpegOf(taken({1200, 1600}, 6, levers), 92, Chroma::full));
    add("03-the-valley-wide.jpg", jpegOf(duskAtTheBox({2400, 1000}, 8), 90));
    add("04-a-lamp-square.jpg", jpegOf(taken({1400, 1400}, 5, lamp), 88));
    add("05-tiny.jpg", jpegOf(taken({240, 160}, 4, field), 85));
    add("06-24-megapixels.jpg", jpegOf(duskAtTheBox({6000, 4000}, 6), 88));
    add("07-fog.jpg", jpegOf(taken({1600, 1067}, 5, fog), 90));
    add("08-night.jpg", jpegOf(taken({1600, 1067}, 7, night), 90));
    add("09-ballast.jpg", jpegOf(taken({1600, 1067}, 6, ballast), 90));
    const Straight8 aside = taken({1400, 933}, 6, levers);
    auto turned = jpegOf(aside, 90);
    if (turned) {
        TagsAsked tags;
        tags.orientation = 6;
        tags.size = aside.size();
        tags.author = "Mossgate Signals";
        auto tagged = withTags(*turned, *turned, tags, "a photograph of the demo");
        turned = std::move(tagged);
    }
    add("10-held-upright.jpg", std::move(turned));
    auto half = jpegOf(taken({1600, 1067}, 6, field), 90);
    if (half) half->resize(half->size() * 2 / 5);
    add("11-breaks-off.jpg", std::move(half));
    (void)readFacts(files.front().bytes, "a photograph");  // starts libvips
    add("12-for-print.jpg", inksOf(taken({1200, 900}, 4, lamp)));
    if (error) return passOn(*error);
    return files;
}

}  // namespace zl::demo
