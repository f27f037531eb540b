// SPDX-License-Identifier: GPL-3.0-or-later
// Positions and rectangles. Pixels are whole numbers and half-open: [left, right) x [top, bottom).
// Real lengths are in the same unit, one frame pixel; the first pixel's centre lies at 0.5. The
// origin is the top left corner.
#pragma once

#include <algorithm>
#include <cmath>
#include <numbers>

namespace zl {

struct PixelSize {
    int width = 0;
    int height = 0;
    bool empty() const { return width <= 0 || height <= 0; }
    long long count() const { return empty() ? 0 : static_cast<long long>(width) * height; }
    bool operator==(const PixelSize&) const = default;
};

// As large as `most` allows in the shape of `size`, which is not empty; 1 px a side at least.
inline PixelSize shapeWithin(PixelSize size, PixelSize most) {
    const double scale = std::min(static_cast<double>(most.width) / size.width,
                                  static_cast<double>(most.height) / size.height);
    return {std::max(1, static_cast<int>(std::lround(size.width * scale))),
            std::max(1, static_cast<int>(std::lround(size.height * scale)))};
}

struct PixelRect {
    int left = 0, top = 0, right = 0, bottom = 0;

    static PixelRect of(PixelSize size) { return {0, 0, size.width, size.height}; }
    int width() const { return right - left; }
    int height() const { return bottom - top; }
    PixelSize size() const { return {width(), height()}; }
    bool contains(int x, int y) const { return x >= left && x < right && y >= top && y < bottom; }
    bool empty() const { return right <= left || bottom <= top; }
    PixelRect moved(int dx, int dy) const { return {left + dx, top + dy, right + dx, bottom + dy}; }

    // May be empty; ask empty() before use.
    PixelRect intersected(const PixelRect& o) const {
        return {std::max(left, o.left), std::max(top, o.top), std::min(right, o.right),
                std::min(bottom, o.bottom)};
    }
    // The smallest rectangle round both; an empty one adds nothing.
    PixelRect united(const PixelRect& o) const {
        if (empty()) return o;
        if (o.empty()) return *this;
        return {std::min(left, o.left), std::min(top, o.top), std::max(right, o.right),
                std::max(bottom, o.bottom)};
    }
    bool operator==(const PixelRect&) const = default;
};

struct RealPoint {
    double x = 0, y = 0;
    bool operator==(const RealPoint&) const = default;
};

struct RealRect {
    double x = 0, y = 0, width = 0, height = 0;

    static RealRect ofPixels(const PixelRect& r) {
        return {static_cast<double>(r.left), static_cast<double>(r.top),
                static_cast<double>(r.width()), static_cast<double>(r.height())};
    }
    static RealRect of(PixelSize size) {
        return {0, 0, static_cast<double>(size.width), static_cast<double>(size.height)};
    }
    double right() const { return x + width; }
    double bottom() const { return y + height; }
    RealPoint centre() const { return {x + width / 2, y + height / 2}; }
    double area() const { return std::max(0.0, width) * std::max(0.0, height); }
    bool contains(RealPoint p) const {
        return p.x >= x && p.x < right() && p.y >= y && p.y < bottom();
    }
    // Width and height may be negative when the two do not meet.
    RealRect intersected(const RealRect& o) const {
        const double l = std::max(x, o.x), t = std::max(y, o.y);
        return {l, t, std::min(right(), o.right()) - l, std::min(bottom(), o.bottom()) - t};
    }
    bool operator==(const RealRect&) const = default;
};

inline RealRect realOf(const PixelRect& r) {
    return {static_cast<double>(r.left), static_cast<double>(r.top), static_cast<double>(r.width()),
            static_cast<double>(r.height())};
}
// The smallest pixel rectangle that holds all of `r`. A trillionth of slack keeps 3.0000000001 from
// costing a pixel.
inline PixelRect roundOutwards(const RealRect& r) {
    constexpr double slack = 1e-9;
    return {static_cast<int>(std::floor(r.x + slack)), static_cast<int>(std::floor(r.y + slack)),
            static_cast<int>(std::ceil(r.right() - slack)),
            static_cast<int>(std::ceil(r.bottom() - slack))};
}

// The largest rectangle of the shape `shape` inside `box`, placed so that its free room is shared
// by `focus` (0..1).
inline RealRect largestInside(const RealRect& box, double shapeWidth, double shapeHeight,
                              RealPoint focus = {0.5, 0.5}) {
    const double scale = std::min(box.width / shapeWidth, box.height / shapeHeight);
    const double w = shapeWidth * scale, h = shapeHeight * scale;
    const double x = std::clamp(box.x + box.width * focus.x - w / 2, box.x, box.x + box.width - w);
    const double y =
        std::clamp(box.y + box.height * focus.y - h / 2, box.y, box.y + box.height - h);
    return {x, y, w, h};
}

// The smallest rectangle of the shape `shape` that covers `box`, on the same centre.
inline RealRect smallestCovering(const RealRect& box, double shapeWidth, double shapeHeight) {
    const double scale = std::max(box.width / shapeWidth, box.height / shapeHeight);
    const double w = shapeWidth * scale, h = shapeHeight * scale;
    return {box.x + (box.width - w) / 2, box.y + (box.height - h) / 2, w, h};
}

// Mirrored first, then turned clockwise, about a point.
struct Turn {
    double degrees = 0;
    bool flipX = false, flipY = false;  // left for right, top for bottom
    bool none() const { return degrees == 0 && !flipX && !flipY; }
    bool operator==(const Turn&) const = default;
};

inline RealPoint turned(RealPoint p, const Turn& turn, RealPoint about) {
    const double angle = turn.degrees * std::numbers::pi / 180, c = std::cos(angle),
                 s = std::sin(angle);
    const double x = (turn.flipX ? -1 : 1) * (p.x - about.x),
                 y = (turn.flipY ? -1 : 1) * (p.y - about.y);
    return {about.x + c * x - s * y, about.y + s * x + c * y};
}
// The way back.
inline RealPoint unturned(RealPoint p, const Turn& turn, RealPoint about) {
    const RealPoint back = turned(p, {-turn.degrees, false, false}, about);
    return {about.x + (turn.flipX ? -1 : 1) * (back.x - about.x),
            about.y + (turn.flipY ? -1 : 1) * (back.y - about.y)};
}
// The upright box round a turned one; exact for quarter turns.
inline RealRect boundsOf(const RealRect& r, const Turn& turn, RealPoint about) {
    if (turn.none()) return r;
    const RealPoint corners[] = {
        turned({r.x, r.y}, turn, about), turned({r.right(), r.y}, turn, about),
        turned({r.x, r.bottom()}, turn, about), turned({r.right(), r.bottom()}, turn, about)};
    double left = corners[0].x, right = left, top = corners[0].y, bottom = top;
    for (const RealPoint& c : corners) {
        left = std::min(left, c.x);
        right = std::max(right, c.x);
        top = std::min(top, c.y);
        bottom = std::max(bottom, c.y);
    }
    // The sine of a whole turn is not quite 0.
    const auto clean = [](double v) {
        return std::abs(v - std::round(v)) < 1e-9 ? std::round(v) : v;
    };
    return {clean(left), clean(top), clean(right) - clean(left), clean(bottom) - clean(top)};
}

}  // namespace zl
