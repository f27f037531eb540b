// SPDX-License-Identifier: GPL-3.0-or-later
#include "colour/colour_rows.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstddef>

#include "base/processor.h"
#include "colour/colour.h"
#include "raster/raster.h"

namespace zl {
namespace {

const std::array<float, 256>& linear() {
    static const auto table = [] {
        std::array<float, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i)
            made[i] = static_cast<float>(linearFromEncoded(static_cast<double>(i) / 255.0));
        return made;
    }();
    return table;
}

// The cube root of 1e-3..2: a third of the exponent as a first guess, then Halley twice.
ZL_INLINE float cubeRoot(float t) {
    float r = std::bit_cast<float>(std::bit_cast<std::int32_t>(t) / 3 + 709921077);
    for (int i = 0; i < 2; ++i) {
        const float cube = r * r * r;
        r *= (cube + 2.0f * t) / (2.0f * cube + t);
    }
    return r;
}

// CIE 15, with its linear part near black.
ZL_INLINE float labCurve(float t) {
    constexpr float epsilon = 216.0f / 24389.0f, kappa = 24389.0f / 27.0f;
    const float root = cubeRoot(t < epsilon ? epsilon : t);
    return t > epsilon ? root : (kappa * t + 16.0f) / 116.0f;
}

ZL_INLINE void labs(const std::uint32_t* __restrict p, int count, float* __restrict l,
                    float* __restrict a, float* __restrict b) {
    const float* table = linear().data();
    for (int i = 0; i < count; ++i) {
        l[i] = table[p[i] & 255u];
        a[i] = table[p[i] >> 8 & 255u];
        b[i] = table[p[i] >> 16 & 255u];
    }
    for (int i = 0; i < count; ++i) {
        const float red = l[i], green = a[i], blue = b[i];
        const float fx =
            labCurve((0.4124f * red + 0.3576f * green + 0.1805f * blue) * (1.0f / 0.9505f));
        const float fy = labCurve(0.2126f * red + 0.7152f * green + 0.0722f * blue);
        const float fz =
            labCurve((0.0193f * red + 0.1192f * green + 0.9505f * blue) * (1.0f / 1.0890f));
        l[i] = 116.0f * fy - 16.0f;
        a[i] = 500.0f * (fx - fy);
        b[i] = 200.0f * (fy - fz);
    }
}

constexpr float degree = 0.01745329252f;

// e^-x for x of 0..80.
ZL_INLINE float expOfMinus(float x) {
    const float t = -(x > 80.0f ? 80.0f : x) * 1.44269504f;
    const float whole = static_cast<float>(static_cast<int>(t - 0.5f));
    const float f = (t - whole) * 0.69314718f;
    const float e =
        1.0f +
        f * (1.0f +
             f * (0.5f + f * (1.0f / 6 + f * (1.0f / 24 + f * (1.0f / 120 + f * (1.0f / 720))))));
    return e * std::bit_cast<float>((static_cast<std::int32_t>(whole) + 127) << 23);
}

// The hue's bell round 275 degrees: 30 e^-((h - 275) / 25)^2, of the unit vector of the hue. Half
// an angle's tangent is s / (1 + c); the arc tangent by Abramowitz and Stegun 4.4.49. A right angle
// and more away the bell is under 0.0001.
ZL_INLINE float bell(float c, float s) {
    constexpr float c275 = 0.0871557427f, s275 = -0.9961946981f;
    const float along = c * c275 + s * s275, across = s * c275 - c * s275;
    const float t = across / (1.0f + (along < 0.0f ? 0.0f : along)), tt = t * t;
    const float arc =
        t * (0.9998660f +
             tt * (-0.3302995f + tt * (0.1801410f + tt * (-0.0851330f + tt * 0.0208351f))));
    const float off = arc * (2.0f / degree / 25.0f);
    return (along < 0.0f ? 0.0f : 30.0f) * expOfMinus(off * off);
}

ZL_INLINE float seventh(float v) {
    const float three = v * v * v;
    return three * three * v;
}

// The same formula as differenceCie2000(), its angles as unit vectors: the mean hue is their
// bisector.
ZL_INLINE float pair(float l1, float a1, float b1, float l2, float a2, float b2) {
    constexpr float tiny = 1e-12f, pow25to7 = 6103515625.0f;
    const float c7 = seventh((std::sqrt(a1 * a1 + b1 * b1) + std::sqrt(a2 * a2 + b2 * b2)) * 0.5f);
    const float stretch = 1.5f - 0.5f * std::sqrt(c7 / (c7 + pow25to7));
    a1 *= stretch;
    a2 *= stretch;
    const float chroma1 = std::sqrt(a1 * a1 + b1 * b1), chroma2 = std::sqrt(a2 * a2 + b2 * b2);
    const float per1 = 1.0f / (chroma1 + tiny), per2 = 1.0f / (chroma2 + tiny);
    const float u1 = a1 * per1, v1 = b1 * per1, u2 = a2 * per2, v2 = b2 * per2;
    const float du = u2 - u1, dv = v2 - v1;
    // The bisector of near hues is along their sum, of far ones across their difference, which
    // keeps its digits. Opposite hues have two; the published one is 90 degrees on from the lesser
    // hue.
    const float su = u1 + u2, sv = v1 + v2, length = std::sqrt(su * su + sv * sv),
                apart = std::sqrt(du * du + dv * dv);
    const float agree = su * -dv + sv * du,
                lesser = (v1 < 0.0f ? -1.0f : 1.0f) * (v1 * dv + u1 * du);
    const float way = agree + (agree * agree > 1e-12f ? 0.0f : 1.0f) * lesser;
    const float across = (way < 0.0f ? -1.0f : 1.0f) / (apart + tiny),
                along = 1.0f / (length + tiny);
    const bool near = length >= 1.0f;
    const float c = near ? su * along : -dv * across, s = near ? sv * along : du * across;
    const float turned = std::sqrt(chroma1 * chroma2) * apart;
    const float dH = u1 * v2 - v1 * u2 < 0.0f ? -turned : turned;

    const float c2 = c * c - s * s, s2 = 2.0f * c * s, c3 = c * c2 - s * s2, s3 = s * c2 + c * s2;
    const float c4 = c2 * c2 - s2 * s2, s4 = 2.0f * c2 * s2;
    const float t = 1.0f - 0.17f * (c * 0.8660254038f + s * 0.5f) + 0.24f * c2 +
                    0.32f * (c3 * 0.9945218954f - s3 * 0.1045284633f) -
                    0.20f * (c4 * 0.4539904997f + s4 * 0.8910065242f);
    const float meanL = (l1 + l2) * 0.5f - 50.0f, meanC = (chroma1 + chroma2) * 0.5f,
                m7 = seventh(meanC);
    const float x = 2.0f * degree * bell(c, s),
                xx = x * x;  // up to a sixth of a turn: the sine's series to x^9
    const float sine =
        x *
        (1.0f - xx * (1.0f / 6 - xx * (1.0f / 120 - xx * (1.0f / 5040 - xx * (1.0f / 362880)))));
    const float rotation = -2.0f * std::sqrt(m7 / (m7 + pow25to7)) * sine;
    const float light = meanL * meanL;
    const float l = (l2 - l1) / (1.0f + 0.015f * light / std::sqrt(20.0f + light));
    const float ch = (chroma2 - chroma1) / (1.0f + 0.045f * meanC),
                h = dH / (1.0f + 0.015f * meanC * t);
    const float sum = l * l + ch * ch + h * h + rotation * ch * h;
    return std::sqrt(sum < 0.0f ? 0.0f : sum);
}

ZL_INLINE void pairs(const LabRow& one, const LabRow& two, int count, float* __restrict out) {
    const float *l1 = one.l, *a1 = one.a, *b1 = one.b, *l2 = two.l, *a2 = two.a, *b2 = two.b;
    for (int i = 0; i < count; ++i) out[i] = pair(l1[i], a1[i], b1[i], l2[i], a2[i], b2[i]);
}

// CIEDE2000 squared is at most this: lightness, chroma and hue are divided by 1 or more, a* is
// stretched by at most a half, chroma and hue together are the way between the two colours, and the
// turn adds at most sin 60 degrees of their squares. A thousandth is for what float rounds away.
ZL_INLINE void bounds(const LabRow& one, const LabRow& two, int count, float* __restrict out) {
    const float *l1 = one.l, *a1 = one.a, *b1 = one.b, *l2 = two.l, *a2 = two.a, *b2 = two.b;
    constexpr float turn = 1.8660254f, stretch = 1.5f * 1.5f, room = 1.001f;
    for (int i = 0; i < count; ++i) {
        const float l = l2[i] - l1[i], a = a2[i] - a1[i], b = b2[i] - b1[i];
        out[i] = room * (l * l + turn * (stretch * a * a + b * b));
    }
}

constexpr int atOnce = 1024;

// As differencesOver(), of at most atOnce pairs.
ZL_INLINE int over(float least, const LabRow& one, const LabRow& two, int count,
                   float* __restrict out) {
    std::array<std::array<float, atOnce>, 6> chosen;
    std::array<float, atOnce> values;
    std::array<std::int32_t, atOnce> places;
    bounds(one, two, count, values.data());
    const float squared = least < 0.0f ? -1.0f : least * least;
    std::size_t few = 0;
    for (int i = 0; i < count; ++i) {
        places[few] = i;
        few += values[static_cast<std::size_t>(i)] > squared ? 1 : 0;
    }
    const std::array<const float*, 6> from{one.l, one.a, one.b, two.l, two.a, two.b};
    for (std::size_t line = 0; line < from.size(); ++line)
        for (std::size_t i = 0; i < few; ++i) chosen[line][i] = from[line][places[i]];
    pairs({chosen[0].data(), chosen[1].data(), chosen[2].data()},
          {chosen[3].data(), chosen[4].data(), chosen[5].data()}, static_cast<int>(few),
          values.data());
    int found = 0;
    for (std::size_t i = 0; i < few; ++i) {
        out[found] = values[i];
        found += values[i] > least ? 1 : 0;
    }
    return found;
}

ZL_FOR_THIS_PROCESSOR(void, labsRow,
                      (const std::uint32_t* p, int count, float* l, float* a, float* b),
                      labs(p, count, l, a, b));
ZL_FOR_THIS_PROCESSOR(void, pairsRow, (const LabRow& one, const LabRow& two, int count, float* out),
                      pairs(one, two, count, out));
ZL_FOR_THIS_PROCESSOR(int, overRow,
                      (float least, const LabRow& one, const LabRow& two, int count, float* out),
                      over(least, one, two, count, out));

}  // namespace

void labRow(const std::uint32_t* pixels, int count, float* l, float* a, float* b) {
    labsRow(pixels, count, l, a, b);
}

void differenceRow(const LabRow& one, const LabRow& two, int count, float* out) {
    pairsRow(one, two, count, out);
}

int differencesOver(float least, const LabRow& one, const LabRow& two, int count, float* out) {
    int found = 0;
    for (int from = 0; from < count; from += atOnce) {
        const LabRow first{one.l + from, one.a + from, one.b + from},
            second{two.l + from, two.a + from, two.b + from};
        found += overRow(least, first, second, std::min(atOnce, count - from), out + found);
    }
    return found;
}

}  // namespace zl
