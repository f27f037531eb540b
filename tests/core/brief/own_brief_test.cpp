// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "edit/edits.h"
#include "readings/zones.h"
#include "support/support.h"

namespace zl::test {
namespace {

// SMPTE ST 2046-1 and EBU R 95 print, for 1920 x 1080: safe action 93 % and safe title 90 % of
// width and height, centred; numbers from memory.
TEST(SafeAreas, AreWhereTheStandardsPutThem) {
    for (const char* id : {"stream-overlay", "stream-card"}) {
        const Brief& brief = *briefs().find(id);
        const RealRect action = inFrame(*brief.zone("safe-action"), {1920, 1080}),
                       title = inFrame(*brief.zone("safe-title"), {1920, 1080});
        EXPECT_NEAR(action.x, 67.2, 1e-9);
        EXPECT_NEAR(action.y, 37.8, 1e-9);
        EXPECT_NEAR(action.width, 1785.6, 1e-9);
        EXPECT_NEAR(action.height, 1004.4, 1e-9);
        EXPECT_NEAR(title.x, 96, 1e-9);
        EXPECT_NEAR(title.y, 54, 1e-9);
        EXPECT_NEAR(title.width, 1728, 1e-9);
        EXPECT_NEAR(title.height, 972, 1e-9);
    }
}

TEST(OwnBrief, ZonesOutsideEmptyOrOverlappingAreRefusedWithAReason) {
    const auto zone = [](const char* id, ZoneRole role, RealRect part) {
        Zone made;
        made.id = id;
        made.title = id;
        made.role = role;
        made.part = part;
        return made;
    };
    const auto why = [](const std::vector<Zone>& zones) {
        const auto good = checkZones(zones);
        return good ? std::string() : good.error().what;
    };
    EXPECT_EQ(why({zone("a", ZoneRole::keepClear, {0, 0, 0.5, 1}),
                   zone("b", ZoneRole::keepClear, {0.5, 0, 0.5, 1})}),
              "");
    EXPECT_NE(why({zone("a", ZoneRole::visible, {0.5, 0, 0.6, 1})}).find("reaches past the frame"),
              std::string::npos);
    EXPECT_NE(why({zone("a", ZoneRole::visible, {0.5, 0, 0, 1})}).find("has no area"),
              std::string::npos);
    EXPECT_NE(why({zone("a", ZoneRole::keepClear, {0, 0, 0.6, 1}),
                   zone("b", ZoneRole::keepClear, {0.5, 0, 0.5, 1})})
                  .find("overlaps"),
              std::string::npos);
    EXPECT_EQ(why({zone("a", ZoneRole::visible, {0, 0, 1, 1}),
                   zone("b", ZoneRole::visible, {0.2, 0, 0.5, 1})}),
              "");  // devices nest
    EXPECT_NE(why({zone("a", ZoneRole::visible, {0, 0, 1, 1}),
                   zone("a", ZoneRole::keepInside, {0, 0, 1, 1})})
                  .find("id of another"),
              std::string::npos);
}

}  // namespace
}  // namespace zl::test
