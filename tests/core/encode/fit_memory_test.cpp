// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "encode/fit_memory.h"
#include "support/support.h"

namespace zl {
namespace {

// How often a search told of its progress: one that is not made tells nothing.
struct Asked {
    int told = 0;
    Result<Fitted> fit(const Straight8& frame, const FitOptions& options) {
        told = 0;
        return fitOnce(frame, options, {}, [this](double) { ++told; });
    }
};

TEST(FitMemory, TheSameFrameIsSearchedOnceAndAnyOtherAnew) {
    const Straight8 frame = test::textured({120, 80});
    const FitOptions options{{Content::jpeg, Content::png}, 6'000, {}, {}};
    const Fitted plain = test::good(fitToLimit(frame, options));
    Asked asked;
    EXPECT_EQ(test::good(asked.fit(frame, options)).bytes, plain.bytes);
    EXPECT_GT(asked.told, 0);
    // The same pixels, though they stand elsewhere.
    const Straight8 twin = frame.clone();
    const Fitted again = test::good(asked.fit(twin, options));
    EXPECT_EQ(asked.told, 0);
    EXPECT_EQ(again.bytes, plain.bytes);
    EXPECT_EQ(again.encoding, plain.encoding);
    EXPECT_EQ(again.tried.size(), plain.tried.size());

    FitOptions smaller = options;
    smaller.limit = 3'000;
    EXPECT_LE(test::good(asked.fit(frame, smaller)).bytes.size(), 3'000u);
    EXPECT_GT(asked.told, 0);
    FitOptions matted = options;
    matted.matte = Colour{10, 20, 30, 255};
    ASSERT_TRUE(asked.fit(frame, matted));
    EXPECT_GT(asked.told, 0);
    Straight8 changed = frame.clone();
    changed.row(79)[119] ^= 1;
    ASSERT_TRUE(asked.fit(changed, options));
    EXPECT_GT(asked.told, 0);
    // The same bytes of pixels in another shape.
    Straight8 turned(PixelSize{80, 120});
    std::copy(frame.row(0), frame.row(0) + 120 * 80, turned.row(0));
    ASSERT_TRUE(asked.fit(turned, options));
    EXPECT_GT(asked.told, 0);
}

TEST(FitMemory, WhatDidNotEndIsNotKept) {
    const Straight8 frame = test::textured({121, 80});
    const FitOptions options{{Content::jpeg}, 6'000, {}, {}};
    std::stop_source stop;
    stop.request_stop();
    const auto cancelled = fitOnce(frame, options, stop.get_token());
    ASSERT_FALSE(cancelled);
    EXPECT_EQ(cancelled.error().code, Code::cancelled);
    EXPECT_TRUE(fitOnce(frame, options));
    const FitOptions never{{Content::jpeg}, 20, {}, {}};
    EXPECT_EQ(fitOnce(frame, never).error().code, Code::limitNotMet);
}

}  // namespace
}  // namespace zl
