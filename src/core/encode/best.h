// SPDX-License-Identifier: GPL-3.0-or-later
// The one rule for the best encoding of a picture: what is exact goes before what is not, of exact
// ones the smallest, of the others the nearest to the picture.
#pragma once

namespace zl {

// One encoding that may be taken: it is under the limit and keeps the alpha that is asked for.
struct Worth {
    bool exact = false;
    long long bytes = 0;
    double ssim = 1;  // to the picture; of no matter where it is exact
};

// False where they are equal, so that the one that stands first stays.
constexpr bool isBetter(const Worth& one, const Worth& other) {
    if (one.exact != other.exact) return one.exact;
    return one.exact ? one.bytes < other.bytes : one.ssim > other.ssim;
}

}  // namespace zl
