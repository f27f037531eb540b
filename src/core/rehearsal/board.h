// SPDX-License-Identifier: GPL-3.0-or-later
// What surfaces are drawn with: themes, invented neighbours, a board. Included by the room's own
// sources.
#pragma once

#include <array>
#include <memory>
#include <optional>
#include <string>

#include "base/colour_value.h"
#include "raster/cairo_part.h"
#include "raster/raster.h"

namespace zl {

struct SurfaceTheme {
    const char* id;
    const char* word;
    Colour ground, ink, soft, tab;
};
inline constexpr std::array<SurfaceTheme, 2> themes{{
    {"light",
     "light",
     {252, 252, 252, 255},
     {29, 35, 39, 255},
     {88, 99, 107, 255},
     {255, 255, 255, 255}},
    {"dark",
     "dark",
     {27, 31, 34, 255},
     {238, 241, 242, 255},
     {160, 170, 176, 255},
     {12, 14, 16, 255}},
}};

struct Neighbour {
    const char *title, *channel;
    double lasts;  // s, beside a video of usualLength; beside another one longer or shorter alike
    Colour sky, disc, land;
    double discX, discY, discSize;
};
// Invented, all of them.
inline constexpr std::array<Neighbour, 3> neighbours{{
    {"Casting a brass whistle",
     "Foundry Lane",
     1337,
     {50, 64, 95, 255},
     {225, 176, 75, 255},
     {138, 121, 85, 255},
     0.64,
     0.46,
     0.31},
    {"Rust to running, part 3",
     "Foundry Lane",
     1910,
     {108, 80, 95, 255},
     {232, 211, 196, 255},
     {173, 144, 145, 255},
     0.60,
     0.40,
     0.28},
    {"Points, rods and patience",
     "Lantern Yard",
     728,
     {70, 104, 120, 255},
     {240, 222, 170, 255},
     {120, 140, 120, 255},
     0.30,
     0.44,
     0.26},
}};

// A drawing board: an opaque Cairo surface. Lengths are its px.
class Board {
  public:
    Board(PixelSize size, Colour ground);

    PixelSize size() const { return size_; }
    cairo_t* cairo() { return cairo_.get(); }
    void colour(Colour c);
    void fill(const RealRect& r, Colour c);
    // Corners of `radius` px.
    void rounded(const RealRect& r, double radius, Colour c);
    void disc(double x, double y, double radius, Colour c);
    void rim(const RealRect& r, Colour c, double width = 3);
    // Up to `lines` lines within the width; returns the height used.
    double words(const RealRect& r, const std::string& text, const char* style, double size,
                 Colour c, int lines);
    // The length on a tab that hangs over the card's right edge, a slanted cut on its left.
    void lengthTab(const RealRect& card, const std::string& length, const SurfaceTheme& theme);
    // How far somebody has watched: a line along the foot.
    void progressLine(const RealRect& card, const SurfaceTheme& theme);
    // A thin ring with a triangle.
    void playSign(double x, double y, double radius);
    void neighbour(const RealRect& r, const Neighbour& n);
    // The part `box` (all of it: nothing) of the picture, resampled once, to whole px. What is
    // see-through shows `ground`, or what stands there already.
    void place(const PixelRect& at, const std::shared_ptr<const Straight8>& picture,
               std::optional<Colour> ground, std::optional<RealRect> box = {});
    // The same, cut to the circle inside `at`.
    void placeRound(const PixelRect& at, const std::shared_ptr<const Straight8>& picture,
                    Colour ground);
    // An opaque picture as it is; its top left corner at (left, top). What reaches past the board
    // is left out.
    void put(int left, int top, const Straight8& picture);
    Straight8 taken();

  private:
    unsigned char* data(int y);
    Straight8 standing(const PixelRect& at);
    PixelSize size_;
    cairo_part::Surface surface_;
    cairo_part::Context cairo_;
};

// Whole px: the height that a picture of that width gets.
int heightAt(int width, PixelSize picture);
RealRect real(const PixelRect& r);

}  // namespace zl
