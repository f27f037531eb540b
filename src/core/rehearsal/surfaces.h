// SPDX-License-Identifier: GPL-3.0-or-later
// Surfaces: schematic places where the audience meets the piece, drawn with made-up neighbours. The accepted file stands
// on them at true pixels: one device px of the surface is one px of the picture drawn.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "base/colour_value.h"
#include "brief/brief.h"
#include "raster/raster.h"

namespace zl {

struct Surface {
    std::string id;           // "feed-card-light"
    std::string title;        // "Feed card, 360 px, light"
    Straight8 picture;        // opaque
    PixelRect pieceRect;      // where the piece stands on it
    std::string spec, theme;  // "feed-card", "light"
};

// What the host knows of the piece beside its picture.
struct Posted {
    std::string title = "Untitled";
    std::string channel = "A channel";
    std::string length = "14:05";
};

// The picture as the host shows it at a width, px. One that is not that wide is resampled to it.
using Shown = std::function<std::shared_ptr<const Straight8>(int width)>;

// The surfaces of the brief that show the piece as a whole, each in its themes, all light ones first. Empty for a brief
// without them. See-through parts show the theme's ground.
[[nodiscard]] Result<std::vector<Surface>> drawSurfaces(const Brief& brief, const Shown& shown, const Posted& posted);

}  // namespace zl
