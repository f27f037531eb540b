// SPDX-License-Identifier: GPL-3.0-or-later
#include "bar/bar.h"

#include <cmath>
#include <numbers>

#include "raster/cairo_part.h"

namespace zl {
namespace {

constexpr double pi = std::numbers::pi;

void roundedPath(cairo_t* cairo, const RealRect& r, double radius) {
    radius = std::min({radius, r.width / 2, r.height / 2});
    if (radius <= 0) return cairo_rectangle(cairo, r.x, r.y, r.width, r.height);
    cairo_new_sub_path(cairo);
    cairo_arc(cairo, r.right() - radius, r.y + radius, radius, -pi / 2, 0);
    cairo_arc(cairo, r.right() - radius, r.bottom() - radius, radius, 0, pi / 2);
    cairo_arc(cairo, r.x + radius, r.bottom() - radius, radius, pi / 2, pi);
    cairo_arc(cairo, r.x + radius, r.y + radius, radius, pi, 3 * pi / 2);
    cairo_close_path(cairo);
}

void ellipsePath(cairo_t* cairo, const RealRect& r) {
    if (r.width <= 0 || r.height <= 0) return;
    cairo_save(cairo);
    cairo_translate(cairo, r.centre().x, r.centre().y);
    cairo_scale(cairo, r.width / 2, r.height / 2);
    cairo_new_sub_path(cairo);
    cairo_arc(cairo, 0, 0, 1, 0, 2 * pi);
    cairo_close_path(cairo);
    cairo_restore(cairo);
}

// A shaft and a head as high as the box; the head is no longer than the arrow.
void arrowPath(cairo_t* cairo, const RealRect& r, double thickness) {
    const double head = std::min(r.width, r.height * 0.9),
                 shaft = std::min(thickness, r.height) / 2, middle = r.centre().y;
    const double neck = r.right() - head;
    cairo_move_to(cairo, r.x, middle - shaft);
    cairo_line_to(cairo, neck, middle - shaft);
    cairo_line_to(cairo, neck, r.y);
    cairo_line_to(cairo, r.right(), middle);
    cairo_line_to(cairo, neck, r.bottom());
    cairo_line_to(cairo, neck, middle + shaft);
    cairo_line_to(cairo, r.x, middle + shaft);
    cairo_close_path(cairo);
}

void path(cairo_t* cairo, const BarLayer& bar) {
    const RealRect& r = bar.place;
    switch (bar.shape) {
        case BarShape::rectangle:
            return cairo_rectangle(cairo, r.x, r.y, r.width, r.height);
        case BarShape::rounded:
            return roundedPath(cairo, r, bar.radius);
        case BarShape::ellipse:
            return ellipsePath(cairo, r);
        case BarShape::ring:
            ellipsePath(cairo, r);
            ellipsePath(cairo, {r.x + bar.thickness, r.y + bar.thickness,
                                r.width - 2 * bar.thickness, r.height - 2 * bar.thickness});
            return cairo_set_fill_rule(cairo, CAIRO_FILL_RULE_EVEN_ODD);
        case BarShape::line:
            return roundedPath(cairo, r, r.height / 2);
        case BarShape::arrow:
            return arrowPath(cairo, r, bar.thickness);
    }
}

// The colour at a point, straight 0..1. Between two colours it goes premultiplied, along a line
// that is as long as the box is in that direction (CSS Images Module Level 3, linear gradients).
class Fill {
  public:
    explicit Fill(const BarLayer& bar)
        : from_(straight(bar.colour)),
          to_(straight(bar.fade.value_or(bar.colour))),
          flat_(!bar.fade),
          centre_(bar.place.centre()) {
        const double angle = bar.fadeDegrees * pi / 180;
        c_ = std::cos(angle);
        s_ = std::sin(angle);
        length_ = std::max(1e-9, std::abs(bar.place.width * c_) + std::abs(bar.place.height * s_));
    }
    bool flat() const { return flat_; }
    std::array<double, 4> at(RealPoint p) const {
        if (flat_) return from_;
        const double t =
            std::clamp(((p.x - centre_.x) * c_ + (p.y - centre_.y) * s_) / length_ + 0.5, 0.0, 1.0);
        std::array<double, 4> out{};
        out[3] = from_[3] + (to_[3] - from_[3]) * t;
        for (std::size_t i = 0; i < 3; ++i)
            out[i] = out[3] > 0 ? (from_[i] * from_[3] * (1 - t) + to_[i] * to_[3] * t) / out[3]
                                : from_[i];
        return out;
    }

  private:
    static std::array<double, 4> straight(Colour c) {
        return {c.red / 255.0, c.green / 255.0, c.blue / 255.0, c.alpha / 255.0};
    }
    std::array<double, 4> from_, to_;
    bool flat_;
    RealPoint centre_;
    double c_ = 1, s_ = 0, length_ = 1;
};

std::uint16_t as16(double v) {
    return static_cast<std::uint16_t>(std::lround(std::clamp(v, 0.0, 1.0) * 65535.0));
}

}  // namespace

Result<Ink> drawBar(const BarLayer& bar, const Turn& turn, PixelRect want) {
    Ink made;
    const RealPoint about = bar.place.centre();
    made.box = roundOutwards(boundsOf(bar.place, turn, about)).intersected(want);
    if (made.box.empty()) return Ink{};
    const auto surface = cairo_part::coverage(made.box, turn, about, [&](cairo_t* cairo) {
        path(cairo, bar);
        cairo_fill(cairo);
    });
    if (!surface)
        return fail(Code::badUsage, "The bar is too large to be drawn.", "Make it smaller.");
    auto raster = std::make_shared<Ink16>(made.box.size());
    const Fill fill(bar);
    const std::array<double, 4> flat = fill.at(about);
    bool solid = true;
    for (int y = 0; y < made.box.height(); ++y) {
        const unsigned char* covered = cairo_part::rowOf(surface.get(), y);
        for (int x = 0; x < made.box.width(); ++x) {
            const auto colour =
                fill.flat() ? flat
                            : fill.at(unturned({x + made.box.left + 0.5, y + made.box.top + 0.5},
                                               turn, about));
            for (int c = 0; c < 3; ++c)
                raster->row(c, y)[x] = as16(colour[static_cast<std::size_t>(c)]);
            raster->row(3, y)[x] = as16(colour[3] * covered[x] / 255.0);
            solid = solid && raster->row(3, y)[x] == 65535;
        }
    }
    made.opaque = solid;
    made.sixteen = std::move(raster);
    return made;
}

}  // namespace zl
