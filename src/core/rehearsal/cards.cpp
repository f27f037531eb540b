// SPDX-License-Identifier: GPL-3.0-or-later
// Where a thumbnail or a post is met: cards, lists, a page that embeds it, a television.
#include "rehearsal/surface_parts.h"

namespace zl {
namespace {

void underCard(Board& board, const RealRect& card, const std::string& title,
               const std::string& channel, const SurfaceTheme& theme) {
    const double h = board.words({card.x, card.bottom() + 8, card.width, 40}, title, "SemiBold", 14,
                                 theme.ink, 2);
    board.words({card.x, card.bottom() + 10 + h, card.width, 20}, channel, "Regular", 12,
                theme.soft, 1);
}

}  // namespace

// The piece beside its neighbour, which the surface's edge cuts as the edge of a window cuts a
// feed.
// In step with the video that the piece goes with.
std::string lengthWords(const Neighbour& neighbour, const Posted& posted) {
    return clockWords(std::max(1.0, neighbour.lasts * posted.length / usualLength));
}

Surface feedCard(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const SurfaceSpec& spec = sight.spec;
    constexpr int gap = 12, peek = 44;
    const int h = heightAt(spec.width, picture->size());
    const PixelSize size{gap + spec.width + gap + peek, gap + h + 76};
    Board board(size, theme.ground);
    const PixelRect at{gap, gap, gap + spec.width, gap + h};
    const RealRect mine = real(at);
    RealRect after = mine;
    after.x += spec.width + gap;
    board.neighbour(after, neighbours[0]);
    board.place(at, picture, theme.ground);
    if (spec.progress) board.progressLine(mine, theme);
    if (spec.badge) board.lengthTab(mine, posted.lengthWords(), theme);
    underCard(board, mine, posted.title, posted.channel, theme);
    return made(board, at);
}

namespace {

// A list of small cards, the words on the right; the piece stands in the middle.
Surface cardRows(const Sight& sight, const OnSurface& stand, int rows, int wordsWidth) {
    const auto& [brief, theme, picture, posted] = stand;
    const SurfaceSpec& spec = sight.spec;
    constexpr int gap = 12;
    const int h = heightAt(spec.width, picture->size());
    const PixelSize size{gap + spec.width + gap + wordsWidth + gap, gap + rows * (h + gap)};
    Board board(size, theme.ground);
    PixelRect at;
    for (int i = 0; i < rows; ++i) {
        const int top = gap + i * (h + gap);
        const RealRect card{gap, static_cast<double>(top), static_cast<double>(spec.width),
                            static_cast<double>(h)};
        const bool mine = i == (rows - 1) / 2;
        const Neighbour& n = neighbours[i == 0 ? 1 : 2];
        if (mine) {
            at = {gap, top, gap + spec.width, top + h};
            board.place(at, picture, theme.ground);
        } else {
            board.neighbour(card, n);
        }
        if (spec.progress && mine) board.progressLine(card, theme);
        if (spec.badge)
            board.lengthTab(card, mine ? posted.lengthWords() : lengthWords(n, posted), theme);
        const RealRect words{card.right() + gap, static_cast<double>(top),
                             static_cast<double>(wordsWidth), static_cast<double>(h)};
        const double used =
            board.words(words, mine ? posted.title : n.title, "SemiBold", 13, theme.ink, 2);
        board.words({words.x, words.y + used + 3, words.width, 20},
                    mine ? posted.channel : n.channel, "Regular", 11, theme.soft, 1);
    }
    return made(board, at);
}

}  // namespace

Surface suggestionRows(const Sight& sight, const OnSurface& stand) {
    return cardRows(sight, stand, 3, 120);
}

Surface searchRows(const Sight& sight, const OnSurface& stand) {
    return cardRows(sight, stand, 2, 150);
}

// As wide as the telephone, the words below, the next one cut by the screen's foot.
Surface phoneColumn(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const SurfaceSpec& spec = sight.spec;
    const int h = heightAt(spec.width, picture->size());
    constexpr int under = 64, peek = 56;
    Board board({spec.width, h + under + peek}, theme.ground);
    const PixelRect at{0, 0, spec.width, h};
    const RealRect mine{0, 0, static_cast<double>(spec.width), static_cast<double>(h)};
    board.place(at, picture, theme.ground);
    if (spec.progress) board.progressLine(mine, theme);
    if (spec.badge) board.lengthTab(mine, posted.lengthWords(), theme);
    const double used = board.words({14, h + 10.0, spec.width - 28.0, 20}, posted.title, "SemiBold",
                                    15, theme.ink, 1);
    board.words({14, h + 13.0 + used, spec.width - 28.0, 20}, posted.channel, "Regular", 12,
                theme.soft, 1);
    board.neighbour({0, static_cast<double>(h + under), mine.width, mine.height}, neighbours[2]);
    return made(board, at);
}

// A page of somebody's, with the piece as its player before it plays.
Surface blogEmbed(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const SurfaceSpec& spec = sight.spec;
    const int h = heightAt(spec.width, picture->size());
    constexpr int side = 20, head = 62, foot = 48;
    Board board({spec.width + 2 * side, head + h + foot}, theme.ground);
    board.words({side, 12, spec.width * 1.0, 24}, "Notes from the signal box", "SemiBold", 17,
                theme.ink, 1);
    board.words({side, 37, spec.width * 1.0, 20},
                "A page that shows the video in the middle of its words.", "Regular", 12,
                theme.soft, 1);
    const PixelRect at{side, head, side + spec.width, head + h};
    board.place(at, picture, theme.ground);
    if (spec.play) board.playSign(side + spec.width / 2.0, head + h / 2.0, 0.06 * spec.width);
    board.words({side, head + h + 12.0, spec.width * 1.0, 20}, "And then the words go on below it.",
                "Regular", 12, theme.soft, 1);
    return made(board, at);
}

// Across the room: the chosen card has a rim, its neighbours go on past the screen.
Surface televisionRow(const Sight& sight, const OnSurface& stand) {
    const auto& [brief, theme, picture, posted] = stand;
    const SurfaceSpec& spec = sight.spec;
    const int h = heightAt(spec.width, picture->size());
    constexpr int gap = 20, peek = 120, top = 18;
    Board board({peek + gap + spec.width + gap + peek, top + h + 58}, theme.ground);
    const PixelRect at{peek + gap, top, peek + gap + spec.width, top + h};
    const RealRect mine = real(at);
    board.neighbour({mine.x - gap - mine.width, mine.y, mine.width, mine.height}, neighbours[1]);
    board.neighbour({mine.right() + gap, mine.y, mine.width, mine.height}, neighbours[2]);
    board.rim({mine.x - 5, mine.y - 5, mine.width + 10, mine.height + 10}, theme.ink);
    board.place(at, picture, theme.ground);
    if (spec.progress) board.progressLine(mine, theme);
    if (spec.badge) board.lengthTab(mine, posted.lengthWords(), theme);
    const double used = board.words({mine.x, mine.bottom() + 10, mine.width, 20}, posted.title,
                                    "SemiBold", 15, theme.ink, 1);
    board.words({mine.x, mine.bottom() + 12 + used, mine.width, 20}, posted.channel, "Regular", 12,
                theme.soft, 1);
    return made(board, at);
}

}  // namespace zl
