// SPDX-License-Identifier: GPL-3.0-or-later
// Shadow and glow: the alpha blurred. Blur radii after CSS Backgrounds and Borders Level 3,
// section 6.2: the standard deviation is half of the radius.
#include "finish/finish_canvas.h"
#include "raster/blur.h"
#include "raster/distance.h"

namespace zl {

void paintShadow(const Finish& finish, FinishCanvas& canvas) {
    const auto spread = static_cast<float>(finish.value("spread"));
    Plane cast = canvas.front.alpha.clone();
    if (spread != 0) {
        cast =
            EdgeDistance(canvas.shape(), std::abs(spread) + 2, std::array{spread}, canvas.threads)
                .grown(spread);
        for (int y = 0; y < cast.height(); ++y)
            for (int x = 0; x < cast.width(); ++x) cast.row(y)[x] *= canvas.strongest;
    }
    canvas.layUnder(blurred(cast, finish.value("blur") / 2, finish.value("dx"), finish.value("dy"),
                            canvas.threads),
                    finish.colour, finish.value("opacity") / 100);
}

void paintGlow(const Finish& finish, FinishCanvas& canvas) {
    Plane light = blurred(canvas.front.alpha, finish.value("px") / 2, 0, 0, canvas.threads);
    for (int y = 0; y < light.height(); ++y)
        for (int x = 0; x < light.width(); ++x)
            light.row(y)[x] = std::min(1.0f, 2 * light.row(y)[x]);
    canvas.layUnder(light, finish.colour, finish.value("opacity") / 100);
}

}  // namespace zl
