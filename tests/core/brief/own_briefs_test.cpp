// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "measure/measure.h"
#include "readings/alpha_sum.h"
#include "rehearsal/wall.h"
#include "support/support.h"

namespace zl::test {
namespace {

class OwnBriefs : public ::testing::Test {
  protected:
    Result<std::string> keep(const OrderedJson& json, Replace replace = Replace::yes) {
        return saveOwnBrief(json, good(dataFolder()), folder_.path(), replace);
    }
    Folder folder_;
    OrderedJson base_ = wholeOf(brief("square-post"));
};

TEST_F(OwnBriefs, AreKeptAndFoundAgain) {
    base_["id"] = "own-club-page";
    base_["title"] = "Club page";
    base_["zones"].push_back({{"id", "logo"},
                              {"title", "Logo"},
                              {"role", "keep-clear"},
                              {"rect", {0.0, 0.0, 0.2, 0.2}},
                              {"provenance", "seen there"}});
    EXPECT_EQ(good(keep(base_)), "own-club-page");
    const Briefs all = good(loadBriefs(good(dataFolder()), folder_.path()));
    const Brief* found = all.find("own-club-page");
    ASSERT_TRUE(found);
    EXPECT_EQ(found->zones.size(), 1u);
    EXPECT_EQ(wholeOf(*found)["zones"][0]["provenance"], "seen there");
    // Saved again it is changed, not doubled.
    base_["title"] = "Club page, new";
    const auto another = keep(base_, Replace::no);
    ASSERT_FALSE(another) << "it would take another one's place";
    EXPECT_NE(another.error().what.find("is called"), std::string::npos);
    EXPECT_EQ(good(loadBriefs(good(dataFolder()), folder_.path())).find("own-club-page")->title,
              "Club page");
    EXPECT_TRUE(keep(base_));
    EXPECT_EQ(good(loadBriefs(good(dataFolder()), folder_.path())).find("own-club-page")->title,
              "Club page, new");
}

TEST_F(OwnBriefs, WhatIsWrongIsToldAndNothingIsWritten) {
    const auto refused = [&](const std::function<void(OrderedJson&)>& spoil) {
        OrderedJson json = base_;
        json["id"] = "own-x";
        spoil(json);
        const auto kept = keep(json);
        EXPECT_FALSE(kept.has_value());
        EXPECT_FALSE(std::filesystem::exists(folder_ / "briefs"));
        return kept ? std::string() : kept.error().sentence();
    };
    const auto withZone = [](OrderedJson& json, std::array<double, 4> rect, const char* id = "z") {
        json["zones"].push_back({{"id", id},
                                 {"title", id},
                                 {"role", "keep-clear"},
                                 {"rect", rect},
                                 {"provenance", "mine"}});
    };
    EXPECT_NE(refused([](OrderedJson& json) { json["title"] = ""; }).find("title"),
              std::string::npos);
    EXPECT_NE(
        refused([](OrderedJson& json) { json["formats"] = OrderedJson::array(); }).find("formats"),
        std::string::npos);
    EXPECT_NE(refused([](OrderedJson& json) { json["frame"]["width"] = 0; }).find("width"),
              std::string::npos);
    EXPECT_NE(refused([](OrderedJson& json) { json["id"] = "video-thumbnail"; }).find("shipped"),
              std::string::npos);
    EXPECT_NE(refused([](OrderedJson& json) { json["surprise"] = 1; }).find("surprise"),
              std::string::npos);
    EXPECT_NE(refused([&](OrderedJson& json) {
                  withZone(json, {0.5, 0, 1.2, 1});
              }).find("past the frame"),
              std::string::npos);
    EXPECT_NE(refused([&](OrderedJson& json) {
                  withZone(json, {0.5, 0, 0.5, 1});
              }).find("no area"),
              std::string::npos);
    EXPECT_NE(refused([&](OrderedJson& json) {
                  withZone(json, {0, 0, 0.6, 1}, "a");
                  withZone(json, {0.5, 0, 1, 1}, "b");
              }).find("overlaps"),
              std::string::npos);
}

}  // namespace
}  // namespace zl::test
