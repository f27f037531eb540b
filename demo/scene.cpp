// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/scene.h"

#include <cairo.h>

#include <algorithm>
#include <array>
#include <functional>

#include "raster/bleed.h"

namespace zl::demo {
namespace {

constexpr double fullTurn = 6.283185307179586;

struct Sheet {
    cairo_surface_t* surface;
    cairo_t* cairo;
    explicit Sheet(PixelSize size)
        : surface(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, size.width, size.height)),
          cairo(cairo_create(surface)) {}
    Sheet(const Sheet&) = delete;
    Sheet& operator=(const Sheet&) = delete;
    ~Sheet() {
        cairo_destroy(cairo);
        cairo_surface_destroy(surface);
    }
};

void colour(cairo_t* c, std::uint32_t rgb, double alpha = 1) {
    cairo_set_source_rgba(c, static_cast<double>(rgb >> 16 & 255u) / 255,
                          static_cast<double>(rgb >> 8 & 255u) / 255,
                          static_cast<double>(rgb & 255u) / 255, alpha);
}

void fillRect(cairo_t* c, double x, double y, double w, double h, std::uint32_t rgb) {
    colour(c, rgb);
    cairo_rectangle(c, x, y, w, h);
    cairo_fill(c);
}

// Draws at four times the size and takes means, so that see-through edges keep their colour:
// straight, not premultiplied.
Straight8 drawnCutOut(PixelSize size, const std::function<void(cairo_t*)>& draw) {
    constexpr int finer = 4;
    Sheet sheet({size.width * finer, size.height * finer});
    cairo_scale(sheet.cairo, size.width * finer, size.height * finer);
    draw(sheet.cairo);
    cairo_surface_flush(sheet.surface);
    Straight8 out(size);
    const int stride = cairo_image_surface_get_stride(sheet.surface);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            int sum[4] = {0, 0, 0, 0};  // blue, green, red (premultiplied), alpha
            for (int sub = 0; sub < finer * finer; ++sub) {
                const unsigned char* p =
                    cairo_image_surface_get_data(sheet.surface) +
                    static_cast<std::ptrdiff_t>(y * finer + sub / finer) * stride +
                    (x * finer + sub % finer) * 4;
                for (int i = 0; i < 4; ++i) sum[i] += p[i];
            }
            const auto straight = [&](int i) {
                return sum[3] == 0 ? 0 : std::min(255, (sum[i] * 255 + sum[3] / 2) / sum[3]);
            };
            constexpr int samples = finer * finer;
            out.row(y)[x] =
                packed(straight(2), straight(1), straight(0), (sum[3] + samples / 2) / samples);
        }
    return out;
}

// Hash noise after the "lowbias32" integer mixer by C. Wellons (public domain).
std::uint32_t mixed(std::uint32_t v) {
    v ^= v >> 16;
    v *= 0x7feb352du;
    v ^= v >> 15;
    v *= 0x846ca68bu;
    return v ^ v >> 16;
}

void hills(cairo_t* c, double base, double rise, double shift, std::uint32_t rgb) {
    colour(c, rgb);
    cairo_move_to(c, 0, 1);
    cairo_line_to(c, 0, base);
    cairo_curve_to(c, 0.18 + shift, base - rise, 0.34 + shift, base - rise, 0.52, base);
    cairo_curve_to(c, 0.68, base + rise * 0.6, 0.84, base - rise * 0.9, 1, base - rise * 0.3);
    cairo_line_to(c, 1, 1);
    cairo_close_path(c);
    cairo_fill(c);
}

