// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/difference.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <mutex>
#include <vector>

#include "base/parallel.h"
#include "colour/colour_rows.h"
#include "encode/ssim.h"
#include "raster/bleed.h"

namespace zl {
namespace {

constexpr int rowsAtOnce = 32;  // handed to a thread

// A see-through picture laid on mid grey, in `room`; an opaque one as it is.
const Straight8& onGrey(const Straight8& raster, Straight8& room) {
    if (isOpaque(raster)) return raster;
    room = raster.clone();
    flattenOnto(room, 128, 128, 128);
    return room;
}

// A row's L*, a*, b*, row by row.
std::unique_ptr<float[]> labOf(const Straight8& raster, int threads) {
    const auto width = static_cast<std::size_t>(raster.width());
    auto lab = std::make_unique_for_overwrite<float[]>(3 * raster.pixels().size());
    overRows(raster.height(), rowsAtOnce, threads, [&](int from, int to) {
        for (int y = from; y < to; ++y) {
            float* row = lab.get() + 3 * width * static_cast<std::size_t>(y);
            labRow(raster.row(y), raster.width(), row, row + width, row + 2 * width);
        }
    });
    return lab;
}

// The differences over `least` of the rows first, first + step, ... ; `lab`: the one picture's.
std::vector<float> differencesOf(const float* lab, const Straight8& two, int first, int step,
                                 float least, int threads) {
    const auto width = static_cast<std::size_t>(two.width());
    std::vector<float> all;
    std::mutex mutex;
    overRows((two.height() - first + step - 1) / step, rowsAtOnce, threads, [&](int from, int to) {
        std::vector<float> lines(4 * width), found;
        float *const l = lines.data(), *const a = l + width, *const b = a + width,
                     *const over = b + width;
        for (int y = first + from * step; y < first + to * step; y += step) {
            const float* one = lab + 3 * width * static_cast<std::size_t>(y);
            labRow(two.row(y), two.width(), l, a, b);
            const int count = differencesOver(least, {one, one + width, one + 2 * width}, {l, a, b},
                                              two.width(), over);
            found.insert(found.end(), over, over + count);
        }
        const std::scoped_lock lock(mutex);
        all.insert(all.end(), found.begin(), found.end());
    });
    return all;
}

// `lab`: the one picture's. Only pixels that may be over a guess, taken from a few rows, are worked
// out to the end; all of them are where it was guessed too high.
double percentileOf(const float* lab, const Straight8& two, int threads) {
    if (two.empty()) return 0;
    const std::size_t pixels = two.pixels().size(),
                      rank =
                          static_cast<std::size_t>(std::ceil(0.99 * static_cast<double>(pixels))) -
                          1;
    constexpr int oneIn = 16;
    constexpr double lower = 0.985;
    float guess = -1;
    if (two.height() > oneIn) {
        auto few = differencesOf(lab, two, oneIn / 2, oneIn, -1, threads);
        const auto at =
            few.begin() + static_cast<std::ptrdiff_t>(lower * static_cast<double>(few.size()));
        std::nth_element(few.begin(), at, few.end());
        guess = *at;
    }
    auto over = differencesOf(lab, two, 0, 1, guess, threads);
    if (over.size() < pixels - rank) over = differencesOf(lab, two, 0, 1, -1, threads);
    const auto at = over.end() - static_cast<std::ptrdiff_t>(pixels - rank);
    std::nth_element(over.begin(), at, over.end());
    return *at;
}

}  // namespace

double ssim(const Straight8& one, const Straight8& two, int threads) {
    Straight8 firstRoom, secondRoom;
    return ssimOf(onGrey(one, firstRoom), onGrey(two, secondRoom), threads);
}

double de00Percentile99(const Straight8& one, const Straight8& two, int threads) {
    Straight8 firstRoom, secondRoom;
    return percentileOf(labOf(onGrey(one, firstRoom), threads).get(), onGrey(two, secondRoom),
                        threads);
}

Difference difference(const Straight8& one, const Straight8& two, int threads) {
    return Original(one).to(two, threads);
}

Difference Original::to(const Straight8& other, int threads) const {
    std::call_once(once_, [&] { lab_ = labOf(onGrey(picture_, onGrey_), threads); });
    Straight8 room;
    const Straight8 &one = onGrey_.empty() ? picture_ : onGrey_, &two = onGrey(other, room);
    return {ssimOf(one, two, threads), percentileOf(lab_.get(), two, threads)};
}

PixelRect mostDifferent(const Straight8& one, const Straight8& two, PixelSize part) {
    part = {std::min(part.width, one.width()), std::min(part.height, one.height())};
    constexpr int step = 24, few = 4;
    long long most = -1;
    PixelRect best = PixelRect::of(part);
    for (int y = 0; y + part.height <= one.height(); y += step)
        for (int x = 0; x + part.width <= one.width(); x += step) {
            long long sum = 0;
            for (int j = y; j < y + part.height; j += few)
                for (int i = x; i < x + part.width; i += few) {
                    const std::uint32_t p = one.row(j)[i], q = two.row(j)[i];
                    sum += std::abs(redOf(p) - redOf(q)) + std::abs(greenOf(p) - greenOf(q)) +
                           std::abs(blueOf(p) - blueOf(q));
                }
            if (sum > most) {
                most = sum;
                best = PixelRect::of(part).moved(x, y);
            }
        }
    return best;
}

Straight8 differenceTimes(int factor, const Straight8& one, const Straight8& two) {
    Straight8 out(one.size());
    const auto at = [&](int a, int b) { return std::min(255, factor * std::abs(a - b)); };
    for (int y = 0; y < one.height(); ++y)
        for (int x = 0; x < one.width(); ++x) {
            const std::uint32_t p = one.row(y)[x], q = two.row(y)[x];
            out.row(y)[x] = packed(at(redOf(p), redOf(q)), at(greenOf(p), greenOf(q)),
                                   at(blueOf(p), blueOf(q)), 255);
        }
    return out;
}

}  // namespace zl
