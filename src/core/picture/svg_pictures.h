// SPDX-License-Identifier: GPL-3.0-or-later
// The pictures of pixels that an SVG shows: what it does not hold, and how much what it holds is
// enlarged.
#pragma once

#include <functional>
#include <optional>
#include <string>

#include "base/bytes.h"
#include "base/geometry.h"

namespace zl {

struct SvgPictures {
    // The first that is shown and not held (SVG 2, 12.3 "image"): it is not looked for and left
    // out. Empty: none.
    std::string missing{};
    // Px of the SVG's own size for one px of the held picture that is enlarged most; 0: it holds
    // none.
    double enlarged = 0;
    // It holds one that is drawn in a way that is not followed: out of a pattern, by a reference.
    bool unmeasured = false;
    bool operator==(const SvgPictures&) const = default;
};

// The size of a picture of pixels in a file of its own; nothing where it is none.
using SizeOfHeld = std::function<std::optional<PixelSize>(ByteView)>;

// `own`: the px that the SVG has by itself. Follows viewBox, preserveAspectRatio, and transform
// attributes (SVG 2, chapters 7 and 8); not CSS. What is no XML shows nothing.
SvgPictures picturesInSvg(ByteView bytes, PixelSize own, const SizeOfHeld& sizeOfHeld);

}  // namespace zl