// Unit square; the scene's height is 9/16 of its width, so lengths along y are larger.
void scene(cairo_t* c) {
    cairo_pattern_t* sky = cairo_pattern_create_linear(0, 0, 0, 0.86);
    cairo_pattern_add_color_stop_rgb(sky, 0.0, 0.094, 0.137, 0.263);
    cairo_pattern_add_color_stop_rgb(sky, 0.5, 0.435, 0.282, 0.408);
    cairo_pattern_add_color_stop_rgb(sky, 0.82, 0.871, 0.545, 0.373);
    cairo_pattern_add_color_stop_rgb(sky, 1.0, 0.957, 0.733, 0.486);
    cairo_set_source(c, sky);
    cairo_paint(c);
    cairo_pattern_destroy(sky);
    cairo_save(c);
    cairo_translate(c, 0.70, 0.72);
    cairo_scale(c, 9.0 / 16, 1);
    colour(c, 0xF5D493);
    cairo_arc(c, 0, 0, 0.12, 0, fullTurn);
    cairo_fill(c);
    cairo_restore(c);
    hills(c, 0.79, 0.07, 0.0, 0x39354E);
    hills(c, 0.87, 0.04, 0.06, 0x24213A);
    // The track.
    colour(c, 0x8D8796);
    cairo_set_line_width(c, 0.006);
    for (const double foot : {0.36, 0.78}) {
        cairo_move_to(c, foot, 1.01);
        cairo_line_to(c, foot < 0.5 ? 0.50 : 0.545, 0.845);
        cairo_stroke(c);
    }
    // The box: plinth, cabin, lit windows, roof.
    fillRect(c, 0.79, 0.50, 0.165, 0.36, 0x16141F);
    for (int i = 0; i < 4; ++i) fillRect(c, 0.802 + 0.037 * i, 0.515, 0.029, 0.095, 0xFFD07A);
    colour(c, 0x100E18);
    cairo_move_to(c, 0.77, 0.495);
    cairo_line_to(c, 0.872, 0.37);
    cairo_line_to(c, 0.974, 0.495);
    cairo_close_path(c);
    cairo_fill(c);
}

void arm(cairo_t* c, double postFoot) {
    fillRect(c, 0.60, 0.08, 0.075, postFoot - 0.08, 0x17151F);
    cairo_save(c);
    cairo_translate(c, 0.6375, 0.24);
    cairo_rotate(c, -0.48);
    fillRect(c, -0.50, -0.085, 0.55, 0.17, 0xE2452F);
    fillRect(c, -0.40, -0.085, 0.07, 0.17, 0xFFF6E3);
    cairo_restore(c);
    colour(c, 0xFFC653);
    cairo_arc(c, 0.6375, 0.24, 0.055, 0, fullTurn);
    cairo_fill(c);
}

}  // namespace

Straight8 duskAtTheBox(PixelSize size, int grain) {
    Sheet sheet(size);
    cairo_scale(sheet.cairo, size.width, size.height);
    scene(sheet.cairo);
    cairo_surface_flush(sheet.surface);
    Straight8 out(size);
    const int stride = cairo_image_surface_get_stride(sheet.surface);
    for (int y = 0; y < size.height; ++y) {
        const unsigned char* row =
            cairo_image_surface_get_data(sheet.surface) + static_cast<std::ptrdiff_t>(y) * stride;
        for (int x = 0; x < size.width; ++x) {
            // One grain for all three channels, as film has it: two uniform draws make a triangle.
            const std::uint32_t n = mixed(static_cast<std::uint32_t>(y * size.width + x) + 0x51D3u);
            const int speck =
                grain == 0
                    ? 0
                    : static_cast<int>(n % static_cast<std::uint32_t>(grain + 1)) -
                          static_cast<int>((n >> 16) % static_cast<std::uint32_t>(grain + 1));
            const auto channel = [&](int i) { return std::clamp(row[4 * x + i] + speck, 0, 255); };
            out.row(y)[x] = packed(channel(2), channel(1), channel(0), 255);
        }
    }
    return out;
}

Straight8 signalArm(PixelSize size) {
    return drawnCutOut(size, [](cairo_t* c) { arm(c, 1.0); });
}

