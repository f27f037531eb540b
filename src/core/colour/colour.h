// SPDX-License-Identifier: GPL-3.0-or-later
// Colours and colour science. Code values are sRGB-encoded 0..255 (IEC 61966-2-1), white point D65.
#pragma once

#include "base/colour_value.h"

namespace zl {

// IEC 61966-2-1: encoded 0..1 to linear light 0..1 and back.
double linearFromEncoded(double encoded);
double encodedFromLinear(double linear);

struct Lab {
    double l = 0, a = 0, b = 0;  // L* 0..100
};

// CIE 1976 L*a*b* of encoded code values 0..255, reference white D65 (2 degrees).
Lab labOf(double red, double green, double blue);
// The same of linear light, 0..1.
Lab labOfLight(double red, double green, double blue);
// Linear light of an encoded code value 0..255; whole ones are looked up.
double lightOfCode(double code);

// CIEDE2000 colour difference (CIE 142-2001, as published by Sharma, Wu and Dalal 2005), k_L = k_C
// = k_H = 1.
double differenceCie2000(const Lab& one, const Lab& two);
// Whether it is `limit` or more; most pairs are told without an angle or a power.
bool differsCie2000(const Lab& one, const Lab& two, double limit);

// WCAG 2.2 relative luminance of code values 0..255, 0..1, and the contrast ratio of two
// luminances, 1..21.
double relativeLuminance(double red, double green, double blue);
double contrastRatio(double oneLuminance, double otherLuminance);

// Rec. ITU-R BT.709 luma of code values 0..255, 0..255.
inline double luma709(double red, double green, double blue) {
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

}  // namespace zl
