// SPDX-License-Identifier: GPL-3.0-or-later
// The wall: every surface of every piece of a kit, small, as the pieces are now; no host is asked.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>
#include <string>
#include <vector>

#include "readings/reading.h"
#include "rehearsal/surfaces.h"

namespace zl {

struct WallPiece {
    std::string id, title;
    std::shared_ptr<const Brief> brief;
    std::shared_ptr<const Straight8> frame;  // what a release would write
    double length = usualLength;             // s, of the video that it goes with
    std::string slice{};                     // the name of the part that it is; empty: the whole
};

// A piece as a whole, and each of its slices that has a brief of its own and lies in the frame.
std::vector<WallPiece> wallPiecesOf(const Piece& piece, const Briefs& briefs,
                                    const std::shared_ptr<const Straight8>& frame);

struct Tile {
    std::string piece;    // its id
    std::string surface;  // the sight's id
    std::string title;    // "Feed card, 360 px"; of a slice "header: Page header, 970 px"
    Straight8 picture;    // opaque, at most as large as was asked for
};

// Light surfaces and every footage, piece by piece, on up to `coreCount()` threads; each is told as
// soon as it is drawn, one at a time, from the thread that drew it, with its place in the order.
// Code::cancelled when it was stopped.
[[nodiscard]] Result<void> drawWall(const std::vector<WallPiece>& pieces,
                                    const std::string& channel, PixelSize most,
                                    std::stop_token stop,
                                    const std::function<void(std::size_t, Tile)>& told);
// How many tiles that will be.
std::size_t tilesOf(const std::vector<WallPiece>& pieces);

// A picture made smaller to fit; as it is when it does.
Straight8 within(const Straight8& picture, PixelSize most);

}  // namespace zl