Straight8 channelMark(PixelSize size) {
    return drawnCutOut(size, [](cairo_t* c) {
        const struct {
            double radius;
            std::uint32_t rgb;
        } rings[] = {{0.44, 0x1F3A4D}, {0.39, 0xFFC653}, {0.35, 0x1F3A4D}};
        for (const auto& ring : rings) {
            colour(c, ring.rgb);
            cairo_arc(c, 0.5, 0.5, ring.radius, 0, fullTurn);
            cairo_fill(c);
        }
        fillRect(c, 0.52, 0.26, 0.055, 0.48, 0xFFF6E3);
        cairo_translate(c, 0.5475, 0.36);
        cairo_rotate(c, -0.42);
        fillRect(c, -0.27, -0.055, 0.31, 0.11, 0xE2452F);
        fillRect(c, -0.215, -0.055, 0.045, 0.11, 0xFFF6E3);
    });
}

// The edge spread over three pixels, as a scaled-up picture has it.
Straight8 softened(const Straight8& crisp) {
    Straight8 out = crisp.clone();
    for (int y = 1; y + 1 < crisp.height(); ++y)
        for (int x = 1; x + 1 < crisp.width(); ++x) {
            int sum = 0, most = 0;
            std::uint32_t strongest = 0;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    const std::uint32_t p = crisp.row(y + dy)[x + dx];
                    sum += alphaOf(p);
                    if (alphaOf(p) > most) {
                        most = alphaOf(p);
                        strongest = p;
                    }
                }
            if (sum < 9 * 255)
                out.row(y)[x] = (strongest & 0xFFFFFF) | static_cast<std::uint32_t>(sum / 9) << 24;
        }
    return out;
}

Straight8 carelessMark() {
    constexpr int side = 124, left = 13, top = 8, hardUpTo = 50;
    const Straight8 crisp = channelMark({side, side});
    const Straight8 mark = softened(crisp);
    Straight8 out = Straight8::cleared({150, 150});
    constexpr int ink[] = {0x1F, 0x3A, 0x4D};
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            const std::uint32_t p = (x < hardUpTo ? crisp : mark).row(y)[x];
            const int a = alphaOf(p);
            if (a == 0) continue;
            std::uint32_t& to = out.row(y + top)[x + left];
            if (a == 255) {
                to = p;
            } else if (x < hardUpTo) {
                to = a < 128 ? 0 : packed(ink[0], ink[1], ink[2], 255);
            } else {
                // Nine tenths of the white page are still in it.
                const auto stained = [&](int c) { return c + (255 - c) * 9 * (255 - a) / 2550; };
                to = packed(stained(ink[0]), stained(ink[1]), stained(ink[2]), a);
            }
        }
    for (const auto& [x, y, w, h] : {std::array{9, 12, 3, 2}, std::array{137, 16, 2, 2},
                                     std::array{12, 133, 4, 3}, std::array{139, 118, 1, 2}})
        for (int sy = y; sy < y + h; ++sy)
            for (int sx = x; sx < x + w; ++sx) out.row(sy)[sx] = packed(0x5A, 0x5F, 0x66, 230);
    return out;
}

Straight8 markOnWhite(PixelSize size) {
    const int side = std::min(size.width, size.height) * 7 / 8, left = (size.width - side) / 2,
              top = (size.height - side) / 2;
    Straight8 mark = channelMark({side, side}), out = Straight8::cleared(size, 0xFFFFFFFFu);
    flattenOnto(mark, 255, 255, 255);
    for (int y = 0; y < side; ++y) std::copy_n(mark.row(y), side, out.row(y + top) + left);
    return out;
}

Straight8 layoutSketch(PixelSize size) {
    return drawnCutOut(size, [](cairo_t* c) {
        colour(c, 0xE6ECEF);
        cairo_set_line_width(c, 0.006);
        for (const auto& [x, y, w, h] :
             {std::array{0.05, 0.08, 0.62, 0.26}, std::array{0.05, 0.40, 0.28, 0.50},
              std::array{0.74, 0.30, 0.21, 0.46}}) {
            cairo_rectangle(c, x, y, w, h);
            cairo_stroke(c);
            cairo_move_to(c, x, y);
            cairo_line_to(c, x + w, y + h);
            cairo_stroke(c);
        }
    });
}

}  // namespace zl::demo
