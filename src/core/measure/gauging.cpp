// SPDX-License-Identifier: GPL-3.0-or-later
#include "measure/gauging.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "colour/colour.h"
#include "raster/over.h"

namespace zl {

Straight8 bareChannels(const Straight8& frame, bool colour) {
    Straight8 out(frame.size());
    overRows(frame.height(), 64, coreCount(), [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < frame.width(); ++x) {
                const std::uint32_t p = frame.row(y)[x], a = p >> 24;
                out.row(y)[x] = colour ? p | 0xFF000000u : a | a << 8 | a << 16 | 0xFF000000u;
            }
    });
    return out;
}

Straight8 overGround(const std::shared_ptr<const Straight8>& frame, Straight8 ground) {
    const PixelRect all = PixelRect::of(frame->size());
    std::vector<Ink> inks(2);
    inks[0].box = inks[1].box = all;
    inks[0].eight = std::make_shared<const Straight8>(std::move(ground));
    inks[0].opaque = true;
    inks[1].eight = frame;
    Straight8 out(frame->size());
    blendOver(inks, all, out, coreCount());
    return out;
}

std::optional<std::uint32_t> cleanInkNear(const Straight8& frame, Spot at) {
    for (const Spot& o : nearestFirst(6)) {
        const int x = at.x + o.x, y = at.y + o.y;
        if (x >= 0 && y >= 0 && x < frame.width() && y < frame.height() &&
            isDeep(frame, x, y, false))
            return frame.row(y)[x];
    }
    return {};
}

double inkDifference(std::uint32_t one, std::uint32_t other) {
    return differenceCie2000(labOf(redOf(one), greenOf(one), blueOf(one)),
                             labOf(redOf(other), greenOf(other), blueOf(other)));
}

LineAcross lineAcross(const Straight8& frame, RealPoint from, RealPoint to) {
    constexpr int most = 600;
    const double length = std::hypot(to.x - from.x, to.y - from.y);
    const int steps = std::clamp(static_cast<int>(std::ceil(length * 2)), 2, most);
    LineAcross line;
    for (int i = 0; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        const int x = static_cast<int>(std::floor(from.x + (to.x - from.x) * t)),
                  y = static_cast<int>(std::floor(from.y + (to.y - from.y) * t));
        const bool inside = x >= 0 && y >= 0 && x < frame.width() && y < frame.height();
        const std::uint32_t p = inside ? frame.row(y)[x] : 0;
        const auto clean = inside && alphaOf(p) > 0 ? cleanInkNear(frame, {x, y}) : std::nullopt;
        line.alpha.push_back(static_cast<float>(alphaOf(p)) / 255);
        line.difference.push_back(clean ? static_cast<float>(inkDifference(p, *clean)) : 0);
    }
    return line;
}

}  // namespace zl
