// SPDX-License-Identifier: GPL-3.0-or-later
// Which quality to try next on the way to the highest that is under a limit. Sizes grow with
// quality but for ripples of a step; the curve through the last two tells where they meet the
// limit.
#pragma once

#include <optional>

#include "picture/content.h"

namespace zl {

class QualitySearch {
  public:
    // Of `format` (JPEG or WebP), under `limit` bytes; nothing: whatever their number.
    QualitySearch(Content format, std::optional<long long> limit)
        : format_(format), limit_(limit) {}

    // 1..100; nothing when the search has ended: best() fits, and one more does not.
    std::optional<int> next() const;
    // The outcome of next().
    void seen(int quality, long long bytes);
    int best() const { return fits_; }  // 0: none fits

  private:
    struct Point {
        int quality = 0;
        double size = 0;  // the logarithm of the bytes
    };
    double along(int quality) const;
    int qualityAt(double along) const;

    Content format_;
    std::optional<long long> limit_;
    int fits_ = 0, misses_ = 101, tried_ = 0;
    std::optional<Point> last_, before_;
};

}  // namespace zl
