// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/quality_search.h"

#include <algorithm>
#include <cmath>

namespace zl {

// Where the logarithm of the bytes is nearly straight: for JPEG the logarithm by which its
// quantisation tables are scaled (libjpeg's jpeg_quality_scaling), for WebP the quality itself.
double QualitySearch::along(int quality) const {
    if (format_ != Content::jpeg) return quality;
    return std::log(quality < 50 ? 5000.0 / quality : std::max(1.0, 200.0 - 2 * quality));
}

int QualitySearch::qualityAt(double along) const {
    if (format_ != Content::jpeg) return static_cast<int>(std::clamp(along, 1.0, 100.0));
    const double scale = std::exp(std::clamp(along, 0.0, 9.0));
    return std::max(1, static_cast<int>(scale > 100 ? 5000 / scale : (200 - scale) / 2));
}

std::optional<int> QualitySearch::next() const {
    if (misses_ - fits_ <= 1) return {};
    if (!limit_) return 100;
    constexpr int first = 75, guesses = 5;  // pictures that follow no curve are halved from there
    if (!last_) return first;
    if (tried_ >= guesses) return (fits_ + misses_) / 2;
    // As photographs go, from memory: half the scale is three quarters more bytes.
    double slope = format_ == Content::jpeg ? -0.8 : 0.025;
    if (before_) {
        const double own =
            (last_->size - before_->size) / (along(last_->quality) - along(before_->quality));
        if (own * slope > 0) slope = own;
    }
    const double limit = std::log(static_cast<double>(std::max(1LL, *limit_)));
    const int guess = qualityAt(along(last_->quality) + (limit - last_->size) / slope);
    return std::clamp(guess, fits_ + 1, misses_ - 1);
}

void QualitySearch::seen(int quality, long long bytes) {
    ++tried_;
    (!limit_ || bytes <= *limit_ ? fits_ : misses_) = quality;
    before_ = last_;
    last_ = Point{quality, std::log(static_cast<double>(std::max(1LL, bytes)))};
}

}  // namespace zl
