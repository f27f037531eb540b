// SPDX-License-Identifier: GPL-3.0-or-later
// A film of photographs that nobody here made, each panned over for a while: its cuts, and which
// pictures are found in it.
#include <fmt/core.h>

#include "corpus.h"
#include "film/find_picture.h"
#include "film/strip.h"
#include "picture/shrink.h"
#include "raster/resample.h"
#include "support/clips.h"

namespace zl::truth {
namespace {

constexpr PixelSize filmFrame{640, 360}, wide{704, 396};
constexpr int shotLength = 40;

// The largest part of the shape of a frame, a little wider than one.
Straight8 widened(const Item& item) {
    const auto picture = std::make_shared<const Straight8>(pictureOf(item));
    const RealRect part =
        largestInside(RealRect::of(picture->size()), filmFrame.width, filmFrame.height, {0.5, 0.5});
    return rounded8(resampled(picture, true, part, RealRect::of(wide), PixelRect::of(wide)));
}

Straight8 panned(const Straight8& picture, int n) {
    Straight8 out(filmFrame);
    const int left = n * (wide.width - filmFrame.width) / shotLength,
              top = n * (wide.height - filmFrame.height) / shotLength;
    for (int y = 0; y < filmFrame.height; ++y)
        std::copy_n(picture.row(top + y) + left, filmFrame.width, out.row(y));
    return out;
}

// Brighter, with more contrast.
Straight8 toned(const Straight8& picture) {
    return test::painted(picture.size(), [&](int x, int y) {
        const std::uint32_t p = picture.row(y)[x];
        const auto code = [](int v) { return std::clamp((v - 128) * 5 / 4 + 140, 0, 255); };
        return packed(code(redOf(p)), code(greenOf(p)), code(blueOf(p)), 255);
    });
}

TEST(Film, CutsAndPicturesAreFound) {
    std::vector<Straight8> shots, strangers;
    for (const Item& item : items("photos")) {
        // Halves of a picture are no strangers to it.
        if (item.name.find("-left") != std::string::npos ||
            item.name.find("-right") != std::string::npos)
            continue;
        (shots.size() <= 2 * strangers.size() ? shots : strangers).push_back(widened(item));
    }
    ASSERT_GE(shots.size(), 6u);
    ASSERT_GE(strangers.size(), 3u);
    const test::Folder folder;
    const auto count = static_cast<int>(shots.size());
    const Path file = test::clipOf(folder / "film.mp4", filmFrame, count * shotLength, [&](int n) {
        return panned(shots[static_cast<std::size_t>(n / shotLength)], n % shotLength);
    });
    Video video = test::good(Video::open(file));
    const auto strip = test::good(Strip::make(video, folder / "strips", "film"));
    const LookedThrough looked = *strip->looked();
    int cuts = 0, wrong = 0;
    for (const HardCut& cut : looked.cuts)
        (test::good(firstOfShot(video, cut)) % shotLength == 0 ? cuts : wrong) += 1;
    const auto closer = [&](double time) -> std::optional<Straight8> {
        auto near = strip->nearest(time);
        if (!near) return {};
        return std::move(near->pixels);
    };
    const auto found = [&](const Straight8& picture, const RealRect& part) {
        return findPicture(looked, filmFrame, picture, part, closer);
    };
    const RealRect whole = RealRect::of(filmFrame);
    const RealRect part{120, 60, 0.7 * filmFrame.width, 0.7 * filmFrame.height};
    int own = 0, cropped = 0, others = 0;
    for (int i = 0; i < count; ++i) {
        const int n = i * shotLength + 17;
        const VideoFrame still = test::good(video.frame(n));
        const auto there = found(toned(still.pixels), whole), some = found(still.pixels, part);
        own += there && std::abs(there->time - still.time) < 1.0;
        cropped += some && std::abs(some->time - still.time) < 1.5;
    }
    for (const Straight8& stranger : strangers)
        others += found(panned(stranger, 9), whole).has_value();
    row(fmt::format("a film of {} photographs: cuts found, of {}; wrong ones", count, count - 1),
        fmt::format("{}; {}", cuts, wrong), "all; none");
    row(fmt::format("frames of it, of {}, found with another tone; cut to 70 %", count),
        fmt::format("{}; {}", own, cropped), "all; ≥ 90 %");
    row(fmt::format("strangers found in it, of {}", strangers.size()), fmt::format("{}", others),
        "none");
    EXPECT_GE(cuts, count - 2);
    EXPECT_LE(wrong, 0);
    EXPECT_GE(own, count - 1);
    EXPECT_GE(cropped * 10, count * 9);
    EXPECT_EQ(others, 0);
}

}  // namespace
}  // namespace zl::truth
