// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/cut.h"

#include "cut/clean.h"

namespace zl {

bool changesPixels(const Cut& cut) {
    return !cut.off && !cut.shape();
}

bool changesShape(const Cut& cut) {
    return !cut.off && cut.shape();
}

Straight8 cutOut(const Straight8& picture, std::span<const Cut> cuts, int threads,
                 std::stop_token stop) {
    Straight8 out = picture.clone();
    for (const Cut& cut : cuts) {
        if (!changesPixels(cut) || stop.stop_requested()) continue;
        out =
            cut.key() ? keyed(out, *cut.key(), threads, stop) : cleaned(out, *cut.clean(), threads);
    }
    return out;
}

}  // namespace zl
