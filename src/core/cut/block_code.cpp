// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/block_code.h"

#include <array>
#include <cmath>
#include <numbers>

namespace zl {
namespace {

constexpr int side = 8;
using Block = std::array<float, static_cast<std::size_t>(side) * side>;

// The discrete cosine transform of type II, orthonormal (ITU-T T.81, A.3.3).
const Block& cosines() {
    static const Block made = [] {
        Block out{};
        for (int u = 0; u < side; ++u)
            for (int x = 0; x < side; ++x)
                out[static_cast<std::size_t>(u * side + x)] =
                    static_cast<float>((u == 0 ? std::sqrt(0.125) : 0.5) *
                                       std::cos((2 * x + 1) * u * std::numbers::pi / 16));
        return out;
    }();
    return made;
}

// The luma of a block (ITU-T T.871); false where it has no edge or a channel is clipped.
bool readBlock(const Straight8& picture, int left, int top, Block& luma) {
    constexpr float edge = 30;  // code values from its darkest to its lightest pixel
    float low = 255, high = 0;
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            const std::uint32_t p = picture.row(top + y)[left + x];
            const int r = redOf(p), g = greenOf(p), b = blueOf(p);
            if (std::max({r, g, b}) == 255 || std::min({r, g, b}) == 0 || alphaOf(p) != 255)
                return false;
            const float v = 0.299f * static_cast<float>(r) + 0.587f * static_cast<float>(g) +
                            0.114f * static_cast<float>(b);
            low = std::min(low, v);
            high = std::max(high, v);
            luma[static_cast<std::size_t>(y * side + x)] = v;
        }
    return high - low >= edge;
}

// How many of its fine coefficients lie between nothing and what a JPEG's first step would be.
int betweenSteps(const Block& luma, int finest) {
    const Block& c = cosines();
    Block rows{};
    for (int y = 0; y < side; ++y)
        for (int u = 0; u < side; ++u) {
            float sum = 0;
            for (int x = 0; x < side; ++x)
                sum += c[static_cast<std::size_t>(u * side + x)] *
                       luma[static_cast<std::size_t>(y * side + x)];
            rows[static_cast<std::size_t>(y * side + u)] = sum;
        }
    int between = 0;
    for (int v = 0; v < side; ++v)
        for (int u = std::max(0, finest - v); u < side; ++u) {
            float sum = 0;
            for (int y = 0; y < side; ++y)
                sum += c[static_cast<std::size_t>(v * side + y)] *
                       rows[static_cast<std::size_t>(y * side + u)];
            const float size = std::abs(sum);
            between += size > 1.5f && size < 6;  // rounding to code values reaches about 1; the
                                                 // least step of quality 92 is 6
        }
    return between;
}

}  // namespace

std::optional<bool> wasCodedInBlocks(const Straight8& picture, int x, int y) {
    constexpr int finest = 6,
                  fine = 43;  // u + v of the coefficients that count, and how many they are
    constexpr long long most = 1'500, enough = 4;
    const int across = (picture.width() - x) / side, down = (picture.height() - y) / side;
    if (across < 1 || down < 1) return {};
    long long blocks = 0, between = 0;
    // Row after row of blocks with a stride: a large picture is sampled all over.
    const long long all = static_cast<long long>(across) * down,
                    stride = std::max(1LL, all / 40'000) | 1LL;
    Block luma;
    for (long long i = 0; i < all && blocks < most; i += stride) {
        if (!readBlock(picture, x + side * static_cast<int>(i % across),
                       y + side * static_cast<int>(i / across), luma))
            continue;
        ++blocks;
        between += betweenSteps(luma, finest);
    }
    if (blocks < enough) return {};
    constexpr double few = 0.03;  // of icons and photographs of quality 75 to 92 under 0.031; of
                                  // lossless ones over 0.04
    return static_cast<double>(between) < few * static_cast<double>(blocks * fine);
}

}  // namespace zl
