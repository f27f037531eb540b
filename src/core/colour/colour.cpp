// SPDX-License-Identifier: GPL-3.0-or-later
#include "colour/colour.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace zl {
namespace {

// CIE 15: the cube root with its linear part near black.
double labCurve(double t) {
    constexpr double epsilon = 216.0 / 24389.0, kappa = 24389.0 / 27.0;
    return t > epsilon ? std::cbrt(t) : (kappa * t + 16.0) / 116.0;
}

const std::array<double, 256>& linearTable() {
    static const auto table = [] {
        std::array<double, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i)
            made[i] = linearFromEncoded(static_cast<double>(i) / 255.0);
        return made;
    }();
    return table;
}

double radians(double degrees) {
    return degrees * std::numbers::pi / 180.0;
}

double hueDegrees(double b, double a) {
    if (a == 0 && b == 0) return 0;
    const double h = std::atan2(b, a) * 180.0 / std::numbers::pi;
    return h < 0 ? h + 360.0 : h;
}

}  // namespace

double linearFromEncoded(double e) {
    return e <= 0.04045 ? e / 12.92 : std::pow((e + 0.055) / 1.055, 2.4);
}

double encodedFromLinear(double l) {
    return l <= 0.0031308 ? l * 12.92 : 1.055 * std::pow(l, 1.0 / 2.4) - 0.055;
}

double lightOfCode(double code) {
    const auto whole = static_cast<std::size_t>(code);
    if (code >= 0 && code <= 255 && static_cast<double>(whole) == code) return linearTable()[whole];
    return linearFromEncoded(code / 255.0);
}

Lab labOf(double red, double green, double blue) {
    return labOfLight(lightOfCode(red), lightOfCode(green), lightOfCode(blue));
}

Lab labOfLight(double r, double g, double b) {
    // IEC 61966-2-1's matrix; the white is its own row sums, so that white is exactly L* 100, a* =
    // b* = 0.
    const double x = (0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.9505;
    const double y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    const double z = (0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.0890;
    const double fx = labCurve(x), fy = labCurve(y), fz = labCurve(z);
    return {116.0 * fy - 16.0, 500.0 * (fx - fy), 200.0 * (fy - fz)};
}

namespace {

// CIEDE2000's weight of lightness.
double weightOfLightness(double one, double two) {
    const double mean = (one + two) / 2, off = (mean - 50) * (mean - 50);
    return 1 + 0.015 * off / std::sqrt(20 + off);
}

}  // namespace

bool differsCie2000(const Lab& one, const Lab& two, double limit) {
    // Never less than what lightness gives: the rotation term is weaker than 2, so that chroma and
    // hue together take nothing away.
    const double dL = two.l - one.l, da = two.a - one.a, db = two.b - one.b;
    if (std::abs(dL) >= limit * weightOfLightness(one.l, two.l)) return true;
    // Nor more than this: no weight is under 1, a* is stretched by half at most, and the rotation
    // term at most doubles the rest.
    if (dL * dL + 2 * (2.25 * da * da + db * db) < limit * limit) return false;
    return differenceCie2000(one, two) >= limit;
}

double differenceCie2000(const Lab& one, const Lab& two) {
    constexpr double pow25to7 = 6103515625.0;
    const double c1 = std::hypot(one.a, one.b), c2 = std::hypot(two.a, two.b);
    const double meanC7 = std::pow((c1 + c2) / 2.0, 7);
    const double g = 0.5 * (1.0 - std::sqrt(meanC7 / (meanC7 + pow25to7)));
    const double a1 = (1.0 + g) * one.a, a2 = (1.0 + g) * two.a;
    const double chroma1 = std::hypot(a1, one.b), chroma2 = std::hypot(a2, two.b);
    const double h1 = hueDegrees(one.b, a1), h2 = hueDegrees(two.b, a2);

    const double dL = two.l - one.l, dC = chroma2 - chroma1;
    double dh = 0, meanH = h1 + h2;
    if (chroma1 * chroma2 != 0) {
        dh = h2 - h1;
        if (dh > 180) dh -= 360;
        if (dh < -180) dh += 360;
        if (std::abs(h1 - h2) <= 180)
            meanH = (h1 + h2) / 2;
        else
            meanH = h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
    }
    const double dH = 2.0 * std::sqrt(chroma1 * chroma2) * std::sin(radians(dh) / 2.0);

    const double meanC = (chroma1 + chroma2) / 2;
    const double t = 1 - 0.17 * std::cos(radians(meanH - 30)) +
                     0.24 * std::cos(radians(2 * meanH)) + 0.32 * std::cos(radians(3 * meanH + 6)) -
                     0.20 * std::cos(radians(4 * meanH - 63));
    const double turn = 30 * std::exp(-std::pow((meanH - 275) / 25, 2));
    const double c7 = std::pow(meanC, 7);
    const double rotation = -2 * std::sqrt(c7 / (c7 + pow25to7)) * std::sin(radians(2 * turn));
    const double sL = weightOfLightness(one.l, two.l);
    const double sC = 1 + 0.045 * meanC, sH = 1 + 0.015 * meanC * t;
    const double l = dL / sL, c = dC / sC, h = dH / sH;
    return std::sqrt(std::max(0.0, l * l + c * c + h * h + rotation * c * h));
}

double relativeLuminance(double red, double green, double blue) {
    return 0.2126 * lightOfCode(red) + 0.7152 * lightOfCode(green) + 0.0722 * lightOfCode(blue);
}

double contrastRatio(double one, double other) {
    return (std::max(one, other) + 0.05) / (std::min(one, other) + 0.05);
}

}  // namespace zl
