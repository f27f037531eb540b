// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/chroma.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"
#include "cut/subject/enlarge.h"
#include "raster/plane.h"

namespace zl {
namespace {

constexpr int some = 16;  // rows that one thread takes at a time

// How far steps from pixel to pixel are from the mean of the steps beside them, to their own size:
// small where values were brought back from half as many, whatever filter did so. Of steps that are
// clearly seen.
class Roughness {
  public:
    void add(int a, int b, int c, int d) {
        constexpr int clear = 20;  // code values
        const int before = b - a, middle = c - b, after = d - c,
                  all = std::abs(before) + std::abs(middle) + std::abs(after);
        if (all < clear) return;
        off_ += std::abs(middle - (before + after) / 2.0);
        steps_ += all / 3.0;
    }
    bool isKnown() const { return steps_ >= 200; }
    double value() const { return off_ / steps_; }

  private:
    double off_ = 0, steps_ = 0;
};

bool isCutOff(std::uint32_t p) {
    return std::max({redOf(p), greenOf(p), blueOf(p)}) == 255 ||
           std::min({redOf(p), greenOf(p), blueOf(p)}) == 0;
}

// Whether chroma was brought back from half its size. A JPEG's is rough between its samples and not
// within them (0.09 to 0.17 against 0.2 to 0.8 on made scenes and photographs); a video's, whose
// samples lie elsewhere, is at half as rough as luma at most (0.2 to 0.5). Where chroma is whole it
// is as rough on even as on odd steps, and nine tenths as rough as luma or more (ours).
bool isChromaSmeared(const Straight8& picture) {
    Roughness luma, chroma;
    std::array<Roughness, 2> phases;
    for (int y = 0; y < picture.height(); ++y) {
        const std::uint32_t* row = picture.row(y);
        for (int x = 0; x + 3 < picture.width(); ++x) {
            // What a channel's end has cut off is no longer what was brought back.
            if (std::any_of(row + x, row + x + 4, isCutOff)) continue;
            const auto add = [&](Roughness& to, const auto& value) {
                to.add(value(row[x]), value(row[x + 1]), value(row[x + 2]), value(row[x + 3]));
            };
            add(luma, [](std::uint32_t p) {
                return (299 * redOf(p) + 587 * greenOf(p) + 114 * blueOf(p)) / 1000;
            });
            for (Roughness* to : {&chroma, &phases[static_cast<std::size_t>(x % 2)]}) {
                add(*to, [](std::uint32_t p) { return redOf(p) - greenOf(p); });
                add(*to, [](std::uint32_t p) { return blueOf(p) - greenOf(p); });
            }
        }
    }
    if (!luma.isKnown() || !phases[0].isKnown() || !phases[1].isKnown()) return false;
    constexpr double smooth = 0.25, smoother = 0.7, half = 0.5;
    const auto [low, high] = std::minmax({phases[0].value(), phases[1].value()});
    return (low < smooth && low < smoother * high) || chroma.value() < half * luma.value();
}

// The means of 2 x 2 pixels; at an odd border of those that are there.
Plane halved(const Plane& plane, int threads) {
    const PixelSize size{(plane.width() + 1) / 2, (plane.height() + 1) / 2};
    Plane out = Plane::unset(size);
    overRows(size.height, some, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < size.width; ++x) {
                const int right = std::min(plane.width() - 1, 2 * x + 1),
                          below = std::min(plane.height() - 1, 2 * y + 1);
                out.row(y)[x] = (plane.row(2 * y)[2 * x] + plane.row(2 * y)[right] +
                                 plane.row(below)[2 * x] + plane.row(below)[right]) /
                                4;
            }
    });
    return out;
}

// Calls `each` with the mean of `of` over the 3 x 3 samples round each one that are there.
template <std::size_t Count, class Of, class Each>
void overMeans(PixelSize size, int threads, const Of& of, const Each& each) {
    overRows(size.height, some, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < size.width; ++x) {
                std::array<float, Count> sum{};
                float count = 0;
                for (int v = std::max(0, y - 1); v <= std::min(size.height - 1, y + 1); ++v)
                    for (int u = std::max(0, x - 1); u <= std::min(size.width - 1, x + 1); ++u) {
                        const std::array<float, Count> one = of(u, v);
                        for (std::size_t k = 0; k < Count; ++k) sum[k] += one[k];
                        count += 1;
                    }
                for (float& value : sum) value /= count;
                each(x, y, sum);
            }
    });
}

