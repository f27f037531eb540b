// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/attention.h"

#include <algorithm>

#include "picture/faces.h"
#include "picture/vips_part.h"

namespace zl {

RealPoint attentionPoint(const Straight8& picture) {
    const RealPoint centre{0.5, 0.5};
    const vips_part::Image image = vips_part::viewOf(picture);
    if (!image || picture.width() < 8 || picture.height() < 8) return centre;
    VipsImage* out = nullptr;
    int x = 0, y = 0;
    // The crop's own size does not matter: the measure tells its point in px of the picture.
    if (vips_smartcrop(image.get(), &out, picture.width() / 2, picture.height() / 2, "interesting",
                       VIPS_INTERESTING_ATTENTION, "attention_x", &x, "attention_y", &y,
                       nullptr) != 0) {
        vips_part::forgetError();
        return centre;
    }
    g_object_unref(out);
    return {std::clamp((x + 0.5) / picture.width(), 0.0, 1.0),
            std::clamp((y + 0.5) / picture.height(), 0.0, 1.0)};
}

namespace {

// From where a stretch of `length` on a side of `side` px begins so that it keeps as much of [from,
// to) as it can, as near to `wanted` as that allows.
double startFor(double wanted, double length, double side, double from, double to) {
    const double most = std::max(0.0, side - length);
    from = std::clamp(from, 0.0, side);
    to = std::clamp(to, from, side);
    // Where both ends cannot be kept, the first one is: the top of a head.
    if (to - from > length) return std::clamp(from, 0.0, most);
    return std::clamp(std::clamp(wanted, to - length, from), 0.0, most);
}

// By 13 pictures of one portrait, surer than 55.9 wherever it was found and its eyes seen wherever
// it was 60 px wide, and by 41 photographs without a face, in which what was found came to 55.9 at
// most (tests/truth/crop_test.cpp).
bool isLikely(const Face& face, OpenEyes eyes) {
    constexpr double verySure = 56, hardlySure = 55;
    return eyes == OpenEyes::seen ||
           face.certainty >= (eyes == OpenEyes::none ? verySure : hardlySure);
}

}  // namespace

RealRect cropKeeping(const RealRect& kept, PixelSize size, double w, double h) {
    const RealRect whole = RealRect::of(size), largest = largestInside(whole, w, h);
    const RealPoint centre = kept.centre();
    constexpr double third = 0.4;  // heads stand a little above the middle
    return {
        startFor(centre.x - largest.width / 2, largest.width, whole.width, kept.x, kept.right()),
        startFor(centre.y - third * largest.height, largest.height, whole.height, kept.y,
                 kept.bottom()),
        largest.width, largest.height};
}

std::optional<RealRect> headsIn(const Straight8& picture, double w, double h) {
    const RealRect largest = largestInside(RealRect::of(picture.size()), w, h);
    std::vector<Face> faces = facesIn(picture);
    // The smallest of several stand in the background.
    constexpr double large = 0.35;
    std::erase_if(faces, [&](const Face& f) { return !isLikely(f, openEyesOf(picture, f)); });
    if (!faces.empty()) {
        double widest = 0;
        for (const Face& f : faces) widest = std::max(widest, f.head.width);
        std::erase_if(faces, [&](const Face& f) { return f.head.width < large * widest; });
    }
    if (faces.empty()) return {};
    // As many heads as fit, the surest first.
    RealRect kept = faces.front().head;
    for (const Face& f : faces) {
        const double left = std::min(kept.x, f.head.x), top = std::min(kept.y, f.head.y),
                     right = std::max(kept.right(), f.head.right()),
                     bottom = std::max(kept.bottom(), f.head.bottom());
        if (right - left <= largest.width && bottom - top <= largest.height)
            kept = {left, top, right - left, bottom - top};
    }
    return kept;
}

RealRect firstCrop(const Straight8& picture, double w, double h) {
    constexpr double hardlyHalf = 0.55, whole = 0.999;
    const RealRect all = RealRect::of(picture.size()), middle = largestInside(all, w, h);
    if (const auto heads = headsIn(picture, w, h)) {
        const RealRect there = heads->intersected(all);
        return there.intersected(middle).area() < whole * there.area()
                   ? cropKeeping(*heads, picture.size(), w, h)
                   : middle;
    }
    return middle.area() < hardlyHalf * all.area() ? attentiveCrop(picture, w, h) : middle;
}

RealRect attentiveCrop(const Straight8& picture, double w, double h) {
    if (const auto kept = headsIn(picture, w, h)) return cropKeeping(*kept, picture.size(), w, h);
    const RealRect whole = RealRect::of(picture.size());
    const bool cutsHeight = largestInside(whole, w, h).height < whole.height;
    const RealPoint focus = attentionPoint(picture);
    constexpr double upper = 0.4;
    return largestInside(
        whole, w, h, {focus.x, cutsHeight ? std::min(focus.y, (focus.y + upper) / 2) : focus.y});
}

}  // namespace zl
