// SPDX-License-Identifier: GPL-3.0-or-later
#include "colour/sight.h"

#include <algorithm>
#include <array>

#include "raster/raster.h"

namespace zl {
namespace {

using Matrix = std::array<std::array<double, 3>, 3>;

constexpr Matrix withoutLong{{{0.152286, 1.052583, -0.204868},
                              {0.114503, 0.786281, 0.099216},
                              {-0.003882, -0.048116, 1.051998}}};
constexpr Matrix withoutMiddle{{{0.367322, 0.860646, -0.227968},
                                {0.280085, 0.672501, 0.047413},
                                {-0.011820, 0.042940, 0.968881}}};

}  // namespace

Lab labSeenBy(Sight sight, double red, double green, double blue) {
    if (sight == Sight::full) return labOf(red, green, blue);
    const Matrix& m = sight == Sight::withoutLong ? withoutLong : withoutMiddle;
    const std::array<double, 3> light{linearFromEncoded(red / 255), linearFromEncoded(green / 255),
                                      linearFromEncoded(blue / 255)};
    std::array<double, 3> seen{};
    for (std::size_t i = 0; i < 3; ++i)
        seen[i] =
            255 * encodedFromLinear(std::clamp(
                      m[i][0] * light[0] + m[i][1] * light[1] + m[i][2] * light[2], 0.0, 1.0));
    return labOf(seen[0], seen[1], seen[2]);
}

double differenceSeenBy(Sight sight, std::uint32_t one, std::uint32_t two) {
    const auto lab = [&](std::uint32_t p) {
        return labSeenBy(sight, redOf(p), greenOf(p), blueOf(p));
    };
    return differenceCie2000(lab(one), lab(two));
}

}  // namespace zl
