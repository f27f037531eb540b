// SPDX-License-Identifier: GPL-3.0-or-later
// What readings ask of a piece that moves.
#pragma once

#include "kit/moving.h"
#include "readings/reading.h"

namespace zl {

inline bool movesIn(const Subject& subject) {
    return subject.piece && moves(*subject.piece);
}
// The id of the kind of file that it becomes: as the piece says, else as its brief asks for it.
std::string movingFormatOf(const Subject& subject);
// "MP4"
std::string movingTitle(const std::string& id);
// Whether that kind of file keeps alpha of 8 bits.
bool keepsAlpha(const std::string& movingId);

}  // namespace zl
