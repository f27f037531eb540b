// SPDX-License-Identifier: GPL-3.0-or-later
// What Gauge looks at in a frame: its bare channels, the clean ink beside an edge, a line across.
#pragma once

#include <optional>
#include <vector>

#include "cut/edge_scan.h"
#include "raster/raster.h"

namespace zl {

// Alpha as grey, or the colour that is stored whatever the alpha; opaque.
Straight8 bareChannels(const Straight8& frame, bool colour);
// The frame over a ground of its size; opaque where the ground is.
Straight8 overGround(const std::shared_ptr<const Straight8>& frame, Straight8 ground);

// The ink that a pixel of an edge should show: the nearest that is opaque all round. Nothing within
// 6 px.
std::optional<std::uint32_t> cleanInkNear(const Straight8& frame, Spot at);
// CIEDE2000 of two colours, whatever their alpha.
double inkDifference(std::uint32_t one, std::uint32_t other);

// Along a line, in steps of half a pixel: alpha 0..1, and the difference to the clean ink nearby; 0
// where there is no ink or none to compare with.
struct LineAcross {
    std::vector<float> alpha, difference;
};
LineAcross lineAcross(const Straight8& frame, RealPoint from, RealPoint to);

}  // namespace zl
