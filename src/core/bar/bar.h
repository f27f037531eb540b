// SPDX-License-Identifier: GPL-3.0-or-later
// Bars: filled shapes with a flat colour or a gradient, drawn as coverage by Cairo, inked in 16
// bit. Any thread.
#pragma once

#include "kit/kit.h"
#include "raster/over.h"

namespace zl {

// The pixels `want` (frame px) of the bar, turned about its box's centre; an empty box where there
// is nothing of it.
[[nodiscard]] Result<Ink> drawBar(const BarLayer& bar, const Turn& turn, PixelRect want);

}  // namespace zl
