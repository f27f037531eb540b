// SPDX-License-Identifier: GPL-3.0-or-later
// What a store knows of the videos of a kit: what was seen of those that its pieces go with, and
// the frames of its clips.
#pragma once

#include "base/file.h"
#include "render/ink_store.h"

namespace zl {

void knowVideosOf(InkStore& store, const Path& kitFile);

}  // namespace zl
