// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "core/support/demo.h"
#include "demo/demo_kit.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "support/support.h"
#include "words/words.h"

namespace zl::test {
namespace {

TEST(DemoKit, GoodPiecesPassAndEachFaultyOneIsMendedByItsOwnMends) {
    Kit kit = demoKit();
    InkStore store;
    for (const char* good : {"overlay", "banner", "header", "page-background"}) {
        const auto read = readPiece({*kit.piece(good), kit}, *briefs().find(kit.piece(good)->brief),
                                    store, Weighing::exact);
        ASSERT_TRUE(read);
        for (const Reading& reading : read->readings)
            EXPECT_NE(reading.verdict, Verdict::fail) << good << ": " << english(reading.says);
    }
    for (const char* faulty : {"overlay-crowded", "banner-wide", "header-tangled"}) {
        const Brief& brief = *briefs().find(kit.piece(faulty)->brief);
        bool failed = false;
        for (int round = 0; round < 6; ++round) {
            const auto read = readPiece({*kit.piece(faulty), kit}, brief, store, Weighing::exact);
            ASSERT_TRUE(read);
            std::string next;
            for (const Reading& reading : read->readings)
                if (reading.verdict == Verdict::fail) {
                    failed = true;
                    ASSERT_FALSE(reading.mends.empty()) << faulty << ": " << english(reading.says);
                    if (next.empty()) next = reading.mends.front();
                }
            if (next.empty()) break;
            ASSERT_LT(round, 5) << faulty;
            auto better = mended(next, kit, faulty, brief, store);
            ASSERT_TRUE(better) << faulty << ": " << next << ": " << better.error().sentence();
            kit = std::move(*better);
        }
        EXPECT_TRUE(failed) << faulty;
    }
}

}  // namespace
}  // namespace zl::test
