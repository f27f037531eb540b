// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/quality_search.h"

#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <random>

namespace zl {
namespace {

using Sizes = std::array<long long, 101>;  // bytes by quality; that of 0 is no quality's

struct Found {
    int best = 0, tries = 0;
};

Found searched(Content format, const Sizes& sizes, std::optional<long long> limit) {
    QualitySearch search(format, limit);
    Found found;
    while (const auto quality = search.next()) {
        EXPECT_TRUE(*quality >= 1 && *quality <= 100) << *quality;
        if (++found.tries > 100) break;
        search.seen(*quality, sizes[static_cast<std::size_t>(*quality)]);
    }
    found.best = search.best();
    return found;
}

int highest(const Sizes& sizes, long long limit) {
    int best = 0;
    for (int q = 1; q <= 100; ++q)
        if (sizes[static_cast<std::size_t>(q)] <= limit) best = q;
    return best;
}

// As a photograph's grow, by the scale of libjpeg's tables (jpeg_quality_scaling).
Sizes photograph(double atFifty, double power) {
    Sizes sizes{};
    for (int q = 1; q <= 100; ++q) {
        const double scale = q < 50 ? 5000.0 / q : std::max(1.0, 200.0 - 2 * q);
        sizes[static_cast<std::size_t>(q)] = std::llround(atFifty * std::pow(scale / 100, -power));
    }
    return sizes;
}

TEST(QualitySearch, OfAPhotographIsDoneInFiveTries) {
    int most = 0;
    for (const double power : {0.5, 0.65, 0.8, 0.95})
        for (const long long limit : {20'000LL, 60'000LL, 200'000LL, 600'000LL, 2'000'000LL}) {
            const Sizes sizes = photograph(100'000, power);
            const Found found = searched(Content::jpeg, sizes, limit);
            EXPECT_EQ(found.best, highest(sizes, limit)) << power << ' ' << limit;
            most = std::max(most, found.tries);
        }
    EXPECT_LE(most, 5);
}

TEST(QualitySearch, FindsTheHighestOfWhateverGrows) {
    std::mt19937 random(7);
    for (int round = 0; round < 400; ++round) {
        Sizes sizes{};
        std::geometric_distribution<long long> step(round % 2 ? 0.5 : 0.001);
        for (std::size_t q = 1; q <= 100; ++q) sizes[q] = sizes[q - 1] + step(random);
        const long long limit =
            std::uniform_int_distribution<long long>(0, sizes[100] + 10)(random);
        const Content format = round % 3 ? Content::jpeg : Content::webp;
        const Found found = searched(format, sizes, limit);
        EXPECT_EQ(found.best, highest(sizes, limit)) << round;
        EXPECT_LE(found.tries, 12) << round;
    }
}

TEST(QualitySearch, AtItsEndsAndWithoutALimit) {
    const Sizes sizes = photograph(100'000, 0.8);
    EXPECT_EQ(searched(Content::jpeg, sizes, sizes[1] - 1).best, 0);
    EXPECT_EQ(searched(Content::jpeg, sizes, 0).best, 0);
    EXPECT_EQ(searched(Content::jpeg, sizes, sizes[100]).best, 100);
    const Found unlimited = searched(Content::webp, sizes, {});
    EXPECT_EQ(unlimited.best, 100);
    EXPECT_EQ(unlimited.tries, 1);
}

}  // namespace
}  // namespace zl
