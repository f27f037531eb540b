// SPDX-License-Identifier: GPL-3.0-or-later
#include "finish/finish.h"

#include <cmath>

#include "finish/finish_canvas.h"

namespace zl {
namespace {

constexpr double tails = 4;  // standard deviations that a blur reaches

double outlineReach(const Finish& f) {
    return outerWidth(f) + 1;
}
double shadowReach(const Finish& f) {
    return std::max(std::abs(f.value("dx")), std::abs(f.value("dy"))) +
           std::max(0.0, f.value("spread")) + tails * f.value("blur") / 2 + 1;
}
double glowReach(const Finish& f) {
    return tails * f.value("px") / 2 + 1;
}
double bevelReach(const Finish&) {
    return 0;
}

constexpr auto painters = std::to_array<FinishPainter>({
    {"outline", paintOutline, outlineReach},
    {"shadow", paintShadow, shadowReach},
    {"glow", paintGlow, glowReach},
    {"bevel", paintBevel, bevelReach},
});

void load(const Ink& ink, PixelRect box, FinishCanvas& canvas) {
    const PixelRect both = ink.box.intersected(box);
    canvas.strongest = 0;
    for (int y = both.top; y < both.bottom; ++y)
        for (int x = both.left; x < both.right; ++x) {
            const int ix = x - ink.box.left, iy = y - ink.box.top;
            float v[4];
            if (ink.eight) {
                const std::uint32_t p = ink.eight->row(iy + ink.fromY)[ix + ink.fromX];
                for (int c = 0; c < 4; ++c) v[c] = static_cast<float>(p >> 8 * c & 255u) / 255.0f;
            } else {
                for (int c = 0; c < 4; ++c)
                    v[c] = static_cast<float>(ink.sixteen->row(c, iy)[ix]) / 65535.0f;
            }
            int c = 0;
            for (Plane* plane : canvas.front.colours())
                plane->row(y - box.top)[x - box.left] = v[c++] * v[3];
            canvas.front.alpha.row(y - box.top)[x - box.left] = v[3];
            canvas.strongest = std::max(canvas.strongest, v[3]);
        }
}

std::uint16_t as16(float v) {
    return static_cast<std::uint16_t>(std::clamp(v, 0.0f, 1.0f) * 65535.0f + 0.5f);
}

}  // namespace

const FinishPainter* painterOf(std::string_view kind) {
    for (const FinishPainter& painter : painters)
        if (painter.kind == kind) return &painter;
    return nullptr;
}

Plane FinishCanvas::shape() const {
    Plane out = front.alpha.clone();
    if (strongest <= 0 || strongest >= 1) return out;
    for (int y = 0; y < out.height(); ++y)
        for (int x = 0; x < out.width(); ++x)
            out.row(y)[x] = std::min(1.0f, out.row(y)[x] / strongest);
    return out;
}

void FinishCanvas::layUnder(const Plane& cover, Colour colour, double opacity) {
    const auto strength = static_cast<float>(opacity * colour.alpha / 255);
    const float codes[3] = {static_cast<float>(colour.red) / 255,
                            static_cast<float>(colour.green) / 255,
                            static_cast<float>(colour.blue) / 255};
    overRows(cover.height(), 32, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < cover.width(); ++x) {
                float& alpha = back.alpha.row(y)[x];
                const float add = std::clamp(cover.row(y)[x], 0.0f, 1.0f) * strength * (1 - alpha);
                int c = 0;
                for (Plane* plane : back.colours()) plane->row(y)[x] += codes[c++] * add;
                alpha += add;
            }
    });
}

double reachOf(std::span<const Finish> finishes) {
    double reach = 0;  // a shadow falls from the outline before it: they add up
    for (const Finish& finish : finishes)
        if (const FinishPainter* painter = painterOf(finish.kind); painter && !finish.off)
            reach += painter->reach(finish);
    return reach;
}

Ink finished(const Ink& base, std::span<const Finish> finishes, PixelRect want, int threads,
             std::stop_token stop) {
    const auto grownBy = [](const PixelRect& r, int by) {
        return PixelRect{r.left - by, r.top - by, r.right + by, r.bottom + by};
    };
    const int reach = static_cast<int>(std::ceil(reachOf(finishes)));
    const PixelRect box = grownBy(base.box, reach + 1).intersected(grownBy(want, reach + 1));
    Ink out;
    out.box = grownBy(base.box, reach).intersected(want);
    out.opacity = base.opacity;
    if (base.box.empty() || out.box.empty()) return Ink{};
    FinishCanvas canvas(box.size());
    canvas.threads = threads;
    load(base, box, canvas);
    for (const Finish& finish : finishes) {
        if (stop.stop_requested()) return Ink{};
        if (const FinishPainter* painter = painterOf(finish.kind); painter && !finish.off)
            painter->paint(finish, canvas);
    }
    auto made = std::make_shared<Ink16>(out.box.size());
    overRows(out.box.height(), 32, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y) {
            const int cy = y + out.box.top - box.top;
            for (int x = 0; x < out.box.width(); ++x) {
                const int cx = x + out.box.left - box.left;
                const float front = canvas.front.alpha.row(cy)[cx], through = 1 - front;
                const float alpha = front + canvas.back.alpha.row(cy)[cx] * through,
                            per = alpha > 1e-6f ? 1 / alpha : 0;
                const auto colours = canvas.front.colours(), below = canvas.back.colours();
                for (std::size_t c = 0; c < 3; ++c)
                    made->row(static_cast<int>(c), y)[x] =
                        as16((colours[c]->row(cy)[cx] + below[c]->row(cy)[cx] * through) * per);
                made->row(3, y)[x] = as16(alpha);
            }
        }
    });
    out.sixteen = std::move(made);
    return out;
}

}  // namespace zl
