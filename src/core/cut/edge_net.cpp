// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/edge_net.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace zl {
namespace {

using edge_net::inputs, edge_net::reach, edge_net::side;

constexpr int pixels = side * side, first = 32, second = 16;

// In 4096ths: a row for each of a layer's inputs, then what is added.
constexpr std::int16_t weights[] = {
#include "cut/edge_weights.inc"
};
static_assert(std::size(weights) == (inputs + 1) * first + (first + 1) * second + (second + 1) * 1);

struct Weights {
    std::array<float, std::size(weights)> all;
    Weights() {
        for (std::size_t i = 0; i < all.size(); ++i) all[i] = static_cast<float>(weights[i]) / 4096;
    }
};

// One layer: `at` its weights, which it steps over.
template <std::size_t In, std::size_t Out>
std::array<float, Out> layer(const std::array<float, In>& in, const float*& at) {
    std::array<float, Out> out{};
    const float* const added = at + In * Out;
    for (std::size_t o = 0; o < Out; ++o) out[o] = added[o];
    for (std::size_t i = 0; i < In; ++i, at += Out)
        for (std::size_t o = 0; o < Out; ++o) out[o] += in[i] * at[o];
    at += Out;
    return out;
}

template <std::size_t Size>
void dropNegative(std::array<float, Size>& values) {
    for (float& v : values) v = std::max(v, 0.0f);
}

using Window = std::array<float, pixels>;

// Luma and both chromas of the pixels around, less the ground's.
struct Colours {
    Window luma, blue, red;
};

float lumaOf(float r, float g, float b) {
    return 0.299f * r + 0.587f * g + 0.114f * b;
}

// The chroma along the direction of the strongest one.
Window alongStrongest(const Colours& colours) {
    std::size_t strongest = 0;
    float most = -1;
    for (std::size_t i = 0; i < pixels; ++i)
        if (const float square =
                colours.blue[i] * colours.blue[i] + colours.red[i] * colours.red[i];
            square > most) {
            most = square;
            strongest = i;
        }
    const float length = std::max(1e-3f, std::sqrt(most)), u = colours.blue[strongest] / length,
                v = colours.red[strongest] / length;
    Window out;
    for (std::size_t i = 0; i < pixels; ++i) out[i] = u * colours.blue[i] + v * colours.red[i];
    return out;
}

}  // namespace

EdgeNet::EdgeNet(const Straight8& level, const Regions& regions)
    : level_(level), regions_(regions) {}

std::array<float, inputs> EdgeNet::seen(int x, int y, const std::array<double, 3>& ground,
                                        double told) const {
    Colours colours;
    Window kept;
    const auto r = static_cast<float>(ground[0]), g = static_cast<float>(ground[1]),
               b = static_cast<float>(ground[2]);
    for (int dy = -reach, i = 0; dy <= reach; ++dy) {
        const int py = std::clamp(y + dy, 0, level_.height() - 1);
        for (int dx = -reach; dx <= reach; ++dx, ++i) {
            const int px = std::clamp(x + dx, 0, level_.width() - 1);
            const std::uint32_t p = level_.row(py)[px];
            const float red = static_cast<float>(redOf(p)) - r,
                        blue = static_cast<float>(blueOf(p)) - b,
                        luma = lumaOf(red, static_cast<float>(greenOf(p)) - g, blue);
            const auto at = static_cast<std::size_t>(i);
            colours.luma[at] = luma;
            colours.blue[at] = 0.564f * (blue - luma);
            colours.red[at] = 0.713f * (red - luma);
            kept[at] = regions_.row(py)[px] == Region::background ? 0.0f : 1.0f;
        }
    }
    Window chroma = alongStrongest(colours);
    float scale = 24, sum = 0;  // less than 24 code values are noise
    for (std::size_t i = 0; i < pixels; ++i) {
        scale = std::max({scale, std::abs(colours.luma[i]), std::abs(chroma[i])});
        sum += colours.luma[i];
    }
    const float luma = (sum < 0 ? -1 : 1) / scale;
    float rightwards = 0, downwards = 0;
    for (int dy = -reach, i = 0; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx, ++i) {
            const auto at = static_cast<std::size_t>(i);
            colours.luma[at] *= luma;
            chroma[at] /= scale;
            const float far =
                std::sqrt(colours.luma[at] * colours.luma[at] + chroma[at] * chroma[at]);
            rightwards += far * static_cast<float>(dx);
            downwards += far * static_cast<float>(dy);
        }
    const bool across = std::abs(downwards) > std::abs(rightwards);
    std::array<float, inputs> out;
    for (int row = 0, i = 0; row < side; ++row)
        for (int column = 0; column < side; ++column, ++i) {
            int u = across ? row : column, v = across ? column : row;
            if (rightwards < 0) u = side - 1 - u;
            if (downwards < 0) v = side - 1 - v;
            const auto from = static_cast<std::size_t>(v * side + u),
                       to = static_cast<std::size_t>(3 * i);
            out[to] = colours.luma[from];
            out[to + 1] = chroma[from];
            out[to + 2] = kept[from];
        }
    out[inputs - 2] = scale / 255;
    out[inputs - 1] = static_cast<float>(told);
    return out;
}

double EdgeNet::coverage(int x, int y, const std::array<double, 3>& ground, double told) const {
    static const Weights known;
    const float* at = known.all.data();
    auto one = layer<inputs, first>(seen(x, y, ground, told), at);
    dropNegative(one);
    auto two = layer<first, second>(one, at);
    dropNegative(two);
    return std::clamp(told + static_cast<double>(layer<second, 1>(two, at)[0]), 0.0, 1.0);
}

}  // namespace zl
