// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/surfaces.h"

#include <fmt/core.h>

#include <array>
#include <cmath>

#include "base/parallel.h"
#include "lettering/pango_part.h"
#include "raster/cairo_part.h"
#include "raster/resample.h"

namespace zl {
namespace {

using pango_part::Owned;
using Picture = std::shared_ptr<const Straight8>;

struct Theme {
    const char* id;
    const char* word;
    Colour ground, ink, soft, tab;
};
constexpr std::array<Theme, 2> themes{{
    {"light", "light", {252, 252, 252, 255}, {29, 35, 39, 255}, {88, 99, 107, 255}, {255, 255, 255, 255}},
    {"dark", "dark", {27, 31, 34, 255}, {238, 241, 242, 255}, {160, 170, 176, 255}, {12, 14, 16, 255}},
}};

struct Neighbour {
    const char *title, *channel, *length;
    Colour sky, disc, land;
    double discX, discY, discSize;
};
// Invented, all of them.
constexpr std::array<Neighbour, 3> neighbours{{
    {"Casting a brass whistle", "Foundry Lane", "22:17", {50, 64, 95, 255}, {225, 176, 75, 255}, {138, 121, 85, 255}, 0.64, 0.46, 0.31},
    {"Rust to running, part 3", "Foundry Lane", "31:50", {108, 80, 95, 255}, {232, 211, 196, 255}, {173, 144, 145, 255}, 0.60, 0.40, 0.28},
    {"Points, rods and patience",
     "Lantern Yard",
     "12:08",
     {70, 104, 120, 255},
     {240, 222, 170, 255},
     {120, 140, 120, 255},
     0.30,
     0.44,
     0.26},
}};

// A drawing board: an opaque Cairo surface in the theme's ground.
class Board {
  public:
    Board(PixelSize size, const Theme& theme)
        : size_(size),
          surface_(cairo_image_surface_create(CAIRO_FORMAT_RGB24, size.width, size.height)),
          cairo_(cairo_create(surface_.get())) {
        fill(RealRect::of(size), theme.ground);
    }

