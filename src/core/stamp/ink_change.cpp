// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/ink_change.h"

#include <algorithm>

namespace zl {

PixelSize seenSize(PixelSize stored, int orientation) {
    constexpr int firstOnItsSide = 5;
    return orientation >= firstOnItsSide ? PixelSize{stored.height, stored.width} : stored;
}

PixelPlace seenAt(int x, int y, PixelSize stored, int orientation) {
    const int right = stored.width - 1 - x, below = stored.height - 1 - y;
    switch (orientation) {
        case 2:
            return {right, y};
        case 3:
            return {right, below};
        case 4:
            return {x, below};
        case 5:
            return {y, x};
        case 6:
            return {below, x};
        case 7:
            return {below, right};
        case 8:
            return {y, right};
        default:
            return {x, y};
    }
}

namespace {

// The way back: 6 and 8 undo one another, every other undoes itself.
PixelRect storedBox(const PixelRect& seen, PixelSize stored, int orientation) {
    const int back = orientation == 6 ? 8 : orientation == 8 ? 6 : orientation;
    const PixelSize size = seenSize(stored, orientation);
    const PixelPlace one = seenAt(seen.left, seen.top, size, back),
                     two = seenAt(seen.right - 1, seen.bottom - 1, size, back);
    return {std::min(one.x, two.x), std::min(one.y, two.y), std::max(one.x, two.x) + 1,
            std::max(one.y, two.y) + 1};
}

// ITU-T T.871, of straight red, green and blue, 0..255.
double componentOf(double r, double g, double b, int component) {
    return component == 0   ? 0.299 * r + 0.587 * g + 0.114 * b
           : component == 1 ? 128 - 0.168735892 * r - 0.331264108 * g + 0.5 * b
                            : 128 + 0.5 * r - 0.418687589 * g - 0.081312411 * b;
}

}  // namespace

InkChange::InkChange(std::vector<Ink> inks, PixelSize stored, int orientation)
    : inks_(std::move(inks)), stored_(stored), orientation_(orientation) {
    for (const Ink& ink : inks_) {
        const PixelRect seen = ink.box.intersected(PixelRect::of(seenSize(stored, orientation)));
        boxes_.push_back(seen.empty() ? PixelRect{} : storedBox(seen, stored, orientation));
        box_ = box_.united(boxes_.back());
    }
}

bool InkChange::touches(const PixelRect& part) const {
    return std::any_of(boxes_.begin(), boxes_.end(),
                       [&](const PixelRect& box) { return !box.intersected(part).empty(); });
}

InkChange::Over InkChange::over(const std::vector<const Ink*>& near, int component, int x,
                                int y) const {
    Over out;
    const PixelPlace at = seenAt(x, y, stored_, orientation_);
    for (const Ink* ink : near) {
        if (!ink->box.contains(at.x, at.y)) continue;
        const int ix = at.x - ink->box.left, iy = at.y - ink->box.top;
        double r = 0, g = 0, b = 0, alpha = 0;
        if (ink->eight) {
            const std::uint32_t p = ink->eight->row(iy + ink->fromY)[ix + ink->fromX];
            r = redOf(p);
            g = greenOf(p);
            b = blueOf(p);
            alpha = alphaOf(p) / 255.0;
        } else {
            constexpr double step = 257;
            r = ink->sixteen->row(0, iy)[ix] / step;
            g = ink->sixteen->row(1, iy)[ix] / step;
            b = ink->sixteen->row(2, iy)[ix] / step;
            alpha = ink->sixteen->row(3, iy)[ix] / (255 * step);
        }
        alpha *= static_cast<double>(ink->opacity);
        if (alpha <= 0) continue;
        out.through *= 1 - alpha;
        out.colour = out.colour * (1 - alpha) + alpha * componentOf(r, g, b, component);
    }
    return out;
}

bool InkChange::into(std::span<double, 64> samples, int component, int left, int top, int across,
                     int down) const {
    constexpr int side = 8;
    const PixelRect block =
        PixelRect{left, top, left + side * across, top + side * down}.intersected(
            PixelRect::of(stored_));
    std::vector<const Ink*> near;
    for (std::size_t i = 0; i < inks_.size(); ++i)
        if (!boxes_[i].intersected(block).empty()) near.push_back(&inks_[i]);
    if (near.empty()) return false;
    bool any = false;
    for (int sy = 0; sy < side; ++sy)
        for (int sx = 0; sx < side; ++sx) {
            double through = 0, colour = 0;
            for (int y = top + sy * down; y < top + (sy + 1) * down; ++y)
                for (int x = left + sx * across; x < left + (sx + 1) * across; ++x) {
                    const Over one = x < stored_.width && y < stored_.height
                                         ? over(near, component, x, y)
                                         : Over{};
                    through += one.through;
                    colour += one.colour;
                }
            const double count = across * down;
            if (through >= count) continue;
            double& sample = samples[static_cast<std::size_t>(sy * side + sx)];
            sample = sample * through / count + colour / count;
            any = true;
        }
    return any;
}

}  // namespace zl
