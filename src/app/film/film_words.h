// SPDX-License-Identifier: GPL-3.0-or-later
// What is said of a video and of a frame of it.
#pragma once

#include <QString>
#include <optional>

#include "work/film_desk.h"

namespace zl::app {

// Its size, shape, length and rate, and what they mean for a frame.
QString factWords(const VideoFacts& facts, std::optional<PixelSize> frame);
// What its colours are taken for, each told by the file or guessed.
QString colourWords(const VideoFacts& facts);
QString nearnessWords(Nearness nearness);
QString exactWords(const VideoFrame& frame);
QString speedWords(int speed);

}  // namespace zl::app
