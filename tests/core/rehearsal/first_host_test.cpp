// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/support/released.h"
#include "picture/decode.h"
#include "raster/resample.h"
#include "rehearsal/host.h"
#include "rehearsal/surfaces.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(Host, TakesWhatMeetsTheBriefAndKeepsItUntilTheNext) {
    const test::Folder folder;
    StandInHost host(folder.path());
    const Bytes fine = test::png(test::textured({1280, 720}));
    const HostAnswer answer =
        good(host.handOver(fine, "whatever.txt", "p", test::brief("video-thumbnail")));
    EXPECT_TRUE(answer.accepted);
    EXPECT_TRUE(answer.reasons().empty());
    EXPECT_EQ(good(readFile(answer.kept)), fine);
    const Bytes photo = test::jpeg(test::textured({1280, 720}));
    EXPECT_TRUE(good(host.handOver(photo, "b.jpg", "p", test::brief("video-thumbnail"))).accepted);
    EXPECT_EQ(good(readFile(*host.accepted("p"))), photo) << "the last one stands";
    EXPECT_FALSE(host.accepted("other"));
}

TEST(Host, KeepsADraftAndWhatIsPublishedApart) {
    const test::Folder folder;
    StandInHost host(folder.path());
    const Brief& brief = test::brief("video-thumbnail");
    EXPECT_EQ(host.state("p"), HostState::nothing);
    EXPECT_EQ(host.publish("p", brief).error().code, Code::badUsage);
    const Bytes first = test::png(test::textured({1280, 720})),
                second = test::jpeg(test::textured({1280, 720}, 9));
    ASSERT_TRUE(host.handOver(first, "a.png", "p", brief));
    EXPECT_EQ(host.state("p"), HostState::draft);
    EXPECT_FALSE(host.published("p"));
    ASSERT_TRUE(host.publish("p", brief));
    EXPECT_EQ(host.state("p"), HostState::published);
    EXPECT_EQ(good(readFile(*host.published("p"))), first);
    for (const SurfaceSpec& surface : brief.surfaces) {
        const Picture copy = good(
            decode(good(readFile(folder / ("p/display-" + std::to_string(surface.width) + ".jpg"))),
                   "copy"));
        EXPECT_EQ(copy.facts.size.width, surface.width) << "recompressed to its display sizes";
    }
    ASSERT_TRUE(host.handOver(second, "b.jpg", "p", brief));
    EXPECT_EQ(host.state("p"), HostState::draftOverPublished);
    EXPECT_EQ(good(readFile(*host.published("p"))), first) << "the audience still sees the first";
    ASSERT_TRUE(host.publish("p", brief));
    EXPECT_EQ(good(readFile(*host.published("p"))), second) << "a replacement after publishing";
}

TEST(Host, RefusesWithReasonsAndChangesNothing) {
    const test::Folder folder;
    StandInHost host(folder.path());
    const auto refused = [&](const Bytes& bytes, const char* brief) {
        const HostAnswer answer = good(host.handOver(bytes, "x.png", "p", test::brief(brief)));
        EXPECT_FALSE(answer.accepted);
        EXPECT_TRUE(answer.kept.empty());
        return answer.reasons();
    };
    EXPECT_EQ(refused(test::png(test::textured({1920, 1200}, 0)), "video-thumbnail").size(), 1u)
        << "wrong shape";
    EXPECT_EQ(refused(test::png(test::noisy({1280, 720})), "video-thumbnail").size(), 1u)
        << "too heavy";
    EXPECT_EQ(refused(test::jpeg(test::textured({100, 150})), "corner-mark").size(), 1u)
        << "wrong shape; that it turns solid is only told";
    EXPECT_EQ(refused(test::bytesOf("GIF89a no picture at all......"), "video-thumbnail").size(),
              1u);
    EXPECT_EQ(refused({}, "video-thumbnail").size(), 1u);
    EXPECT_FALSE(host.accepted("p"));
}

TEST(Surfaces, ShowTheAcceptedFileAtTruePixels) {
    const auto picture = std::make_shared<const Straight8>(test::textured({1280, 720}));
    const auto surfaces =
        good(drawSurfaces(test::brief("video-thumbnail"), {1280, 720}, [&](int) { return picture; },
                          {"A title", "A channel", 599}));
    ASSERT_EQ(surfaces.size(), 11u) << "five in light and dark, the television in the dark";
    for (const Surface& surface : surfaces) {
        int width = 0;
        for (const SurfaceSpec& spec : test::brief("video-thumbnail").surfaces)
            if (spec.id == surface.spec) width = spec.width;
        EXPECT_EQ(surface.pieceRect.width(), width);
        EXPECT_NEAR(surface.pieceRect.height(), width * 9 / 16.0, 0.5);
        const PixelRect at = PixelRect::of(surface.pieceRect.size());
        const Straight8 exact = rounded8(
            resampled(picture, true, RealRect::of(picture->size()), RealRect::of(at.size()), at));
        int differing = 0;
        for (int y = 0; y < at.height(); ++y)
            for (int x = 0; x < at.width(); ++x)
                differing += exact.row(y)[x] != surface.picture.row(surface.pieceRect.top +
                                                                    y)[surface.pieceRect.left + x];
        // Only the length tab lies on it.
        EXPECT_LT(differing, at.size().count() / 12) << surface.id;
        EXPECT_GT(differing, 100) << surface.id << ": the tab is drawn";
    }
    EXPECT_TRUE(
        good(drawSurfaces(test::brief("free-frame"), {1280, 720}, [&](int) { return picture; }, {}))
            .empty());
}

}  // namespace
}  // namespace zl
