// SPDX-License-Identifier: GPL-3.0-or-later
// Where in a video a picture comes from, if it does: whole or cropped, its tone changed, scaled.
#pragma once

#include <functional>
#include <optional>

#include "film/glimpses.h"

namespace zl {

struct FoundPicture {
    double time = 0;      // s, to a quarter of a second
    double likeness = 0;  // of its details, 0..1
};

// `part` of the picture is looked for, at most as large as the frame (`shown`, px, for its shape)
// and at least half as wide. `closer` gives the small picture of a moment, of the whole frame.
// Nothing where no moment has its pattern and its details.
std::optional<FoundPicture> findPicture(
    const LookedThrough& looked, PixelSize shown, const Straight8& picture, const RealRect& part,
    const std::function<std::optional<Straight8>(double time)>& closer);

}  // namespace zl
