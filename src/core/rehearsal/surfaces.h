// SPDX-License-Identifier: GPL-3.0-or-later
// Surfaces: schematic places where the audience meets the piece, drawn with made-up neighbours. The accepted file stands
// on them at true pixels: one device px of the surface is one px of the picture drawn.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/colour_value.h"
#include "brief/brief.h"
#include "raster/raster.h"

namespace zl {

struct Surface {
    std::string id;       // "feed-card-light"
    std::string title;    // "Feed card, 360 px, light"
    Straight8 picture;    // opaque
    PixelRect pieceRect;  // where the piece stands on it
};

// What the host knows of the piece beside its picture.
struct Posted {
    std::string title = "Untitled";
    std::string channel = "A channel";
    std::string length = "14:05";
};

// The surfaces of the brief that are drawn so far: cards and rows, each in its themes. Empty for a brief without them.
// `accepted` is the picture as the host keeps it; see-through parts show the theme's ground.
[[nodiscard]] Result<std::vector<Surface>> drawSurfaces(const Brief& brief, std::shared_ptr<const Straight8> accepted,
                                                        const Posted& posted);

}  // namespace zl
