// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/kit_json.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

TEST(OlderKits, BringTheirOutlineAlong) {
    const Json json = Json::parse(
        R"({"id":1,"kind":"lettering","name":"n","hidden":false,"opacity":1,"at":[1,2],"text":"T",
        "family":"League Spartan","style":"Bold","size":50,"align":"left","colour":"#FFFFFF",
        "outline":{"px":6,"colour":"#102030"}})");
    Kit kit = test::kitWith("free-frame", {20, 20});
    OrderedJson whole = jsonOf(kit);
    whole["version"] = 2;
    whole["pieces"][0]["layers"].push_back(OrderedJson(json));
    const Kit back = good(kitFrom(Json(whole), "old"));
    EXPECT_EQ(back.pieces[0].layers[0].finishes, std::vector{outlineOf(6, {16, 32, 48, 255})});
}

TEST(OlderKits, BriefsGetTheirNamesOfToday) {
    Kit kit = test::kitWith("free-frame", {20, 20});
    OrderedJson whole = jsonOf(kit);
    whole["version"] = 5;
    whole["pieces"][0]["brief"] = "digital-prop";
    whole["pieces"][0]["slices"] = {
        {{"name", "a"}, {"place", {0, 0, 9, 9}}, {"brief", "digital-prop"}}};
    const Kit back = good(kitFrom(Json(whole), "old"));
    EXPECT_EQ(back.pieces[0].brief, "cut-out-object");
    EXPECT_EQ(back.pieces[0].slices.at(0).brief, "cut-out-object");
    EXPECT_EQ(jsonOf(back)["pieces"][0]["brief"], "cut-out-object");
}

}  // namespace
}  // namespace zl
