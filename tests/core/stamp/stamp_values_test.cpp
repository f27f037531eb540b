// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/stamp_values.h"

#include "base/json.h"
#include "store/stamp_json.h"
#include "support/support.h"

namespace zl {
namespace {

using test::bytesOf;
using test::good;

Stamp full() {
    Stamp stamp;
    stamp.name = "Everything";
    StampText text;
    text.letters.text = "© {year}";
    text.letters.align = Align::right;
    text.finishes = {outlineOf(3, {1, 2, 3, 255})};
    stamp.what = text;
    stamp.twin = StampPiece{"house.zlkit", "logo-dark"};
    stamp.placing.centre = RealPoint{0.25, 0.75};
    stamp.placing.insetX = {12.5, false};
    stamp.placing.of = StampOf::width;
    stamp.upright = StampPlacing{};
    stamp.upright->size = StampSize::inside;
    stamp.corners = {StampAt::topLeft, StampAt::bottom};
    stamp.least = 80;
    stamp.most = 1200;
    stamp.leastCapitals = 9.5;
    stamp.opacity = 0.4;
    stamp.turn = -30;
    stamp.tiled = Length{50, true};
    stamp.author = "A";
    stamp.rights = "B";
    stamp.address = "https://example.org/";
    return stamp;
}

TEST(StampJson, WhatIsWrittenIsReadAgain) {
    for (const Stamp& stamp : {full(), exampleStamp()})
        EXPECT_EQ(good(parseStamp(bytesOf(written(jsonOf(stamp))), "r.json")), stamp);
}

TEST(StampJson, WhatIsNotSaidIsAsUsual) {
    const Stamp stamp =
        good(parseStamp(bytesOf(R"({"format": 1, "what": {"picture": "mark.png"}})"), "r.json"));
    EXPECT_EQ(stamp.placing, StampPlacing{});
    EXPECT_EQ(std::get<StampPicture>(stamp.what).file, "mark.png");
    EXPECT_EQ(stamp.opacity, 1);
}

TEST(StampJson, LengthsArePxOrPercentages) {
    const Stamp stamp = good(
        parseStamp(bytesOf(R"({"format": 1, "what": {"picture": "m.png"}, "inset": [24, "2.5%"],
                    "width": 300, "of": "px"})"),
                   "r.json"));
    EXPECT_EQ(stamp.placing.insetX, (Length{24, false}));
    EXPECT_EQ(stamp.placing.insetY, (Length{2.5, true}));
    EXPECT_EQ(stamp.placing.width, (Length{300, false}));
    EXPECT_EQ(stamp.placing.of, StampOf::px);
}

TEST(StampJson, WhatIsWrongIsRefusedWithItsName) {
    const std::pair<const char*, const char*> cases[]{
        {R"({"format": 2, "what": {"text": "x"}})", "newer format"},
        {R"({"format": 1, "what": {"text": "x"}, "colour": "#FFFFFF"})", "colour"},
        {R"({"format": 1, "what": {}})", "one of three"},
        {R"({"format": 1, "what": {"text": "x", "picture": "y"}})", "one of three"},
        {R"({"format": 1, "what": {"picture": "y", "caps": true}})", "caps"},
        {R"({"format": 1, "what": {"text": "x"}, "at": "middle"})", "middle"},
        {R"({"format": 1, "what": {"text": "x"}, "width": "30 pct"})", "30 pct"},
        {R"({"format": 1, "what": {"text": "x"}, "width": "30%", "of": "px"})", "px"},
        {R"({"format": 1, "what": {"text": "x"}, "width": -5})", "width"},
        {R"({"format": 1, "what": {"text": "x"}, "opacity": 3})", "opacity"},
        {R"({"format": 1, "what": {"text": "x"}, "least": 500, "most": 100})", "least"},
        {R"([1, 2])", "r.json"},
        {R"({"format": 1, "what": )", "r.json"},
    };
    for (const auto& [json, word] : cases) {
        const auto stamp = parseStamp(bytesOf(json), "r.json");
        ASSERT_FALSE(stamp) << json;
        EXPECT_EQ(stamp.error().code, Code::unreadable) << json;
        EXPECT_NE(stamp.error().sentence().find(word), std::string::npos)
            << stamp.error().sentence();
    }
}

}  // namespace
}  // namespace zl
