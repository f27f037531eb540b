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
constexpr Matrix withoutShort{{{1.255528, -0.076749, -0.178779},
                               {-0.078411, 0.930809, 0.147602},
                               {0.004733, 0.691367, 0.303900}}};

using Light = std::array<double, 3>;  // linear, 0..1

Light seenBy(Sight sight, const Light& light) {
    if (sight == Sight::full) return light;
    const Matrix& m = sight == Sight::withoutLong     ? withoutLong
                      : sight == Sight::withoutMiddle ? withoutMiddle
                                                      : withoutShort;
    Light seen{};
    for (std::size_t i = 0; i < 3; ++i)
        seen[i] =
            std::clamp(m[i][0] * light[0] + m[i][1] * light[1] + m[i][2] * light[2], 0.0, 1.0);
    return seen;
}

// With the room's light on it.
Lab labInRoom(Sight sight, std::uint32_t p) {
    constexpr double room = 0.05;
    Light seen =
        seenBy(sight, {lightOfCode(redOf(p)), lightOfCode(greenOf(p)), lightOfCode(blueOf(p))});
    for (double& light : seen) light = (light + room) / (1 + room);
    return labOfLight(seen[0], seen[1], seen[2]);
}

}  // namespace

Lab labSeenBy(Sight sight, double red, double green, double blue) {
    const Light seen = seenBy(sight, {lightOfCode(red), lightOfCode(green), lightOfCode(blue)});
    return labOfLight(seen[0], seen[1], seen[2]);
}

namespace {

std::pair<Lab, Lab> seenInRoom(Sight sight, std::uint32_t one, std::uint32_t two, bool hueAlone) {
    Lab first = labInRoom(sight, one), second = labInRoom(sight, two);
    if (hueAlone) first.l = second.l = (first.l + second.l) / 2;
    return {first, second};
}

}  // namespace

double differenceSeenBy(Sight sight, std::uint32_t one, std::uint32_t two, bool hueAlone) {
    const auto [first, second] = seenInRoom(sight, one, two, hueAlone);
    return differenceCie2000(first, second);
}

bool differsSeenBy(Sight sight, std::uint32_t one, std::uint32_t two, double limit, bool hueAlone) {
    const auto [first, second] = seenInRoom(sight, one, two, hueAlone);
    return differsCie2000(first, second, limit);
}

}  // namespace zl
