// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/board.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/parallel.h"
#include "lettering/pango_part.h"
#include "raster/resample.h"

namespace zl {

Board::Board(PixelSize size, Colour ground)
    : size_(size),
      surface_(cairo_image_surface_create(CAIRO_FORMAT_RGB24, size.width, size.height)),
      cairo_(cairo_create(surface_.get())) {
    if (cairo_surface_status(surface_.get()) != CAIRO_STATUS_SUCCESS) throw std::bad_alloc();
    fill(RealRect::of(size), ground);
}

void Board::colour(Colour c) {
    cairo_set_source_rgba(cairo_.get(), c.red / 255.0, c.green / 255.0, c.blue / 255.0,
                          c.alpha / 255.0);
}

void Board::fill(const RealRect& r, Colour c) {
    colour(c);
    cairo_rectangle(cairo_.get(), r.x, r.y, r.width, r.height);
    cairo_fill(cairo_.get());
}

void Board::disc(double x, double y, double radius, Colour c) {
    colour(c);
    cairo_arc(cairo_.get(), x, y, radius, 0, 6.283185307179586);
    cairo_fill(cairo_.get());
}

double Board::words(const RealRect& r, const std::string& text, const char* style, double size,
                    Colour c, int lines) {
    const auto layout = pango_part::newLayout();
    pango_layout_set_font_description(layout.get(),
                                      pango_part::fontOf("Zinc Sans", style, size).get());
    pango_layout_set_text(layout.get(), text.data(), static_cast<int>(text.size()));
    pango_layout_set_width(layout.get(), static_cast<int>(r.width * PANGO_SCALE));
    pango_layout_set_height(layout.get(), -lines);
    pango_layout_set_ellipsize(layout.get(), PANGO_ELLIPSIZE_END);
    pango_layout_set_wrap(layout.get(), PANGO_WRAP_WORD_CHAR);
    colour(c);
    cairo_move_to(cairo_.get(), r.x, r.y);
    pango_cairo_show_layout(cairo_.get(), layout.get());
    PangoRectangle logical;
    pango_layout_get_pixel_extents(layout.get(), nullptr, &logical);
    return logical.height;
}

void Board::lengthTab(const RealRect& card, const std::string& length, const SurfaceTheme& theme) {
    const auto layout = pango_part::newLayout();
    pango_layout_set_font_description(layout.get(),
                                      pango_part::fontOf("Zinc Sans", "Medium", 11).get());
    pango_layout_set_text(layout.get(), length.data(), -1);
    int w = 0, h = 0;
    pango_layout_get_pixel_size(layout.get(), &w, &h);
    const double height = h + 3, left = card.right() - w - 14, top = card.bottom() - height;
    cairo_t* cr = cairo_.get();
    cairo_move_to(cr, left, card.bottom());
    cairo_line_to(cr, left + 5, top);
    cairo_line_to(cr, card.right(), top);
    cairo_line_to(cr, card.right(), card.bottom());
    cairo_close_path(cr);
    colour(theme.tab);
    cairo_fill(cr);
    colour(theme.ink);
    cairo_move_to(cr, card.right() - w - 5, top + 1);
    pango_cairo_show_layout(cr, layout.get());
}

void Board::progressLine(const RealRect& card, const SurfaceTheme& theme) {
    constexpr double thick = 3, watched = 0.4;
    fill({card.x, card.bottom() - thick, card.width, thick}, theme.soft);
    fill({card.x, card.bottom() - thick, card.width * watched, thick}, theme.ink);
}

void Board::playSign(double x, double y, double radius) {
    cairo_t* cr = cairo_.get();
    cairo_new_path(cr);
    for (const auto& [width, shade] :
         {std::pair(4.0, Colour{0, 0, 0, 120}), std::pair(2.0, Colour{255, 255, 255, 255})}) {
        colour(shade);
        cairo_set_line_width(cr, width);
        cairo_arc(cr, x, y, radius, 0, 6.283185307179586);
        cairo_stroke(cr);
    }
    cairo_move_to(cr, x - radius * 0.3, y - radius * 0.45);
    cairo_line_to(cr, x + radius * 0.5, y);
    cairo_line_to(cr, x - radius * 0.3, y + radius * 0.45);
    cairo_close_path(cr);
    cairo_fill(cr);
}

void Board::neighbour(const RealRect& r, const Neighbour& n) {
    cairo_save(cairo_.get());
    cairo_rectangle(cairo_.get(), r.x, r.y, r.width, r.height);
    cairo_clip(cairo_.get());
    fill(r, n.sky);
    disc(r.x + n.discX * r.width, r.y + n.discY * r.height, n.discSize * r.height, n.disc);
    fill({r.x, r.y + 0.78 * r.height, r.width, 0.22 * r.height}, n.land);
    cairo_restore(cairo_.get());
}

void Board::rounded(const RealRect& r, double radius, Colour c) {
    constexpr double quarter = std::numbers::pi / 2;
    cairo_t* cr = cairo_.get();
    radius = std::min({radius, r.width / 2, r.height / 2});
    cairo_new_path(cr);
    cairo_arc(cr, r.right() - radius, r.y + radius, radius, -quarter, 0);
    cairo_arc(cr, r.right() - radius, r.bottom() - radius, radius, 0, quarter);
    cairo_arc(cr, r.x + radius, r.bottom() - radius, radius, quarter, 2 * quarter);
    cairo_arc(cr, r.x + radius, r.y + radius, radius, 2 * quarter, 3 * quarter);
    cairo_close_path(cr);
    colour(c);
    cairo_fill(cr);
}

void Board::rim(const RealRect& r, Colour c, double width) {
    colour(c);
    cairo_set_line_width(cairo_.get(), width);
    cairo_rectangle(cairo_.get(), r.x, r.y, r.width, r.height);
    cairo_stroke(cairo_.get());
}

Straight8 Board::standing(const PixelRect& at) {
    cairo_surface_flush(surface_.get());
    // What stands beside the board is black.
    Straight8 out = Straight8::cleared(at.size(), packed(0, 0, 0, 255));
    const PixelRect seen = at.intersected(PixelRect::of(size_));
    for (int y = seen.top - at.top; y < seen.bottom - at.top; ++y) {
        const auto* row = reinterpret_cast<const std::uint32_t*>(data(at.top + y)) + at.left;
        for (int x = seen.left - at.left; x < seen.right - at.left; ++x)
            out.row(y)[x] =
                packed(static_cast<int>(row[x] >> 16 & 255u), static_cast<int>(row[x] >> 8 & 255u),
                       static_cast<int>(row[x] & 255u), 255);
    }
    return out;
}

void Board::place(const PixelRect& at, const std::shared_ptr<const Straight8>& picture,
                  std::optional<Colour> ground, std::optional<RealRect> box) {
    const PixelRect all = PixelRect::of(at.size());
    const Ink ink =
        resampled(picture, isOpaque(*picture), box.value_or(RealRect::of(picture->size())),
                  RealRect::of(at.size()), all, coreCount());
    const auto under = std::make_shared<Straight8>(
        ground
            ? Straight8::cleared(at.size(), packed(ground->red, ground->green, ground->blue, 255))
            : standing(at));
    const std::array<Ink, 2> inks{Ink{all, under, nullptr, 0, 0, true, 1}, ink};
    Straight8 blended(at.size());
    blendOver(inks, all, blended, coreCount());
    put(at.left, at.top, blended);
}

void Board::placeRound(const PixelRect& at, const std::shared_ptr<const Straight8>& picture,
                       Colour ground) {
    const Straight8 around = standing(at);
    place(at, picture, ground);
    const Straight8 inside = standing(at);
    const auto mask = cairo_part::coverage(PixelRect::of(at.size()), {}, {}, [&](cairo_t* cr) {
        cairo_arc(cr, at.width() / 2.0, at.height() / 2.0, at.width() / 2.0, 0,
                  2 * std::numbers::pi);
        cairo_fill(cr);
    });
    if (!mask) return;
    Straight8 mixed(at.size());
    for (int y = 0; y < at.height(); ++y) {
        const unsigned char* cover = cairo_part::rowOf(mask.get(), y);
        for (int x = 0; x < at.width(); ++x) {
            const std::uint32_t a = inside.row(y)[x], b = around.row(y)[x];
            const auto mix = [&](int front, int back) {
                return (front * cover[x] + back * (255 - cover[x]) + 127) / 255;
            };
            mixed.row(y)[x] = packed(mix(redOf(a), redOf(b)), mix(greenOf(a), greenOf(b)),
                                     mix(blueOf(a), blueOf(b)), 255);
        }
    }
    put(at.left, at.top, mixed);
}

void Board::put(int left, int top, const Straight8& picture) {
    cairo_surface_flush(surface_.get());
    for (int y = std::max(0, -top); y < picture.height() && top + y < size_.height; ++y) {
        auto* row = reinterpret_cast<std::uint32_t*>(data(top + y));
        for (int x = std::max(0, -left); x < picture.width() && left + x < size_.width; ++x) {
            const std::uint32_t p = picture.row(y)[x];
            row[left + x] = 0xFF000000u | static_cast<std::uint32_t>(redOf(p)) << 16 |
                            static_cast<std::uint32_t>(greenOf(p)) << 8 |
                            static_cast<std::uint32_t>(blueOf(p));
        }
    }
    cairo_surface_mark_dirty(surface_.get());
}

Straight8 Board::taken() {
    return standing(PixelRect::of(size_));
}

unsigned char* Board::data(int y) {
    return cairo_image_surface_get_data(surface_.get()) +
           static_cast<std::ptrdiff_t>(cairo_image_surface_get_stride(surface_.get())) * y;
}

int heightAt(int width, PixelSize picture) {
    return std::max(1, static_cast<int>(std::lround(static_cast<double>(width) * picture.height /
                                                    picture.width)));
}

RealRect real(const PixelRect& r) {
    return {static_cast<double>(r.left), static_cast<double>(r.top), static_cast<double>(r.width()),
            static_cast<double>(r.height())};
}

}  // namespace zl
