// SPDX-License-Identifier: GPL-3.0-or-later
#include <vector>

#include "finish/finish_canvas.h"
#include "raster/distance.h"

namespace zl {

void paintOutline(const Finish& finish, FinishCanvas& canvas) {
    const double px = finish.value("px"), side = finish.value("side");
    const auto outside = static_cast<float>(side == 0   ? px
                                            : side == 1 ? px / 2
                                                        : 0),
               inside = static_cast<float>(side == 0   ? 0
                                           : side == 1 ? px / 2
                                                       : px);
    const Plane edge = canvas.shape();
    // The edge itself is told by the alpha; the digits are needed where the paint ends.
    std::vector<float> ends;
    if (outside > 0) ends.push_back(outside);
    if (inside > 0) ends.push_back(-inside);
    const EdgeDistance measured(edge, std::max(outside, inside) + 2, ends, canvas.threads);
    const Plane& distance = measured.plane();
    const Plane outer = outside > 0 ? measured.grown(outside) : Plane(),
                inner = inside > 0 ? measured.grown(-inside) : Plane();
    const float colour[3] = {static_cast<float>(finish.colour.red) / 255,
                             static_cast<float>(finish.colour.green) / 255,
                             static_cast<float>(finish.colour.blue) / 255};
    const float strength = static_cast<float>(finish.colour.alpha) / 255;
    overRows(distance.height(), 32, canvas.threads, [&](int from, int to) {
        for (int y = from; y < to; ++y) {
            float* alpha = canvas.front.alpha.row(y);
            for (int x = 0; x < distance.width(); ++x) {
                // What the shape covers: its own alpha in the pixels of the edge, and all or
                // nothing beside them, however soft it is.
                const float d = distance.row(y)[x], s = std::abs(d) < 0.85f ? edge.row(y)[x]
                                                        : d < 0             ? 1.0f
                                                                            : 0.0f;
                // Inside, the paint lies on the ink and takes part of what the ink covers; outside,
                // it stands beside the ink: areas of one pixel that do not overlap add up.
                const float painted =
                    s > 0 && inside > 0
                        ? std::clamp((s - inner.row(y)[x]) / s, 0.0f, 1.0f) * strength
                        : 0.0f;
                const float beside =
                    outside == 0
                        ? 0.0f
                        : std::min(1.0f - alpha[x], std::max(0.0f, outer.row(y)[x] - s)) * strength;
                if (painted == 0 && beside <= 0) continue;
                int c = 0;
                for (Plane* plane : canvas.front.colours()) {
                    float& v = plane->row(y)[x];
                    v += (colour[c] * alpha[x] - v) * painted + colour[c] * beside;
                    ++c;
                }
                alpha[x] += beside;
            }
        }
    });
}

}  // namespace zl
