// SPDX-License-Identifier: GPL-3.0-or-later
// Black bars of 60 to 90 px found in photographs saved as JPEG; none found where there is none.
#include <fmt/core.h>

#include "corpus.h"
#include "encode/encode.h"
#include "measure/measure.h"
#include "raster/resample.h"

namespace zl::truth {
namespace {

// The photograph enlarged or shrunk to cover 1280 x 720, with bars above and below when asked.
Straight8 framed(const Straight8& photo, int bar) {
    const int height = 720 - 2 * bar;
    const double scale =
        std::max(1280.0 / photo.width(), static_cast<double>(height) / photo.height());
    return test::painted({1280, 720}, [&](int x, int y) {
        if (y < bar || y >= 720 - bar) return packed(0, 0, 0, 255);
        const double px = (x + 0.5) / scale + (photo.width() - 1280 / scale) / 2,
                     py = (y - bar + 0.5) / scale + (photo.height() - height / scale) / 2;
        return photo.row(std::clamp(
                   static_cast<int>(py), 0,
                   photo.height() - 1))[std::clamp(static_cast<int>(px), 0, photo.width() - 1)] |
               0xFF000000u;
    });
}

Verdict barsIn(const Straight8& picture, int quality) {
    const auto bytes =
        test::good(encode(picture, {Content::jpeg, quality, Chroma::half, Effort::quick}));
    return test::one(test::good(readPictureFile(bytes, "photo.jpg", test::brief("video-thumbnail")))
                         .readings,
                     "black-bars")
        .verdict;
}

TEST(BlackBars, AreFoundInJpegsAndNowhereElse) {
    const auto all = items("photos");
    std::vector<int> found(all.size()), falsely(all.size());
    forAll(all, [&](std::size_t i) {
        const Straight8 photo = pictureOf(all[i]);
        int k = 0;
        for (const int quality : {75, 85, 95}) {
            const int bar =
                60 + static_cast<int>((7 * i + 11 * static_cast<std::size_t>(k++)) % 31);
            const bool seen = barsIn(framed(photo, bar), quality) == Verdict::fail;
            found[i] += seen;
            if (!seen) list("bars missed", all[i], fmt::format("{} px at {}", bar, quality));
        }
        falsely[i] = barsIn(framed(photo, 0), 90) == Verdict::fail;
        if (falsely[i]) list("bars false", all[i]);
    });
    std::size_t seen = 0, wrong = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
        seen += static_cast<std::size_t>(found[i]);
        wrong += static_cast<std::size_t>(falsely[i]);
    }
    const double share = 100.0 * static_cast<double>(seen) / static_cast<double>(3 * all.size());
    row("black bars of 60 to 90 px found in JPEG 75 to 95", fmt::format("{:.0f} %", share),
        "≥ 95 %");
    row(fmt::format("bars found where there are none, of {} photographs", all.size()),
        fmt::format("{}", wrong), "0");
    EXPECT_GE(share, 95);
    EXPECT_EQ(wrong, 0u);
}

}  // namespace
}  // namespace zl::truth
