// SPDX-License-Identifier: GPL-3.0-or-later
// The made-up video of the demo kit: twelve seconds of drawings and of sound of our own making.
#pragma once

#include "base/bytes.h"
#include "base/result.h"
#include "raster/raster.h"

namespace zl::demo {

inline constexpr char filmName[] = "the-lever-that-stuck.mp4";
inline constexpr int filmRate = 25;  // frames a second
inline constexpr PixelSize filmSize{1280, 720};
// Where its shots begin, by their first frames: dusk at the box; the arm from near; a smeared pan
// that comes to rest and fades away; a black second; the channel's mark, faded in; the lit windows.
inline constexpr int filmFrames = 300, armFrom = 100, panFrom = 150, restFrom = 170, fadeFrom = 185,
                     blackFrom = 200, markFrom = 225, markWhole = 238, windowsFrom = 263;

// The same bytes at each call.
[[nodiscard]] Result<Bytes> makeFilm();

// Three seconds held upright, as a phone records: up the signal's mast, to its arm.
inline constexpr char climbName[] = "up-the-mast.mp4";
inline constexpr PixelSize climbSize{360, 640};
inline constexpr int climbFrames = 75;
[[nodiscard]] Result<Bytes> makeClimb();

}  // namespace zl::demo
