// SPDX-License-Identifier: GPL-3.0-or-later
// Surfaces: schematic places where the audience meets the piece, drawn with made-up neighbours. The
// accepted file stands on them at true pixels: one device px of the surface is one px of the
// picture drawn.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "base/colour_value.h"
#include "brief/brief.h"
#include "raster/raster.h"
#include "rehearsal/player.h"

namespace zl {

// What surfaces show of a picture: all of it, or of one that is more than eight times as high as
// wide, the part at its top. A page as wide as a surface is would be miles high.
std::shared_ptr<const Straight8> asMet(std::shared_ptr<const Straight8> picture);

struct Surface {
    std::string id;           // "feed-card-light"
    std::string title;        // "Feed card, 360 px, light"
    Straight8 picture;        // opaque
    PixelRect pieceRect;      // where the piece, or the part of it that is shown, stands on it
    std::string spec, theme;  // "feed-card", "light"; no theme: it is the same in all
};

inline constexpr double usualLength = 845;  // s, of a video that nothing is known of

// What the host knows of the piece beside its picture, and when it is looked at.
struct Posted {
    std::string title = "Untitled";
    std::string channel = "A channel";
    double length = usualLength;  // of the video, s
    Showing showing{};            // of a mark
    std::optional<double> at{};   // the player's clock, s; nothing: at the moments that tell most
    // The person's own video, where it is known: its frame at a second, opaque; nothing where it
    // cannot be read.
    std::function<std::shared_ptr<const Straight8>(double seconds)> film{};
    bool hides = false;  // a programme shows what lies under the overlay
    std::string lengthWords() const { return clockWords(length); }
};

// The footage that is the person's own video.
inline constexpr const char* ownFootage = "your video";

// One look at a surface of a brief: in a theme, over a footage, at a moment.
struct Sight {
    SurfaceSpec spec;
    std::string theme, footage;  // empty: it has none
    double at = 0;               // s
    std::string id, title;
};

// Every sight of a brief, all light ones first. A player has one before and one after its mark
// appears when it is not there throughout.
std::vector<Sight> sightsOf(const Brief& brief, const Posted& posted);

// The kind of place that a surface belongs to: "Video page", "Channel page", "Stream", "Gallery",
// "Blog".
std::string placeOf(const SurfaceSpec& surface);

// The width, px, at which the host shows a picture of that size on the surface: what it
// recompresses it to.
int copyWidth(const SurfaceSpec& surface, const Brief& brief, PixelSize picture);

// The picture as the host shows it at a width, px. One that is not that wide is resampled to it.
using CopyOfWidth = std::function<std::shared_ptr<const Straight8>(int width)>;

// `picture` is the size of what was handed over. See-through parts show the theme's ground.
[[nodiscard]] Result<Surface> drawSurface(const Sight& sight, const Brief& brief, PixelSize picture,
                                          const CopyOfWidth& shown, const Posted& posted);

// All sights of the brief. Empty for a brief without surfaces. Code::badUsage for a showing time
// after the video's end.
[[nodiscard]] Result<std::vector<Surface>> drawSurfaces(const Brief& brief, PixelSize picture,
                                                        const CopyOfWidth& shown,
                                                        const Posted& posted);

}  // namespace zl
