// SPDX-License-Identifier: GPL-3.0-or-later
// Tone: a picture's colours changed on the way to the piece, and regions of it that nobody shall
// read. Neutral settings change no pixel; alpha is never changed by a tone.
#pragma once

#include <array>
#include <memory>
#include <span>
#include <stop_token>
#include <string_view>

#include "kit/kit.h"
#include "raster/raster.h"

namespace zl {

// On sRGB-encoded values 0..1, in this order; s is the setting over 100:
//   warmth, tint   red x 2^(0.35 s), blue x 2^(-0.35 s); green x 2^(-0.3 s), in linear light
//   brightness     v^(2^-s): black and white stay where they are
//   contrast       about the middle: (2v)^(2^s) / 2 below it, mirrored above
//   clarity        v + 0.8 s d (1 - |2v - 1|), d the BT.709 luma over its blur of 1 % of the
//   diagonal saturation     luma + (v - luma)(1 + s)
// The outcome is rounded to 8 bits once.
Straight8 toned(const Straight8& picture, const Tone& tone, int threads = 1,
                std::stop_token stop = {});

// The regions blurred (CSS blur radius `px`, nothing coming in from outside the picture) or in
// squares of `px` px, each the mean of what it covers. The kit keeps the original; a release has
// the outcome alone.
Straight8 veiled(const Straight8& picture, std::span<const Veil> veils, int threads = 1);

// How often each code value 0..255 occurs, for red, green, blue and BT.709 luma, over pixels with
// ink.
struct Histogram {
    std::array<std::array<long long, 256>, 4> counts{};
    long long pixels = 0;
    // Shares of the pixels with a channel at 0, and at 255.
    double clippedLow = 0, clippedHigh = 0;
};
Histogram histogramOf(const Straight8& picture);

// A few plain starting points of our own; each title is the phrase "tone.ID".
struct ToneStart {
    std::string_view id;
    Tone tone;
};
std::span<const ToneStart> toneStarts();

}  // namespace zl
