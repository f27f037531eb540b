// SPDX-License-Identifier: GPL-3.0-or-later
// Crops round what matters: a face on each picture, its box known, four shapes.
#include <fmt/core.h>

#include "base/json.h"
#include "corpus.h"
#include "picture/attention.h"

namespace zl::truth {
namespace {

TEST(Crop, KeepsTheWholeFace) {
    const auto all = items("faces");
    const Json boxes =
        test::good(parseJson(test::good(readFile(corpusFolder() / "faces.json")), "faces.json"));
    int kept = 0, beheaded = 0, judged = 0;
    for (const Item& item : all) {
        const Straight8 picture = pictureOf(item);
        const auto box = boxes[item.name].get<std::array<double, 4>>();
        for (const auto& [w, h] :
             {std::pair{16.0, 9.0}, std::pair{1.0, 1.0}, std::pair{9.0, 16.0}}) {
            ++judged;
            const RealRect crop = attentiveCrop(picture, w, h);
            // What the crop can hold at all; two px for the boxes' rounding.
            const double right = std::min<double>(box[2], picture.width()),
                         bottom = std::min<double>(box[3], picture.height());
            const bool narrow =
                right - box[0] > crop.width + 4 || bottom - box[1] > crop.height + 4;
            const double slackX = narrow ? (right - box[0]) * 0.25 : 4,
                         slackY = narrow ? (bottom - box[1]) * 0.25 : 4;
            const bool whole = crop.x <= box[0] + slackX && crop.right() >= right - slackX &&
                               crop.y <= box[1] + slackY && crop.bottom() >= bottom - slackY;
            kept += whole;
            const bool headless = crop.y > box[1] + 0.3 * (bottom - box[1]);
            beheaded += headless;
            if (!whole)
                list("face cut", item,
                     fmt::format("{}:{} crop {:.0f},{:.0f} {:.0f}x{:.0f} face {}..{} {}..{}", w, h,
                                 crop.x, crop.y, crop.width, crop.height, box[0], box[2], box[1],
                                 box[3]));
        }
    }
    row(fmt::format("crop round what matters keeps the whole face (16:9, 1:1, 9:16), of {}",
                    judged),
        fmt::format("{}, {} beheaded", kept, beheaded), "≥ 39 of 42, none beheaded");
    EXPECT_GE(kept * 42, 39 * judged);
    EXPECT_EQ(beheaded, 0);
}

}  // namespace
}  // namespace zl::truth
