// SPDX-License-Identifier: GPL-3.0-or-later
// A photograph looked at before it is marked, at about the size that a gallery shows it: which
// place and which tone of the mark are best on it, and how the mark stands there.
#pragma once

#include <optional>
#include <vector>

#include "picture/decode.h"
#include "readings/reading.h"
#include "stamp/mark.h"

namespace zl {

// The gallery's two sizes, px; a photograph fits inside (common practice, no source).
inline constexpr PixelSize galleryLarge{600, 800}, gallerySmall{160, 213};
// px of the gallery for a px of the photograph; never more than 1.
double galleryScale(PixelSize photo, PixelSize gallery);

struct PhotoGlance {
    PixelSize photo;              // px, upright
    Straight8 picture;            // the whole of it, smaller, upright, opaque
    std::vector<RealRect> heads;  // px of `picture`
    std::vector<double> detail;   // sums of steps of luma, (width + 1) * (height + 1)
    double scale() const { return static_cast<double>(picture.width()) / photo.width; }
};
// `picture` may be of any size; it is made smaller to fit the large gallery.
PhotoGlance glanceOf(PixelSize photo, const Straight8& picture);

// The same for the eye alone, at another size: nothing is looked for in it.
PhotoGlance shownWithin(PixelSize within, PixelSize photo, const Straight8& picture);

// What one photograph has of its own.
struct PhotoChoice {
    std::optional<StampPlacing> placing{};
    std::optional<bool> twin{};
    bool leftOut = false;
    bool operator==(const PhotoChoice&) const = default;
};

struct Marks {
    Mark mark;
    std::optional<Mark> twin{};
};
[[nodiscard]] Result<Marks> marksOf(const Stamp& stamp, const StampFields& fields,
                                    const StampHome& home, InkStore& store);

struct Chosen {
    Laid laid;
    std::optional<StampAt> at;  // nothing: where it was dragged to
    bool twin = false;
    Reading stamped;
};
[[nodiscard]] Result<Chosen> chosenFor(const PhotoGlance& glance, const Stamp& stamp,
                                       const Marks& marks, const PhotoChoice& choice,
                                       InkStore& store);

// The glance with the mark on it.
Straight8 markedGlance(const PhotoGlance& glance, const Laid& laid);

}  // namespace zl
