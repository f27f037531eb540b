// SPDX-License-Identifier: GPL-3.0-or-later
// Pages, portraits, galleries, stories, props.
#include <algorithm>
#include <cmath>

#include "rehearsal/surface_parts.h"

namespace zl {
namespace {

// Lines of somebody's words that nobody reads.
void greyLines(Board& board, const RealRect& r, int lines, const SurfaceTheme& theme) {
    for (int i = 0; i < lines; ++i) {
        Colour c = theme.soft;
        c.alpha = 90;
        board.rounded(
            {r.x, r.y + i * 16.0, r.width * (i + 1 == lines ? 0.6 : 0.9 + 0.1 * (i % 2)), 6}, 3, c);
    }
}

}  // namespace

// The part of the banner that a device shows, then the channel's name and its films.
Surface channelPage(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width;
    RealRect part = RealRect::of(picture->size());
    if (const Zone* zone = brief.zone(sight.spec.zone))
        part = {zone->part.x * part.width, zone->part.y * part.height,
                zone->part.width * part.width, zone->part.height * part.height};
    const int height = std::max(1, static_cast<int>(std::lround(width * part.height / part.width)));
    const int disc = std::clamp(width / 9, 44, 88), margin = std::max(14, width / 40);
    const int columns = width > 1000 ? 5 : width > 600 ? 4 : 2, gap = 12;
    const double card = (width - 2.0 * margin - (columns - 1) * gap) / columns;
    const int below = disc + 34 + static_cast<int>(card * 9 / 16) + 14;
    Board board({width, height + below}, theme.ground);
    const PixelRect at{0, 0, width, height};
    board.place(at, picture, theme.ground, part);
    const double x = margin, y = height + 14;
    board.disc(x + disc / 2.0, y + disc / 2.0, disc / 2.0, neighbours[1].sky);
    board.disc(x + disc * 0.6, y + disc * 0.42, disc * 0.22, neighbours[1].disc);
    board.words({x + disc + 14, y + disc * 0.16, width - x - disc - 28, 28}, posted.channel,
                "SemiBold", width > 600 ? 20 : 16, theme.ink, 1);
    board.words({x + disc + 14, y + disc * 0.16 + 26, width - x - disc - 28, 20},
                "Films, and what stands behind them", "Regular", 12, theme.soft, 1);
    for (int i = 0; i < columns; ++i)
        board.neighbour({x + i * (card + gap), y + disc + 16, card, card * 9 / 16},
                        neighbours[static_cast<std::size_t>(i) % neighbours.size()]);
    return made(board, at);
}

// A page with the strip at its head, under a gap.
Surface headedPage(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width, height = heightAt(width, picture->size()), side = 36,
              top = sight.spec.gapAbove;
    Board board({width + 2 * side, top + height + 210}, theme.ground);
    const PixelRect at{side, top, side + width, top + height};
    board.place(at, picture, theme.ground);
    board.words({side * 1.0, at.bottom + 18.0, width * 0.6, 26}, "What happened this week",
                "SemiBold", 18, theme.ink, 1);
    greyLines(board, {side * 1.0, at.bottom + 54.0, width * 0.58, 0}, 7, theme);
    board.neighbour({side + width * 0.66, at.bottom + 22.0, width * 0.34, width * 0.34 * 9 / 16},
                    neighbours[2]);
    return made(board, at);
}

// Beside a few words of the channel.
Surface roundPortrait(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width, rim = 12;
    Board board({width + 220, width + 2 * rim}, theme.ground);
    const PixelRect at{rim, rim, rim + width, rim + width};
    board.placeRound(at, picture, theme.ground);
    const double left = at.right + 12, top = rim + width / 2.0 - 17;
    board.words({left, top, 180, 20}, posted.channel, "SemiBold", 13, theme.ink, 1);
    greyLines(board, {left, top + 24, 150, 0}, width > 60 ? 2 : 1, theme);
    return made(board, at);
}

// One picture after the other, the piece the middle one.
Surface galleryLarge(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width, height = heightAt(width, picture->size()), gap = 16,
              peek = 60, rim = 16;
    Board board({2 * (peek + gap) + width, height + 2 * rim}, theme.ground);
    const PixelRect at{peek + gap, rim, peek + gap + width, rim + height};
    board.neighbour({at.left - gap - width * 1.0, rim * 1.0, width * 1.0, height * 1.0},
                    neighbours[0]);
    board.neighbour({at.right + gap * 1.0, rim * 1.0, width * 1.0, height * 1.0}, neighbours[1]);
    board.place(at, picture, theme.ground);
    return made(board, at);
}

// A wall of small ones, three across.
Surface gallerySmall(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width, height = heightAt(width, picture->size()), gap = 10;
    Board board({3 * width + 4 * gap, height + 2 * gap + height / 3}, theme.ground);
    const PixelRect at{2 * gap + width, gap, 2 * gap + 2 * width, gap + height};
    for (int row = 0; row < 2; ++row)
        for (int i = 0; i < 3; ++i)
            if (row != 0 || i != 1)
                board.neighbour({gap + i * (width + gap) * 1.0, gap + row * (height + gap) * 1.0,
                                 width * 1.0, height * 1.0},
                                neighbours[static_cast<std::size_t>(i + row) % neighbours.size()]);
    board.place(at, picture, theme.ground);
    return made(board, at);
}

// The whole telephone, with what the place lays over its top and its foot.
Surface uprightStory(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width, height = heightAt(width, picture->size());
    Board board({width, height}, theme.ground);
    const PixelRect at{0, 0, width, height};
    board.place(at, picture, theme.ground);
    const Colour pale{255, 255, 255, 230}, veil{0, 0, 0, 110};
    const double w = width, h = height;
    board.fill({0, 0, w, 0.14 * h}, veil);
    for (int i = 0; i < 3; ++i)
        board.rounded({12 + i * (w - 24) / 3 + 2, 12, (w - 24) / 3 - 4, 3}, 1.5,
                      i == 0 ? pale : Colour{255, 255, 255, 110});
    board.disc(34, 46, 18, neighbours[1].sky);
    board.words({62, 36, w - 80, 20}, posted.channel, "SemiBold", 14, pale, 1);
    board.fill({0, 0.80 * h, w, 0.20 * h}, veil);
    board.words({16, 0.815 * h, w - 32, 20}, posted.title, "SemiBold", 14, pale, 2);
    board.rounded({14, h - 62, w - 90, 40}, 4, {255, 255, 255, 60});
    board.words({28, h - 52, w - 120, 20}, "Write back", "Regular", 13, pale, 1);
    board.disc(w - 42, h - 42, 18, {255, 255, 255, 60});
    return made(board, at);
}

// On its own, 350 px wide or whatever its brief says, on a floor.
Surface standingProp(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const int width = sight.spec.width, height = heightAt(width, picture->size()), side = 60,
              rim = 24;
    Board board({width + 2 * side, height + 2 * rim}, theme.ground);
    Colour floor = theme.soft;
    floor.alpha = 60;
    board.fill({0, rim + height * 0.86, width + 2.0 * side, height * 1.0}, floor);
    const PixelRect at{side, rim, side + width, rim + height};
    board.place(at, picture, {});
    return made(board, at);
}

}  // namespace zl
