// SPDX-License-Identifier: GPL-3.0-or-later
// What the surfaces' drawings share; the table in surfaces.cpp lists them. Included by the room's
// own sources.
#pragma once

#include "rehearsal/board.h"
#include "rehearsal/surfaces.h"

namespace zl {

// What stands on a surface.
struct OnSurface {
    const Brief& brief;
    const SurfaceTheme& theme;
    const std::shared_ptr<const Straight8>& picture;  // the host's copy
    const Posted& posted;
};

inline Surface made(Board& board, const PixelRect& at) {
    return {"", "", board.taken(), at, {}, {}};
}

// Over the whole board, where the sight is of the person's own video and it can be read.
bool putOwnVideo(Board& board, const Sight& sight, const Posted& posted);

Surface feedCard(const Sight&, const OnSurface&);
Surface suggestionRows(const Sight&, const OnSurface&);
Surface searchRows(const Sight&, const OnSurface&);
Surface phoneColumn(const Sight&, const OnSurface&);
Surface blogEmbed(const Sight&, const OnSurface&);
Surface televisionRow(const Sight&, const OnSurface&);
Surface channelPage(const Sight&, const OnSurface&);
Surface headedPage(const Sight&, const OnSurface&);
Surface roundPortrait(const Sight&, const OnSurface&);
Surface galleryLarge(const Sight&, const OnSurface&);
Surface gallerySmall(const Sight&, const OnSurface&);
Surface uprightStory(const Sight&, const OnSurface&);
Surface standingProp(const Sight&, const OnSurface&);
Surface videoPlayer(const Sight&, const OnSurface&);
Surface hoverCard(const Sight&, const OnSurface&);
Surface programme(const Sight&, const OnSurface&);

}  // namespace zl
