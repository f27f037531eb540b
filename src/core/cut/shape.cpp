// SPDX-License-Identifier: GPL-3.0-or-later
// Shape cuts with exact coverage: the shape's outline as a fine polygon, and the area of each pixel
// inside it by summing signed trapezoids, as scan converters of outlines do (the method is that of
// exact-area coverage accumulation; no sampling).
#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/parallel.h"
#include "cut/cut.h"
#include "cut/shape.h"
#include "raster/blur.h"

namespace zl {
namespace {

// A corner's quarter of an ellipse about (cx, cy), from angle `from` on, without its last point.
void addArc(std::vector<RealPoint>& out, double cx, double cy, double rx, double ry, double from,
            double sweep, double scale) {
    constexpr double flatness = 2e-4;  // px at the placed size
    const double r = std::max(1e-6, std::max(rx, ry) * scale);
    const int steps =
        std::clamp(static_cast<int>(std::ceil(std::abs(sweep) /
                                              (2 * std::acos(std::max(-1.0, 1 - flatness / r))))),
                   1, 20'000);
    for (int i = 0; i < steps; ++i) {
        const double a = from + sweep * i / steps;
        out.push_back({cx + rx * std::cos(a), cy + ry * std::sin(a)});
    }
}

class Area {
  public:
    explicit Area(PixelSize size)
        : size_(size),
          rows_(static_cast<std::size_t>(size.height) *
                (static_cast<std::size_t>(size.width) + 1)) {}

    void add(RealPoint from, RealPoint to) {
        if (from.y == to.y) return;
        const double sign = from.y < to.y ? 1 : -1;
        if (sign < 0) std::swap(from, to);
        const double slope = (to.x - from.x) / (to.y - from.y);
        const int last = std::min(size_.height, static_cast<int>(std::ceil(to.y)));
        for (int y = std::max(0, static_cast<int>(std::floor(from.y))); y < last; ++y) {
            const double y0 = std::max(from.y, static_cast<double>(y)),
                         y1 = std::min(to.y, y + 1.0);
            if (y1 <= y0) continue;
            addInRow(y, from.x + (y0 - from.y) * slope, from.x + (y1 - from.y) * slope,
                     (y1 - y0) * sign);
        }
    }
    // What lies inside by the non-zero rule, 0..1.
    Plane covered(int threads) const {
        Plane out(size_);
        overRows(size_.height, 64, threads, [&](int from, int to) {
            for (int y = from; y < to; ++y) {
                const double* row = rows_.data() + static_cast<std::size_t>(y) *
                                                       (static_cast<std::size_t>(size_.width) + 1);
                double sum = 0;
                for (int x = 0; x < size_.width; ++x) {
                    sum += row[x];
                    out.row(y)[x] = static_cast<float>(std::min(1.0, std::abs(sum)));
                }
            }
        });
        return out;
    }

  private:
    // A piece within one row from x0 to x1 that covers `height` of it: all to its right is inside
    // by so much.
    void addInRow(int y, double x0, double x1, double height) {
        if (x0 > x1) std::swap(x0, x1);
        double* row = rows_.data() +
                      static_cast<std::size_t>(y) * (static_cast<std::size_t>(size_.width) + 1);
        if (x1 <= 0) {
            row[0] += height;
            return;
        }
        const double width = x1 - x0;
        if (x0 < 0) {
            const double part = -x0 / width;
            row[0] += height * part;
            return addInRow(y, 0, x1, height * (1 - part));
        }
        if (x0 >= size_.width) return;
        if (x1 > size_.width)
            return addInRow(y, x0, size_.width, height * (size_.width - x0) / width);
        const int first = static_cast<int>(x0),
                  last = std::min(size_.width - 1, static_cast<int>(x1));
        if (first == last || width < 1e-12) {
            const double right =
                first + 1 - (x0 + x1) / 2;  // mean part of the pixel to the right of the piece
            row[first] += height * right;
            row[first + 1] += height * (1 - right);
            return;
        }
        for (int x = first; x <= last; ++x) {
            const double a = std::max(x0, static_cast<double>(x)), b = std::min(x1, x + 1.0);
            if (b <= a) continue;
            const double part = height * (b - a) / width, right = x + 1 - (a + b) / 2;
            row[x] += part * right;
            row[x + 1] += part * (1 - right);
        }
    }
    PixelSize size_;
    std::vector<double> rows_;
};

}  // namespace

std::vector<RealPoint> outlineOf(const ShapeCut& cut, double scale) {
    constexpr double quarter = std::numbers::pi / 2;
    const RealRect& b = cut.box;
    std::vector<RealPoint> out;
    if (cut.shape == CutShape::polygon) return cut.points;
    if (cut.shape == CutShape::ellipse) {
        addArc(out, b.centre().x, b.centre().y, b.width / 2, b.height / 2, 0, 4 * quarter, scale);
        return out;
    }
    const double shorter = std::min(b.width, b.height);
    std::array<double, 4> r{};
    for (std::size_t i = 0; i < 4; ++i)
        r[i] = std::max(0.0, cut.radiiAreShares ? cut.radii[i] / 100 * shorter : cut.radii[i]);
    // Radii that do not fit side by side shrink together, as CSS Backgrounds and Borders Level
    // 3, 4.5, has it.
    const double fit = std::min(
        {1.0, b.width / std::max(1e-9, r[0] + r[1]), b.height / std::max(1e-9, r[1] + r[2]),
         b.width / std::max(1e-9, r[2] + r[3]), b.height / std::max(1e-9, r[3] + r[0])});
    for (double& radius : r) radius *= fit;
    const auto corner = [&](double x, double y, double radius, double from) {
        if (radius > 0) addArc(out, x, y, radius, radius, from, quarter, scale);
    };
    const auto point = [&](double x, double y) { out.push_back({x, y}); };
    corner(b.x + r[0], b.y + r[0], r[0], 2 * quarter);
    point(b.x + r[0], b.y);
    corner(b.right() - r[1], b.y + r[1], r[1], 3 * quarter);
    point(b.right(), b.y + r[1]);
    corner(b.right() - r[2], b.bottom() - r[2], r[2], 0);
    point(b.right() - r[2], b.bottom());
    corner(b.x + r[3], b.bottom() - r[3], r[3], quarter);
    point(b.x, b.bottom() - r[3]);
    return out;
}

Plane coverageOf(std::span<const RealPoint> outline, PixelSize size, int threads) {
    Area area(size);
    for (std::size_t i = 0; i < outline.size(); ++i)
        area.add(outline[i], outline[(i + 1) % outline.size()]);
    return area.covered(threads);
}

Ink withShapes(const Ink& ink, std::span<const Cut> cuts,
               const std::function<RealPoint(RealPoint)>& placed, double scale, int threads) {
    if (ink.box.empty()) return ink;
    const PixelSize size = ink.box.size();
    Plane alpha(size, 1);
    for (const Cut& cut : cuts) {
        const ShapeCut* shape = cut.shape();
        if (!shape || cut.off) continue;
        // A feather reaches in from beyond the ink.
        const double sigma = shape->feather * scale / 2;
        const int room = sigma > 0 ? static_cast<int>(std::ceil(4 * sigma)) + 1 : 0;
        std::vector<RealPoint> outline = outlineOf(*shape, scale);
        for (RealPoint& p : outline) {
            p = placed(p);
            p = {p.x - ink.box.left + room, p.y - ink.box.top + room};
        }
        Plane covered =
            coverageOf(outline, {size.width + 2 * room, size.height + 2 * room}, threads);
        if (sigma > 0) covered = blurred(covered, sigma, 0, 0, threads);
        for (int y = 0; y < size.height; ++y) {
            const float* c = covered.row(y + room) + room;
            float* a = alpha.row(y);
            for (int x = 0; x < size.width; ++x) a[x] *= shape->inverted ? 1 - c[x] : c[x];
        }
    }
    auto out = std::make_shared<Ink16>(size);
    overRows(size.height, 32, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < size.width; ++x) {
                std::array<int, 4> v{};
                if (ink.eight) {
                    const std::uint32_t p = ink.eight->row(y + ink.fromY)[x + ink.fromX];
                    v = {redOf(p) * 257, greenOf(p) * 257, blueOf(p) * 257, alphaOf(p) * 257};
                } else {
                    for (int c = 0; c < 4; ++c)
                        v[static_cast<std::size_t>(c)] = ink.sixteen->row(c, y)[x];
                }
                for (int c = 0; c < 3; ++c)
                    out->row(c, y)[x] = static_cast<std::uint16_t>(v[static_cast<std::size_t>(c)]);
                out->row(3, y)[x] = static_cast<std::uint16_t>(
                    std::lround(static_cast<float>(v[3]) * alpha.row(y)[x]));
            }
    });
    Ink cutInk = ink;
    cutInk.eight = nullptr;
    cutInk.sixteen = std::move(out);
    cutInk.fromX = cutInk.fromY = 0;
    cutInk.opaque = false;
    return cutInk;
}

}  // namespace zl
