// SPDX-License-Identifier: GPL-3.0-or-later
// Link regions: addresses, and the image map (HTML Living Standard, 4.8.13 and 4.8.14) that a
// release writes beside its picture.
#pragma once

#include <string>
#include <vector>

#include "kit/kit.h"

namespace zl {

// An address that a page may lead to: http or https, a host, nothing that would end the attribute
// it stands in. Code::badUsage with the reason.
[[nodiscard]] Result<void> checkAddress(const std::string& address);

// Text as it stands in HTML, in and out of attributes.
std::string escaped(std::string_view text);

// The least side of a region that a finger can hit, px (WCAG 2.2, SC 2.5.8).
inline constexpr int leastTarget = 24;
inline bool tooSmallToHit(const PixelRect& region) {
    return region.width() < leastTarget || region.height() < leastTarget;
}

// A page that shows the picture with its regions as an image map. `picture` is the file's name
// beside the page; places are px of the picture, and those outside are clipped to it.
// Code::badUsage for an address that checkAddress refuses: it is not written.
[[nodiscard]] Result<std::string> imageMap(const std::vector<LinkRegion>& links, PixelSize size,
                                           const std::string& picture, const std::string& title);

// The regions that lie in a part of the frame, in px of that part.
std::vector<LinkRegion> linksWithin(const std::vector<LinkRegion>& links, const PixelRect& part);

}  // namespace zl
