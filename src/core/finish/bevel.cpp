// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "finish/finish_canvas.h"
#include "raster/blur.h"
#include "raster/distance.h"

namespace zl {

void paintBevel(const Finish& finish, FinishCanvas& canvas) {
    const auto size = static_cast<float>(finish.value("size")),
               depth = static_cast<float>(finish.value("depth") / 100);
    if (size <= 0 || depth <= 0) return;
    const double angle = finish.value("light") * std::numbers::pi / 180;
    const auto lx = static_cast<float>(std::cos(angle)), ly = static_cast<float>(std::sin(angle));
    // The slope of the distance, softened so that corners do not break.
    const Plane distance = blurred(
        EdgeDistance(canvas.shape(), size + 4, std::array{0.0f, -size}, canvas.threads).plane(),
        std::min(2.0f, size / 6), 0, 0, canvas.threads);
    const float light[3] = {static_cast<float>(finish.colour.red) / 255,
                            static_cast<float>(finish.colour.green) / 255,
                            static_cast<float>(finish.colour.blue) / 255};
    const int width = distance.width(), height = distance.height();
    overRows(height, 32, canvas.threads, [&](int from, int to) {
        for (int y = std::max(1, from); y < std::min(height - 1, to); ++y) {
            const float *above = distance.row(y - 1), *here = distance.row(y),
                        *below = distance.row(y + 1);
            const float* alpha = canvas.front.alpha.row(y);
            for (int x = 1; x < width - 1; ++x) {
                const float deep = -here[x];
                if (alpha[x] <= 0 || deep >= size) continue;
                const float nx = here[x + 1] - here[x - 1], ny = below[x] - above[x],
                            length = std::sqrt(nx * nx + ny * ny);
                if (length < 1e-4f) continue;
                const float facing =
                    (nx * lx + ny * ly) / length * (1 - std::max(0.0f, deep) / size) * depth;
                int c = 0;
                for (Plane* plane : canvas.front.colours()) {
                    float& v = plane->row(y)[x];
                    v += ((facing > 0 ? light[c] : 0.0f) * alpha[x] - v) * std::abs(facing);
                    ++c;
                }
            }
        }
    });
}

}  // namespace zl