    void colour(Colour c) { cairo_set_source_rgba(cairo_.get(), c.red / 255.0, c.green / 255.0, c.blue / 255.0, c.alpha / 255.0); }
    void fill(const RealRect& r, Colour c) {
        colour(c);
        cairo_rectangle(cairo_.get(), r.x, r.y, r.width, r.height);
        cairo_fill(cairo_.get());
    }
    void disc(double x, double y, double radius, Colour c) {
        colour(c);
        cairo_arc(cairo_.get(), x, y, radius, 0, 6.283185307179586);
        cairo_fill(cairo_.get());
    }
    // Up to `lines` lines within the width; returns the height used.
    double words(const RealRect& r, const std::string& text, const char* style, double size, Colour c, int lines) {
        const auto layout = pango_part::newLayout();
        pango_layout_set_font_description(layout.get(), pango_part::fontOf("Zinc Sans", style, size).get());
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
    // The length on a tab that hangs over the card's right edge, a slanted cut on its left.
    void lengthTab(const RealRect& card, const std::string& length, const Theme& theme) {
        const auto layout = pango_part::newLayout();
        pango_layout_set_font_description(layout.get(), pango_part::fontOf("Zinc Sans", "Medium", 11).get());
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
    // How far somebody has watched: a line along the foot.
    void progressLine(const RealRect& card, const Theme& theme) {
        constexpr double thick = 3, watched = 0.4;
        fill({card.x, card.bottom() - thick, card.width, thick}, theme.soft);
        fill({card.x, card.bottom() - thick, card.width * watched, thick}, theme.ink);
    }
    // A thin ring with a triangle.
    void playSign(double x, double y, double radius) {
        cairo_t* cr = cairo_.get();
        cairo_new_path(cr);
        for (const auto& [width, shade] : {std::pair(4.0, Colour{0, 0, 0, 120}), std::pair(2.0, Colour{255, 255, 255, 255})}) {
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
    void rim(const RealRect& r, Colour c) {
        colour(c);
        cairo_set_line_width(cairo_.get(), 3);
        cairo_rectangle(cairo_.get(), r.x, r.y, r.width, r.height);
        cairo_stroke(cairo_.get());
    }
    void neighbour(const RealRect& r, const Neighbour& n) {
        cairo_save(cairo_.get());
        cairo_rectangle(cairo_.get(), r.x, r.y, r.width, r.height);
        cairo_clip(cairo_.get());
        fill(r, n.sky);
        disc(r.x + n.discX * r.width, r.y + n.discY * r.height, n.discSize * r.height, n.disc);
        fill({r.x, r.y + 0.78 * r.height, r.width, 0.22 * r.height}, n.land);
        cairo_restore(cairo_.get());
    }
    // The picture, resampled once, to whole px.
    void place(const PixelRect& at, const std::shared_ptr<const Straight8>& picture, Colour ground) {
        const Ink ink = resampled(picture, isOpaque(*picture), RealRect::of(picture->size()), RealRect::of(at.size()),
                                  PixelRect::of(at.size()), coreCount());
        const auto under = std::make_shared<Straight8>(Straight8::cleared(at.size(), packed(ground.red, ground.green, ground.blue, 255)));
        const std::array<Ink, 2> inks{Ink{PixelRect::of(at.size()), under, nullptr, 0, 0, true, 1}, ink};
        Straight8 blended(at.size());
        blendOver(inks, PixelRect::of(at.size()), blended);
        cairo_surface_flush(surface_.get());
        for (int y = 0; y < at.height(); ++y) {
            auto* row = reinterpret_cast<std::uint32_t*>(data(at.top + y)) + at.left;
            for (int x = 0; x < at.width(); ++x) {
                const std::uint32_t p = blended.row(y)[x];
                row[x] = 0xFF000000u | static_cast<std::uint32_t>(redOf(p)) << 16 | static_cast<std::uint32_t>(greenOf(p)) << 8 |
                         static_cast<std::uint32_t>(blueOf(p));
            }
        }
        cairo_surface_mark_dirty(surface_.get());
    }
    Straight8 taken() {
        cairo_surface_flush(surface_.get());
        Straight8 out(size_);
        for (int y = 0; y < size_.height; ++y) {
            const auto* row = reinterpret_cast<const std::uint32_t*>(data(y));
            for (int x = 0; x < size_.width; ++x)
                out.row(y)[x] = packed(static_cast<int>(row[x] >> 16 & 255u), static_cast<int>(row[x] >> 8 & 255u),
                                       static_cast<int>(row[x] & 255u), 255);
        }
        return out;
    }

  private:
    unsigned char* data(int y) {
        return cairo_image_surface_get_data(surface_.get()) +
               static_cast<std::ptrdiff_t>(cairo_image_surface_get_stride(surface_.get())) * y;
    }
    PixelSize size_;
    cairo_part::Surface surface_;
    cairo_part::Context cairo_;
};

// Whole px: the height that a picture of that width gets.
int heightAt(int width, PixelSize picture) {
    return std::max(1, static_cast<int>(std::lround(static_cast<double>(width) * picture.height / picture.width)));
}

void underCard(Board& board, const RealRect& card, const std::string& title, const std::string& channel, const Theme& theme) {
    const double h = board.words({card.x, card.bottom() + 8, card.width, 40}, title, "SemiBold", 14, theme.ink, 2);
    board.words({card.x, card.bottom() + 10 + h, card.width, 20}, channel, "Regular", 12, theme.soft, 1);
}

// The piece beside its neighbour, which the surface's edge cuts as the edge of a window cuts a feed.
Surface feedCard(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted& posted) {
    constexpr int gap = 12, peek = 44;
    const int h = heightAt(spec.width, picture->size());
    const PixelSize size{gap + spec.width + gap + peek, gap + h + 76};
    Board board(size, theme);
    const PixelRect at{gap, gap, gap + spec.width, gap + h};
    const RealRect mine{static_cast<double>(at.left), static_cast<double>(at.top), static_cast<double>(at.width()),
                        static_cast<double>(at.height())};
    RealRect after = mine;
    after.x += spec.width + gap;
    board.neighbour(after, neighbours[0]);
    board.place(at, picture, theme.ground);
    if (spec.progress) board.progressLine(mine, theme);
    if (spec.badge) board.lengthTab(mine, posted.length, theme);
    underCard(board, mine, posted.title, posted.channel, theme);
    return {"", "", board.taken(), at, {}, {}};
}

// A list of small cards, the words on the right; the piece stands in the middle.
Surface cardRows(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted& posted, int rows, int wordsWidth) {
    constexpr int gap = 12;
    const int h = heightAt(spec.width, picture->size());
    const PixelSize size{gap + spec.width + gap + wordsWidth + gap, gap + rows * (h + gap)};
    Board board(size, theme);
    PixelRect at;
    for (int i = 0; i < rows; ++i) {
        const int top = gap + i * (h + gap);
        const RealRect card{gap, static_cast<double>(top), static_cast<double>(spec.width), static_cast<double>(h)};
        const bool mine = i == (rows - 1) / 2;
        const Neighbour& n = neighbours[i == 0 ? 1 : 2];
        if (mine) {
            at = {gap, top, gap + spec.width, top + h};
            board.place(at, picture, theme.ground);
        } else {
            board.neighbour(card, n);
        }
        if (spec.progress && mine) board.progressLine(card, theme);
        if (spec.badge) board.lengthTab(card, mine ? posted.length : n.length, theme);
        const RealRect words{card.right() + gap, static_cast<double>(top), static_cast<double>(wordsWidth), static_cast<double>(h)};
        const double used = board.words(words, mine ? posted.title : n.title, "SemiBold", 13, theme.ink, 2);
        board.words({words.x, words.y + used + 3, words.width, 20}, mine ? posted.channel : n.channel, "Regular", 11, theme.soft, 1);
    }
    return {"", "", board.taken(), at, {}, {}};
}

Surface suggestionRows(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted& posted) {
    return cardRows(spec, theme, picture, posted, 3, 120);
}

Surface searchRows(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted& posted) {
    return cardRows(spec, theme, picture, posted, 2, 150);
}

// As wide as the telephone, the words below, the next one cut by the screen's foot.
Surface phoneColumn(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted& posted) {
    const int h = heightAt(spec.width, picture->size());
    constexpr int under = 64, peek = 56;
    Board board({spec.width, h + under + peek}, theme);
    const PixelRect at{0, 0, spec.width, h};
    const RealRect mine{0, 0, static_cast<double>(spec.width), static_cast<double>(h)};
    board.place(at, picture, theme.ground);
    if (spec.progress) board.progressLine(mine, theme);
    if (spec.badge) board.lengthTab(mine, posted.length, theme);
    const double used = board.words({14, h + 10.0, spec.width - 28.0, 20}, posted.title, "SemiBold", 15, theme.ink, 1);
    board.words({14, h + 13.0 + used, spec.width - 28.0, 20}, posted.channel, "Regular", 12, theme.soft, 1);
    board.neighbour({0, static_cast<double>(h + under), mine.width, mine.height}, neighbours[2]);
    return {"", "", board.taken(), at, {}, {}};
}

// A page of somebody's, with the piece as its player before it plays.
Surface blogEmbed(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted&) {
    const int h = heightAt(spec.width, picture->size());
    constexpr int side = 20, head = 62, foot = 48;
    Board board({spec.width + 2 * side, head + h + foot}, theme);
    board.words({side, 12, spec.width * 1.0, 24}, "Notes from the signal box", "SemiBold", 17, theme.ink, 1);
    board.words({side, 37, spec.width * 1.0, 20}, "A page that shows the video in the middle of its words.", "Regular", 12, theme.soft, 1);
    const PixelRect at{side, head, side + spec.width, head + h};
    board.place(at, picture, theme.ground);
    if (spec.play) board.playSign(side + spec.width / 2.0, head + h / 2.0, 0.06 * spec.width);
    board.words({side, head + h + 12.0, spec.width * 1.0, 20}, "And then the words go on below it.", "Regular", 12, theme.soft, 1);
    return {"", "", board.taken(), at, {}, {}};
}

// Across the room: the chosen card has a rim, its neighbours go on past the screen.
Surface televisionRow(const SurfaceSpec& spec, const Theme& theme, const Picture& picture, const Posted& posted) {
    const int h = heightAt(spec.width, picture->size());
    constexpr int gap = 20, peek = 120, top = 18;
    Board board({peek + gap + spec.width + gap + peek, top + h + 58}, theme);
    const PixelRect at{peek + gap, top, peek + gap + spec.width, top + h};
    const RealRect mine{static_cast<double>(at.left), static_cast<double>(top), static_cast<double>(spec.width), static_cast<double>(h)};
    board.neighbour({mine.x - gap - mine.width, mine.y, mine.width, mine.height}, neighbours[1]);
    board.neighbour({mine.right() + gap, mine.y, mine.width, mine.height}, neighbours[2]);
    board.rim({mine.x - 5, mine.y - 5, mine.width + 10, mine.height + 10}, theme.ink);
    board.place(at, picture, theme.ground);
    if (spec.progress) board.progressLine(mine, theme);
    if (spec.badge) board.lengthTab(mine, posted.length, theme);
    const double used = board.words({mine.x, mine.bottom() + 10, mine.width, 20}, posted.title, "SemiBold", 15, theme.ink, 1);
    board.words({mine.x, mine.bottom() + 12 + used, mine.width, 20}, posted.channel, "Regular", 12, theme.soft, 1);
    return {"", "", board.taken(), at, {}, {}};
}

using Draw = Surface (*)(const SurfaceSpec&, const Theme&, const Picture&, const Posted&);
struct DrawnSurface {
    std::string_view id;
    Draw draw;
};
constexpr std::array<DrawnSurface, 6> drawn{{{"feed-card", feedCard},
                                             {"suggestion", suggestionRows},
                                             {"search", searchRows},
                                             {"phone", phoneColumn},
                                             {"blog-embed", blogEmbed},
                                             {"television-row", televisionRow}}};

}  // namespace

Result<std::vector<Surface>> drawSurfaces(const Brief& brief, const Shown& shown, const Posted& posted) {
    std::vector<Surface> all;
    for (const Theme& theme : themes)
        for (const SurfaceSpec& spec : brief.surfaces)
            for (const DrawnSurface& row : drawn) {
                if (row.id != spec.id || std::find(spec.themes.begin(), spec.themes.end(), theme.id) == spec.themes.end()) continue;
                const Picture picture = shown(spec.width);
                if (!picture || picture->empty()) return fail(Code::unreadable, "There is no picture to show.");
                Surface surface = row.draw(spec, theme, picture, posted);
                surface.spec = spec.id;
                surface.theme = theme.id;
                surface.id = fmt::format("{}-{}", spec.id, theme.id);
                surface.title = fmt::format("{}, {} px, {}", spec.title, spec.width, theme.word);
                all.push_back(std::move(surface));
            }
    return all;
}

}  // namespace zl
