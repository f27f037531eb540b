// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces that move: how long, how fast, and what is seen of a layer at a moment.
#pragma once

#include "kit/kit.h"

namespace zl {

// Whether it is not the same at every moment: it has a clip, or a length and layers that come or
// go.
bool moves(const Piece& piece);
// s; 0 for a still piece. Where none was given, all clips are seen once; 10 s without any.
double lengthOf(const Piece& piece);
// Frames a second, as a fraction; of its lowest clip, at most 60, 30 without any.
struct FrameRate {
    int over = 30, under = 1;
    double perSecond() const { return static_cast<double>(over) / under; }
    bool operator==(const FrameRate&) const = default;
};
FrameRate rateOf(const Piece& piece);
long long frameCountOf(const Piece& piece);
// How strong a layer is at a moment of a piece of that length, 0..1, its own opacity aside.
double strengthAt(const std::optional<ShowTime>& shows, double moment, double length);

// The moment that tells most of a piece: the first at which as many of its layers as can be are
// seen at full strength; 0 for a still piece.
double tellingMoment(const Piece& piece);

inline constexpr double longestPiece = 4 * 3600;  // s; ours
// Code::badUsage: a number that is none, an end before its beginning, a part outside of the video.
[[nodiscard]] Result<void> checkClip(const Clip& clip);
[[nodiscard]] Result<void> checkShowTime(const ShowTime& shows);

}  // namespace zl
