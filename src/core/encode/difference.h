// SPDX-License-Identifier: GPL-3.0-or-later
// How far two pictures are apart, as the eye meets it. Both are laid on #808080 first when they are
// see-through.
#pragma once

#include <memory>
#include <mutex>

#include "raster/raster.h"

namespace zl {

struct Difference {
    double ssim = 1;     // mean over R, G, B; 1: equal
    double de00P99 = 0;  // 99th percentile of CIEDE2000 over the pixels
    bool operator==(const Difference&) const = default;
};

// SSIM as in encode/ssim.h. The sizes must be equal.
double ssim(const Straight8& one, const Straight8& two, int threads = 1);
double de00Percentile99(const Straight8& one, const Straight8& two, int threads = 1);
Difference difference(const Straight8& one, const Straight8& two, int threads = 1);

// The part of that size, or of the whole, where the two differ most, so that a look shows what
// there is to see. The sizes of the pictures must be equal.
PixelRect mostDifferent(const Straight8& one, const Straight8& two, PixelSize part);
// Each channel's difference as light, so many times as strong; opaque.
Straight8 differenceTimes(int factor, const Straight8& one, const Straight8& two);

// A picture that several others are compared with: what the measures need of it alone is worked out
// once. Safe from any thread.
class Original {
  public:
    // Straight 8-bit sRGB; must outlive this.
    explicit Original(const Straight8& picture) : picture_(picture) {}
    // The same as difference(picture, other).
    Difference to(const Straight8& other, int threads = 1) const;

  private:
    const Straight8& picture_;
    mutable std::once_flag once_;
    mutable Straight8 onGrey_;
    mutable std::unique_ptr<float[]> lab_;  // a row's L*, a*, b*, row by row
};

}  // namespace zl
