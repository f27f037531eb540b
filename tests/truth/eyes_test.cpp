// SPDX-License-Identifier: GPL-3.0-or-later
// Open eyes and closed ones: a portrait that nobody here made, at several sizes and tones, as it is
// and with lids drawn over its eyes; and whether a blink is proposed as a picture of a film.
#include <fmt/core.h>

#include <cmath>

#include "corpus.h"
#include "film/candidates.h"
#include "picture/faces.h"
#include "raster/resample.h"
#include "support/clips.h"

namespace zl::truth {
namespace {

// Where they are in the portrait, px.
constexpr std::pair<double, double> eyes[] = {{203, 101}, {246, 103}};

// The skin above each eye mixed with that below it, and a line of lashes.
Straight8 withLids(const Straight8& portrait) {
    constexpr double wide = 11, high = 6;
    Straight8 out = portrait.clone();
    for (const auto& [cx, cy] : eyes)
        for (int y = static_cast<int>(cy - high); y <= cy + high; ++y)
            for (int x = static_cast<int>(cx - wide); x <= cx + wide; ++x) {
                const double u = (x - cx) / wide, v = (y - cy) / high, r = u * u + v * v;
                if (r > 1) continue;
                const std::uint32_t above = portrait.row(static_cast<int>(cy - high - 1))[x],
                                    below = portrait.row(static_cast<int>(cy + high + 1))[x];
                const double part = std::min(1.0, 3 * (1 - r)), low = (v + 1) / 2;
                const double lash =
                    std::exp(-std::pow((v - 0.7 * std::sqrt(1 - u * u * 0.9)) * high / 0.9, 2)) *
                    (std::abs(u) < 0.85 ? 0.8 : 0);
                const auto mixed = [&](int a, int b, int before, int dark) {
                    const double lid = a * (1 - low) + b * low;
                    const double skin = before * (1 - part) + lid * part;
                    return static_cast<int>(skin * (1 - lash) + dark * lash + 0.5);
                };
                const std::uint32_t p = out.row(y)[x];
                out.row(y)[x] = packed(mixed(redOf(above), redOf(below), redOf(p), 60),
                                       mixed(greenOf(above), greenOf(below), greenOf(p), 40),
                                       mixed(blueOf(above), blueOf(below), blueOf(p), 30), 255);
            }
    return out;
}

Straight8 scaledBy(const Straight8& picture, double by, int brighter) {
    const PixelSize size{static_cast<int>(picture.width() * by),
                         static_cast<int>(picture.height() * by)};
    const Straight8 scaled =
        rounded8(resampled(std::make_shared<const Straight8>(picture.clone()), true,
                           RealRect::of(picture.size()), RealRect::of(size), PixelRect::of(size)));
    return test::painted(size, [&](int x, int y) {
        const std::uint32_t p = scaled.row(y)[x];
        const auto code = [&](int v) { return std::clamp(v + brighter, 0, 255); };
        return packed(code(redOf(p)), code(greenOf(p)), code(blueOf(p)), 255);
    });
}

Straight8 mirrored(const Straight8& picture) {
    return test::painted(picture.size(),
                         [&](int x, int y) { return picture.row(y)[picture.width() - 1 - x]; });
}

Straight8 portrait() {
    return pictureOf({"photos", "astronaut", corpusFolder() / "photos/astronaut.png"});
}

TEST(Eyes, ClosedOnesAreToldAndOpenOnesAreNot) {
    const Straight8 open = portrait(), closed = withLids(open);
    int all = 0, none = 0, seen = 0;
    for (const double by : {0.7, 1.0, 2.0})
        for (const int brighter : {-30, 0, 25})
            for (const bool turned : {false, true}) {
                ++all;
                const auto eyesIn = [&](const Straight8& picture) {
                    const Straight8 made =
                        scaledBy(turned ? mirrored(picture) : picture.clone(), by, brighter);
                    const auto faces = facesIn(made);
                    return faces.empty() ? OpenEyes::unknown : openEyesOf(made, faces.front());
                };
                none += eyesIn(closed) == OpenEyes::none;
                seen += eyesIn(open) == OpenEyes::seen;
            }
    row(fmt::format("of {} portraits, open eyes seen; none where lids are drawn over them", all),
        fmt::format("{}; {}", seen, none), "all; all");
    EXPECT_GE(seen, all - 1);
    EXPECT_GE(none, all - 1);
}

// A portrait panned over that blinks: closed in the frames that `blinks` names.
Path film(const Path& file, const Straight8& open, const Straight8& closed,
          const std::function<bool(int)>& blinks) {
    constexpr PixelSize frame{640, 360};
    const auto large = [&](const Straight8& picture) { return scaledBy(picture, 1.6, 0); };
    const Straight8 wide = large(open), shut = large(closed);
    return test::clipOf(file, frame, 100, [&](int n) {
        const Straight8& from = blinks(n) ? shut : wide;
        Straight8 out(frame);
        for (int y = 0; y < frame.height; ++y)
            std::copy_n(from.row(y + 5) + n, frame.width, out.row(y));
        return out;
    });
}

bool saysClosed(const Candidate& one) {
    return std::ranges::any_of(
        one.reasons, [](const std::string& reason) { return reason == "the eyes are closed"; });
}

TEST(Eyes, ABlinkIsNotProposedForItsMerit) {
    const Straight8 open = portrait(), closed = withLids(open);
    const test::Folder folder;
    // Eight frames in twenty are open, so that most of what is looked at is shut.
    const auto blinks = [](int n) { return n % 20 >= 8; };
    Video video = test::good(Video::open(film(folder / "b.mp4", open, closed, blinks)));
    int shut = 0, told = 0, others = 0;
    for (const Candidate& one : test::good(candidatesOf(video, 6))) {
        shut += blinks(static_cast<int>(one.number));
        told += blinks(static_cast<int>(one.number)) && saysClosed(one);
        others +=
            one.reasons.size() > 1 && !saysClosed(one) && blinks(static_cast<int>(one.number));
    }
    row("frames with closed eyes proposed from a film that blinks; of them told",
        fmt::format("{}; {}", shut, told), "few; all");
    EXPECT_GT(shut, 0) << "the thirds are shut";
    EXPECT_EQ(told, shut);
    EXPECT_EQ(others, 0);
}

}  // namespace
}  // namespace zl::truth
