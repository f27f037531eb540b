// SPDX-License-Identifier: GPL-3.0-or-later
// What is heard of a moving piece: the sounds of its clips, each at its loudness, mixed.
#pragma once

#include <memory>
#include <optional>
#include <stop_token>

#include "kit/kit.h"
#include "video/sound.h"

namespace zl {

// From the piece's start to its end; nothing where no clip of it is heard. A clip whose sound
// cannot be read is silent.
std::unique_ptr<SoundReader> soundOf(const Piece& piece, const std::optional<Path>& kitFile,
                                     const std::stop_token& stop = {});

}  // namespace zl
