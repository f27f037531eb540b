// SPDX-License-Identifier: GPL-3.0-or-later
// Crops round what matters: a face on each picture, its box known, four shapes.
#include <fmt/core.h>

#include "base/json.h"
#include "corpus.h"
#include "edit/edits.h"
#include "layout/new_layers.h"
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

TEST(Crop, APictureThatComesInKeepsItsHead) {
    const auto all = items("faces");
    const Json boxes =
        test::good(parseJson(test::good(readFile(corpusFolder() / "faces.json")), "faces.json"));
    int cut = 0, byTheMiddle = 0, judged = 0;
    for (const Item& item : all) {
        const Straight8 picture = pictureOf(item);
        const auto box = boxes[item.name].get<std::array<double, 4>>();
        for (const PixelSize frame : {PixelSize{1280, 720}, {1080, 1080}, {1500, 500}}) {
            const auto losesHead = [&](const PictureLayer& layer) {
                const double scale = layer.place.width / picture.width(),
                             top = -layer.place.y / scale;
                EXPECT_LE(layer.place.x, 0);
                EXPECT_LE(layer.place.y, 0);
                EXPECT_GE(layer.place.right(), frame.width - 1e-6);
                EXPECT_GE(layer.place.bottom(), frame.height - 1e-6);
                return top > box[1] + 0.3 * (box[3] - box[1]);
            };
            ++judged;
            const bool lost = losesHead(newPicture("x", picture, frame));
            if (lost) list("head cut", item, fmt::format("in {} x {}", frame.width, frame.height));
            cut += lost;
            byTheMiddle += losesHead(fillingFrame("x", picture.size(), frame));
        }
    }
    row(fmt::format(
            "pictures with a face brought into three frames: beheaded, of {}; in the middle",
            judged),
        fmt::format("{}; {}", cut, byTheMiddle), "none; –");
    EXPECT_EQ(cut, 0);
    EXPECT_GT(byTheMiddle, judged / 4);
}

TEST(Crop, SeesNoFaceWhereThereIsNone) {
    // Of scikit-image's photographs the astronaut has a face, and the coins have heads on them.
    int judged = 0, seen = 0;
    for (const Item& item : items("photos")) {
        if (item.name.starts_with("astronaut") || item.name.starts_with("coins")) continue;
        ++judged;
        const bool face = headsIn(pictureOf(item), 16, 9).has_value();
        if (face) list("face seen", item, "");
        seen += face;
    }
    row(fmt::format("photographs without a face, of {}, in which one is seen", judged),
        fmt::format("{}", seen), "none");
    EXPECT_EQ(seen, 0);
}

}  // namespace
}  // namespace zl::truth
