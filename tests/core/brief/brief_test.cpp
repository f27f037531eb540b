// SPDX-License-Identifier: GPL-3.0-or-later
#include <set>

#include "base/json.h"
#include "support/support.h"

namespace zl {
namespace {

Json schema() {
    return test::good(parseJson(
        test::good(readFile(test::good(dataFolder()) / "schema/brief.schema.json")), "schema"));
}

TEST(Briefs, AllShipWithProvenanceForEachNumber) {
    std::set<std::string> ids;
    for (const Brief& brief : test::briefs().all) {
        EXPECT_TRUE(ids.insert(brief.id).second) << brief.id;
        const OrderedJson whole = wholeOf(brief);
        for (const char* number : {"frame", "formats", "limit", "alpha"})
            EXPECT_FALSE(whole["provenance"][number].get<std::string>().empty());
        for (const auto& zone : whole["zones"])
            EXPECT_FALSE(zone["provenance"].get<std::string>().empty());
        for (const auto& surface : whole["surfaces"])
            EXPECT_FALSE(surface["provenance"].get<std::string>().empty());
    }
    EXPECT_EQ(ids.size(), 20u);
}

TEST(Briefs, HoldTheNumbersOfTheirTable) {
    const Brief& thumbnail = test::brief("video-thumbnail");
    EXPECT_EQ(thumbnail.frame, (PixelSize{1280, 720}));
    EXPECT_EQ(thumbnail.limit, 2'000'000);
    EXPECT_TRUE(thumbnail.multiples);
    EXPECT_TRUE(thumbnail.accepts("gif") && thumbnail.accepts("jpeg") && thumbnail.accepts("png"));
    EXPECT_FALSE(thumbnail.accepts("webp"));
    EXPECT_EQ(test::brief("corner-mark").alpha, AlphaDemand::seeThrough);
    EXPECT_EQ(test::brief("channel-banner").frameRule, FrameRule::minimum);
    EXPECT_EQ(test::brief("channel-banner").limit, 6'000'000);
    EXPECT_FALSE(test::brief("photo-proof").limit);
    // The banner's phone window: 1546 x 423, centred in 2560 x 1440.
    const auto& zones = test::brief("channel-banner").zones;
    const auto phone =
        std::find_if(zones.begin(), zones.end(), [](const Zone& z) { return z.id == "phone"; });
    ASSERT_NE(phone, zones.end());
    EXPECT_NEAR(phone->part.width * 2560, 1546, 1e-6);
    EXPECT_NEAR(phone->part.y * 1440, (1440 - 423) / 2.0, 1e-6);
}

TEST(Briefs, MovingOnesSayWhatTheyTake) {
    const Brief &card = test::brief("moving-card"), &loop = test::brief("overlay-loop"),
                &upright = test::brief("upright-clip");
    EXPECT_EQ(card.moving.formats, (std::vector<std::string>{"mp4", "webm"}));
    EXPECT_EQ(card.moving.limit, 50'000'000);
    EXPECT_EQ(loop.moving.formats, (std::vector<std::string>{"webm"}));
    EXPECT_EQ(loop.alpha, AlphaDemand::seeThrough);
    EXPECT_EQ(loop.moving.longest, 60);
    EXPECT_EQ(upright.frame, (PixelSize{1080, 1920}));
    EXPECT_EQ(upright.moving.longest, 60);
    for (const Brief* brief : {&card, &loop, &upright}) EXPECT_TRUE(brief->moving.loops);
    EXPECT_TRUE(test::brief("stream-card").moving.formats.empty()) << "it stands still";
    EXPECT_FALSE(test::brief("free-frame").moving.limit);
}

TEST(Briefs, ABadOneIsRefusedWithFileFieldAndReason) {
    const auto refuse = [&](const std::string& change, const std::string& to) {
        std::string text = test::textOf(
            test::good(readFile(test::good(dataFolder()) / "briefs/square-post.json")));
        const auto at = text.find(change);
        EXPECT_NE(at, std::string::npos);
        text.replace(at, change.size(), to);
        const auto brief = parseBrief(test::bytesOf(text), schema(), "mine.json");
        return brief ? std::string("accepted") : brief.error().what;
    };
    EXPECT_EQ(refuse("1080", "-5"), "mine.json is refused: frame.width: -5 is below 1.");
    EXPECT_NE(refuse("\"png\"", "\"exe\"").find("formats[0]"), std::string::npos);
    EXPECT_NE(refuse("8000000", "\"big\"").find("limit"), std::string::npos);
    EXPECT_NE(refuse("\"square-post\"", "\"../../up\"").find("id:"), std::string::npos);
    EXPECT_NE(refuse("{", "").find("not good JSON"), std::string::npos);
}

TEST(Briefs, APersonsOwnAreAddedAndABadOneHidesNoOther) {
    const test::Folder folder;
    std::filesystem::create_directories(folder / "briefs");
    std::string own =
        test::textOf(test::good(readFile(test::good(dataFolder()) / "briefs/square-post.json")));
    own.replace(own.find("square-post"), 11, "wall-poster");
    ASSERT_TRUE(writeFile(folder / "briefs/wall-poster.json", test::bytesOf(own), Replace::no));
    ASSERT_TRUE(writeFile(folder / "briefs/broken.json", test::bytesOf("{"), Replace::no));
    const Briefs all = test::good(loadBriefs(test::good(dataFolder()), folder.path()));
    EXPECT_EQ(all.all.size(), 21u);
    EXPECT_NE(all.find("wall-poster"), nullptr);
    ASSERT_EQ(all.refused.size(), 1u);
    EXPECT_NE(all.refused[0].what.find("broken.json"), std::string::npos);
}

TEST(Briefs, ShapesAreNamedAsTheTradeDoes) {
    EXPECT_EQ(shapeName({1280, 720}), "16:9");
    EXPECT_EQ(shapeName({150, 150}), "1:1");
    EXPECT_EQ(shapeName({1080, 1920}), "9:16");
    EXPECT_EQ(shapeName({970, 150}), "6.47:1");
}

}  // namespace
}  // namespace zl