// Chroma as a line over luma, fitted at the chroma samples' own size.
Plane alongLuma(const Plane& luma, const Plane& few, const Plane& chroma, int threads) {
    const PixelSize size = few.size();
    const Plane samples = halved(chroma, threads);
    Plane slope = Plane::unset(size), rest = Plane::unset(size);
    overMeans<4>(
        size, threads,
        [&](int x, int y) {
            const float l = few.row(y)[x], c = samples.row(y)[x];
            return std::array{l, c, l * l, l * c};
        },
        [&](int x, int y, const std::array<float, 4>& mean) {
            constexpr float epsilon = 3;
            const float a = (mean[3] - mean[0] * mean[1]) / (mean[2] - mean[0] * mean[0] + epsilon);
            slope.row(y)[x] = a;
            rest.row(y)[x] = mean[1] - a * mean[0];
        });
    Plane slopes = Plane::unset(size), rests = Plane::unset(size);
    overMeans<2>(
        size, threads,
        [&](int x, int y) {
            return std::array{slope.row(y)[x], rest.row(y)[x]};
        },
        [&](int x, int y, const std::array<float, 2>& mean) {
            slopes.row(y)[x] = mean[0];
            rests.row(y)[x] = mean[1];
        });
    const auto overAll = [&](const auto& value) {
        Plane out = Plane::unset(luma.size());
        overRows(luma.height(), some, threads, [&](int from, int to) {
            for (int y = from; y < to; ++y)
                for (int x = 0; x < luma.width(); ++x)
                    out.row(y)[x] = value(x, y, Between(x, y, luma.size(), size));
        });
        return out;
    };
    const auto at = [](const Plane& plane) {
        return [&plane](int x, int y) { return plane.row(y)[x]; };
    };
    Plane line = overAll([&](int x, int y, const Between& there) {
        return there.of(at(slopes)) * luma.row(y)[x] + there.of(at(rests));
    });
    // What the samples hold beside the line stays in them.
    Plane left = halved(line, threads);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) left.row(y)[x] = samples.row(y)[x] - left.row(y)[x];
    return overAll(
        [&](int x, int y, const Between& there) { return line.row(y)[x] + there.of(at(left)); });
}

}  // namespace

std::optional<Straight8> withSharpChroma(const Straight8& picture, int threads) {
    if (!isChromaSmeared(picture)) return {};
    const PixelSize size = picture.size();
    // ITU-T T.871: Y, and Cb and Cr without their offset.
    Plane luma = Plane::unset(size), blue = Plane::unset(size), red = Plane::unset(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const std::uint32_t p = picture.row(y)[x];
            const auto r = static_cast<float>(redOf(p)), g = static_cast<float>(greenOf(p)),
                       b = static_cast<float>(blueOf(p));
            const float l = 0.299F * r + 0.587F * g + 0.114F * b;
            luma.row(y)[x] = l;
            blue.row(y)[x] = (b - l) / 1.772F;
            red.row(y)[x] = (r - l) / 1.402F;
        }
    const Plane few = halved(luma, threads);
    const Plane cb = alongLuma(luma, few, blue, threads), cr = alongLuma(luma, few, red, threads);
    Straight8 out(size);
    const auto code = [](float v) {
        return static_cast<int>(std::lround(std::clamp(v, 0.0F, 255.0F)));
    };
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const float l = luma.row(y)[x], u = cb.row(y)[x], v = cr.row(y)[x];
            out.row(y)[x] = packed(code(l + 1.402F * v), code(l - 0.344136F * u - 0.714136F * v),
                                   code(l + 1.772F * u), alphaOf(picture.row(y)[x]));
        }
    return out;
}

}  // namespace zl
