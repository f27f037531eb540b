// SPDX-License-Identifier: GPL-3.0-or-later
// What the surfaces' drawings share; the table in surfaces.cpp lists them. Included by the room's
// own sources.
#pragma once

#include "rehearsal/board.h"
#include "rehearsal/surfaces.h"

namespace zl {

// What stands on a surface.
struct Stand {
    const Brief& brief;
    const Theme& theme;
    const std::shared_ptr<const Straight8>& picture;  // the host's copy
    const Posted& posted;
};

inline Surface made(Board& board, const PixelRect& at) {
    return {"", "", board.taken(), at, {}, {}};
}

Surface feedCard(const Sight&, const Stand&);
Surface suggestionRows(const Sight&, const Stand&);
Surface searchRows(const Sight&, const Stand&);
Surface phoneColumn(const Sight&, const Stand&);
Surface blogEmbed(const Sight&, const Stand&);
Surface televisionRow(const Sight&, const Stand&);
Surface channelPage(const Sight&, const Stand&);
Surface headedPage(const Sight&, const Stand&);
Surface roundPortrait(const Sight&, const Stand&);
Surface galleryLarge(const Sight&, const Stand&);
Surface gallerySmall(const Sight&, const Stand&);
Surface uprightStory(const Sight&, const Stand&);
Surface standingProp(const Sight&, const Stand&);
Surface videoPlayer(const Sight&, const Stand&);
Surface hoverCard(const Sight&, const Stand&);
Surface programme(const Sight&, const Stand&);

}  // namespace zl
