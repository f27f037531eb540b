// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/programme.h"

#include <algorithm>
#include <cmath>
#include <list>
#include <mutex>
#include <numbers>

#include "raster/footage.h"
#include "raster/resample.h"
#include "rehearsal/surface_parts.h"

namespace zl {
namespace {

// Drawn on a stage of 1280 x 720, scaled to the board.
void stage(Board& board) {
    cairo_scale(board.cairo(), board.size().width / 1280.0, board.size().height / 720.0);
}

double swing(double seconds, double period) {
    return std::sin(2 * std::numbers::pi * seconds / period);
}

void slope(Board& board, const RealRect& r, Colour top, Colour bottom) {
    cairo_pattern_t* pattern = cairo_pattern_create_linear(0, r.y, 0, r.bottom());
    cairo_pattern_add_color_stop_rgb(pattern, 0, top.red / 255.0, top.green / 255.0,
                                     top.blue / 255.0);
    cairo_pattern_add_color_stop_rgb(pattern, 1, bottom.red / 255.0, bottom.green / 255.0,
                                     bottom.blue / 255.0);
    cairo_set_source(board.cairo(), pattern);
    cairo_rectangle(board.cairo(), r.x, r.y, r.width, r.height);
    cairo_fill(board.cairo());
    cairo_pattern_destroy(pattern);
}

void window(Board& board, const RealRect& r, Colour paper, double scroll, int rows) {
    board.rounded({r.x - 1, r.y - 1, r.width + 2, r.height + 2}, 5, {70, 84, 92, 255});
    board.rounded(r, 4, paper);
    board.fill({r.x, r.y, r.width, 24}, {206, 212, 214, 255});
    cairo_save(board.cairo());
    cairo_rectangle(board.cairo(), r.x, r.y + 26, r.width, r.height - 28);
    cairo_clip(board.cairo());
    for (int i = 0; i < rows + 4; ++i) {
        const double y = r.y + 40 + i * 20 - std::fmod(scroll, 20.0);
        const int line = i + static_cast<int>(scroll / 20);
        const double length = 0.35 + 0.5 * ((line * 37) % 11) / 11.0;
        board.fill({r.x + 16, y, r.width * length, 7}, {150, 160, 166, 255});
    }
    cairo_restore(board.cairo());
}

// Somebody works: a list scrolls slowly, the pointer wanders, a caret blinks.
void desktop(Board& board, double t) {
    slope(board, {0, 0, 1280, 720}, {146, 176, 182, 255}, {108, 140, 150, 255});
    board.fill({0, 684, 1280, 36}, {52, 62, 68, 255});
    for (int i = 0; i < 5; ++i)
        board.rounded({14 + i * 42.0, 691, 24, 22}, 4,
                      {static_cast<std::uint8_t>(120 + i * 18), 140, 150, 255});
    window(board, {70, 60, 560, 470}, {246, 247, 247, 255}, 6 * t, 22);
    window(board, {560, 150, 610, 420}, {34, 40, 45, 255}, 3 * t, 20);
    if (std::fmod(t, 1.0) < 0.5) board.fill({600, 540, 9, 16}, {220, 226, 228, 255});
    const double x = 640 + 210 * swing(t, 11), y = 360 + 120 * swing(t + 2, 7);
    cairo_t* cr = board.cairo();
    cairo_move_to(cr, x, y);
    cairo_line_to(cr, x, y + 22);
    cairo_line_to(cr, x + 16, y + 16);
    cairo_close_path(cr);
    board.colour({250, 250, 250, 255});
    cairo_fill_preserve(cr);
    board.colour({20, 24, 28, 255});
    cairo_set_line_width(cr, 1.5);
    cairo_stroke(cr);
}

// Hills rush by in three depths, a ball leaps over posts.
void game(Board& board, double t) {
    slope(board, {0, 0, 1280, 720}, {250, 196, 120, 255}, {226, 120, 108, 255});
    board.disc(980, 190, 74, {255, 232, 180, 255});
    const Colour hills[] = {{150, 92, 120, 255}, {96, 74, 120, 255}, {44, 60, 92, 255}};
    cairo_t* cr = board.cairo();
    for (int depth = 0; depth < 3; ++depth) {
        const double speed = 90.0 * std::pow(2.6, depth), height = 330 + 95.0 * depth;
        cairo_new_path(cr);
        cairo_move_to(cr, 0, 720);
        for (int x = 0; x <= 1280; x += 8) {
            const double u = (x + speed * t) / (260 - 50.0 * depth);
            cairo_line_to(cr, x, height + 46 * std::sin(u) + 24 * std::sin(2.3 * u + depth));
        }
        cairo_line_to(cr, 1280, 720);
        cairo_close_path(cr);
        board.colour(hills[depth]);
        cairo_fill(cr);
    }
    board.fill({0, 640, 1280, 80}, {28, 34, 44, 255});
    constexpr double gap = 340, fast = 640;
    for (int i = -1; i < 5; ++i) {
        const double x = i * gap + gap - std::fmod(fast * t, gap);
        board.rounded({x, 570, 26, 74}, 6, {236, 214, 160, 255});
    }
    const double leap = std::abs(std::sin(std::numbers::pi * fast * t / gap));
    board.disc(330, 612 - 150 * leap, 28, {92, 208, 196, 255});
    board.disc(322, 604 - 150 * leap, 8, {220, 250, 246, 255});
}

// A dim room: a lamp that sways, its light on the table, a window with the night in it.
void room(Board& board, double t) {
    slope(board, {0, 0, 1280, 720}, {26, 22, 30, 255}, {14, 13, 18, 255});
    board.fill({130, 110, 250, 300}, {20, 26, 44, 255});
    board.disc(300 - 6 * t + 40 * std::floor(t / 20), 190, 26, {150, 156, 170, 255});
    board.fill({250, 110, 8, 300}, {38, 32, 36, 255});
    board.fill({0, 560, 1280, 160}, {34, 26, 24, 255});
    const double x = 800 + 60 * swing(t, 4.5);
    cairo_t* cr = board.cairo();
    cairo_pattern_t* glow = cairo_pattern_create_radial(x, 300, 20, x, 300, 460);
    cairo_pattern_add_color_stop_rgba(glow, 0, 0.95, 0.72, 0.40, 0.75);
    cairo_pattern_add_color_stop_rgba(glow, 1, 0.95, 0.72, 0.40, 0);
    cairo_set_source(cr, glow);
    cairo_rectangle(cr, 0, 0, 1280, 720);
    cairo_fill(cr);
    cairo_pattern_destroy(glow);
    board.colour({60, 52, 50, 255});
    cairo_set_line_width(cr, 3);
    cairo_move_to(cr, 800, 0);
    cairo_line_to(cr, x, 270);
    cairo_stroke(cr);
    cairo_move_to(cr, x - 62, 318);
    cairo_line_to(cr, x - 22, 262);
    cairo_line_to(cr, x + 22, 262);
    cairo_line_to(cr, x + 62, 318);
    cairo_close_path(cr);
    board.colour({88, 62, 44, 255});
    cairo_fill(cr);
    board.rounded({600, 520, 330, 56}, 8, {62, 46, 38, 255});
    board.rounded({980, 440, 120, 136}, 40, {22, 20, 26, 255});
    board.disc(1040, 410, 46, {22, 20, 26, 255});
}

}  // namespace

Straight8 programmeAt(const std::string& footage, PixelSize size, double seconds) {
    Board board(size, {0, 0, 0, 255});
    stage(board);
    footage == "game"   ? game(board, seconds)
    : footage == "room" ? room(board, seconds)
                        : desktop(board, seconds);
    return board.taken();
}

std::shared_ptr<const Straight8> stillFootage(const std::string& footage, PixelSize size) {
    static std::mutex mutex;
    static std::list<std::pair<std::string, std::shared_ptr<const Straight8>>> kept;
    constexpr std::size_t most = 8;
    {
        const std::scoped_lock lock(mutex);
        for (const auto& [word, picture] : kept)
            if (word == footage && picture->size() == size) return picture;
    }
    Footage which = Footage::light;
    for (const Footage one : allFootage)
        if (nameOf(one) == footage) which = one;
    auto drawn = std::make_shared<const Straight8>(footageOf(which, size));
    const std::scoped_lock lock(mutex);
    kept.emplace_front(footage, drawn);
    if (kept.size() > most) kept.pop_back();
    return drawn;
}

bool putOwnVideo(Board& board, const Sight& sight, const Posted& posted) {
    if (sight.footage != ownFootage || !posted.film) return false;
    const auto frame = posted.film(std::clamp(sight.at, 0.0, posted.length));
    if (!frame || frame->empty()) return false;
    // Whole, with bars where its shape is another one.
    const PixelSize room = board.size();
    const double by = std::min(static_cast<double>(room.width) / frame->width(),
                               static_cast<double>(room.height) / frame->height());
    const int width = static_cast<int>(std::lround(frame->width() * by)),
              height = static_cast<int>(std::lround(frame->height() * by)),
              left = (room.width - width) / 2, top = (room.height - height) / 2;
    board.place({left, top, left + width, top + height}, frame, {});
    return true;
}

// The overlay, or the card, over what runs.
Surface programme(const Sight& sight, const OnSurface& stand) {
    const int height = heightAt(sight.spec.width, stand.picture->size());
    const PixelSize size{sight.spec.width, height};
    Board board(size, {0, 0, 0, 255});
    Board below(size, {0, 0, 0, 255});
    const Straight8 running = putOwnVideo(below, sight, stand.posted)
                                  ? below.taken()
                                  : programmeAt(sight.footage, size, sight.at);
    board.put(0, 0, running);
    board.place(PixelRect::of(size), stand.picture, {});
    if (!stand.posted.hides) return made(board, PixelRect::of(size));
    // What lies under the overlay, hatched; the rest as it runs.
    const auto ink = resampled(stand.picture, false, RealRect::of(stand.picture->size()),
                               RealRect::of(size), PixelRect::of(size), 1);
    const Straight8 cover = rounded8(ink);
    Straight8 out(size);
    constexpr int seen = 8, stripe = 12;  // alpha; px
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const std::uint32_t p = running.row(y)[x];
            const bool covered = alphaOf(cover.row(y)[x]) >= seen, line = (x + y) % stripe < 3;
            out.row(y)[x] =
                !covered ? p
                : line   ? packed(255, 255, 255, 255)
                         : packed(redOf(p) * 2 / 3, greenOf(p) * 2 / 3, blueOf(p) * 2 / 3, 255);
        }
    board.put(0, 0, out);
    return made(board, PixelRect::of(size));
}

}  // namespace zl
