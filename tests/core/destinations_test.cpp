// SPDX-License-Identifier: GPL-3.0-or-later
// Destinations: surfaces of every brief, the player, link regions, slices, pieces laid out for
// other places.
#include <gtest/gtest.h>

#include <rapidcheck.h>

#include "demo/demo_kit.h"
#include "edit/arrange.h"
#include "edit/edits.h"
#include "layout/lay_out.h"
#include "links/links.h"
#include "measure/measure.h"
#include "mend/mend.h"
#include "raster/footage.h"
#include "readings/zones.h"
#include "rehearsal/programme.h"
#include "rehearsal/wall.h"
#include "release/release.h"
#include "report/report.h"
#include "store/kit_file.h"
#include "support/support.h"
#include "words/words.h"

namespace zl::test {
namespace {

const Kit& demoKit() {
    static const Kit kit = demo::makeDemoKit().value().kit;
    return kit;
}

CopyOfWidth showing(const Straight8& picture) {
    auto kept = std::make_shared<const Straight8>(picture.clone());
    return [kept](int) { return kept; };
}

Straight8 flat(PixelSize size, std::uint32_t colour) {
    return Straight8::cleared(size, colour);
}

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

// The device windows of data/briefs: 2560 x 423, 1855 x 423, 1546 x 423 px, centred (from memory).
TEST(BannerWindows, AreCentredAndAsLargeAsTheBriefSays) {
    const Brief& brief = *briefs().find("channel-banner");
    for (const auto& [id, width] :
         {std::pair("desktop", 2560.0), std::pair("tablet", 1855.0), std::pair("phone", 1546.0)}) {
        const RealRect r = inFrame(*brief.zone(id), {2560, 1440});
        EXPECT_NEAR(r.width, width, 0.51) << id;
        EXPECT_NEAR(r.height, 423, 0.51) << id;
        EXPECT_NEAR(r.centre().x, 1280, 0.01) << id;
        EXPECT_NEAR(r.centre().y, 720, 0.01) << id;
    }
}

TEST(Sights, EveryBriefWithSurfacesDrawsThemAllAtTheirWidth) {
    int drawn = 0;
    for (const Brief& brief : briefs().all) {
        if (brief.surfaces.empty()) {
            EXPECT_EQ(brief.id, "free-frame");
            continue;
        }
        const Straight8 picture = flat(brief.frame, packed(200, 40, 40, 255));
        const auto surfaces = drawSurfaces(brief, picture.size(), showing(picture), {});
        ASSERT_TRUE(surfaces.has_value()) << brief.id;
        std::set<std::string> specs, ids;
        for (const Surface& s : *surfaces) {
            specs.insert(s.spec);
            EXPECT_TRUE(ids.insert(s.id).second) << s.id;
            EXPECT_FALSE(s.pieceRect.empty()) << s.id;
            EXPECT_EQ(s.pieceRect.intersected(PixelRect::of(s.picture.size())), s.pieceRect)
                << s.id;
            // What was handed over is what stands there.
            const int x = (s.pieceRect.left + s.pieceRect.right) / 2,
                      y = (s.pieceRect.top + 2 * s.pieceRect.bottom) / 3;
            EXPECT_EQ(s.picture.row(y)[x], packed(200, 40, 40, 255)) << s.id;
            ++drawn;
        }
        EXPECT_EQ(specs.size(), brief.surfaces.size()) << brief.id;
    }
    EXPECT_GT(drawn, 40);
}

// Hand-worked from data/briefs: 640 wide is 360 high; 360 / 12 = 30; 2.5 % of 360 is 9; 360 - 48 -
// 9 - 30 = 273.
TEST(Player, TheMarkStandsWhereTheBriefSays) {
    const PlayerPlan small = playerPlan(640, {150, 150});
    EXPECT_EQ(small.player, (PixelSize{640, 360}));
    EXPECT_EQ(small.mark, (PixelRect{601, 273, 631, 303}));
    const PlayerPlan large = playerPlan(1280, {150, 150});
    EXPECT_EQ(large.mark, (PixelRect{1202, 594, 1262, 654}));
    // Never lower than 24 px; a button mark keeps its shape.
    EXPECT_EQ(playerPlan(320, {150, 150}).mark.height(), 24);
    EXPECT_EQ(playerPlan(1280, {300, 100}).mark.width(), 180);
}

TEST(Player, ShowsTheMarkThroughoutFromASecondOrWhenItCloses) {
    EXPECT_TRUE(isShown({}, 0, 845));
    const Showing late{Showing::When::from, 30}, closing{Showing::When::closing, 0};
    EXPECT_FALSE(isShown(late, 29.9, 845));
    EXPECT_TRUE(isShown(late, 30, 845));
    EXPECT_FALSE(isShown(closing, 829, 845));
    EXPECT_TRUE(isShown(closing, 830, 845));
    EXPECT_EQ(parseShowing("from:12.5").value(), (Showing{Showing::When::from, 12.5}));
    for (const char* bad : {"", "from:", "from:-1", "from:x", "from:nan", "sometimes", "from:1s"})
        EXPECT_FALSE(parseShowing(bad)) << bad;
    const auto tooLate = checkShowing({Showing::When::from, 900}, 845);
    ASSERT_FALSE(tooLate);
    EXPECT_EQ(tooLate.error().code, Code::badUsage);
    EXPECT_NE(tooLate.error().what.find("14:05"), std::string::npos);
    EXPECT_TRUE(checkShowing({Showing::When::from, 844}, 845));
}

TEST(Player, ReadsAndWritesClocks) {
    EXPECT_EQ(clockWords(845), "14:05");
    EXPECT_EQ(clockWords(3723), "1:02:03");
    EXPECT_EQ(parseClock("14:05").value(), 845);
    EXPECT_EQ(parseClock("1:02:03").value(), 3723);
    EXPECT_EQ(parseClock("90").value(), 90);
    for (const char* bad : {"", "0", "0:00", "1:75", "a", "1:2:3:4", "-5", ":30", "5:"})
        EXPECT_FALSE(parseClock(bad)) << bad;
}

// Over the shipped footage, in double precision from the same two pictures: at most one code value.
TEST(Player, TheMarkIsCompositedAsDoublePrecisionWould) {
    const Brief& brief = *briefs().find("corner-mark");
    Straight8 mark({30, 30});
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 30; ++x)
            mark.row(y)[x] = packed(8 * x, 255 - 8 * y, 90, x * y * 255 / 841);
    Posted posted;
    const auto surfaces = drawSurfaces(brief, {30, 30}, showing(mark), posted);
    ASSERT_TRUE(surfaces);
    int checked = 0;
    for (const Surface& s : *surfaces) {
        if (s.spec != "player-640") continue;
        const std::string footage = s.id.substr(s.id.rfind('-') + 1);
        const auto behind = stillFootage(footage, {640, 360});
        for (int y = 0; y < 30; ++y)
            for (int x = 0; x < 30; ++x) {
                const std::uint32_t m = mark.row(y)[x],
                                    b = behind->row(s.pieceRect.top + y)[s.pieceRect.left + x],
                                    got = s.picture.row(s.pieceRect.top + y)[s.pieceRect.left + x];
                const double a = alphaOf(m) / 255.0;
                EXPECT_NEAR(redOf(got), redOf(m) * a + redOf(b) * (1 - a), 1.0);
                EXPECT_NEAR(greenOf(got), greenOf(m) * a + greenOf(b) * (1 - a), 1.0);
                EXPECT_NEAR(blueOf(got), blueOf(m) * a + blueOf(b) * (1 - a), 1.0);
                ++checked;
            }
    }
    EXPECT_EQ(checked, 3 * 900);
}

TEST(Player, BeforeTheMarkShowsThereIsOnlyFootage) {
    const Brief& brief = *briefs().find("corner-mark");
    const Straight8 mark = flat({150, 150}, packed(255, 0, 0, 255));
    Posted posted;
    posted.showing = {Showing::When::from, 30};
    const auto surfaces = drawSurfaces(brief, mark.size(), showing(mark), posted);
    ASSERT_TRUE(surfaces);
    std::map<std::string, const Surface*> byId;
    for (const Surface& s : *surfaces) byId[s.id] = &s;
    ASSERT_TRUE(byId.contains("player-640-light-before") &&
                byId.contains("player-640-light-after"));
    const PixelRect at = byId["player-640-light-after"]->pieceRect;
    EXPECT_EQ(byId["player-640-light-after"]->picture.row(at.top + 5)[at.left + 5],
              packed(255, 0, 0, 255));
    EXPECT_EQ(byId["player-640-light-before"]->picture.row(at.top + 5)[at.left + 5],
              stillFootage("light", {640, 360})->row(at.top + 5)[at.left + 5]);
}

TEST(Programme, MovesAndIsTheSameEachTime) {
    for (const char* footage : {"desktop", "game", "room"}) {
        const Straight8 one = programmeAt(footage, {320, 180}, 2),
                        same = programmeAt(footage, {320, 180}, 2),
                        later = programmeAt(footage, {320, 180}, 2.6);
        long long moved = 0, differ = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x) {
                moved += one.row(y)[x] != later.row(y)[x];
                differ += one.row(y)[x] != same.row(y)[x];
            }
        EXPECT_EQ(differ, 0) << footage;
        EXPECT_GT(moved, 100) << footage;
    }
    // Slow, fast: how much changes in a tenth of a second.
    const auto changes = [](const char* footage) {
        const Straight8 a = programmeAt(footage, {320, 180}, 3),
                        b = programmeAt(footage, {320, 180}, 3.1);
        long long n = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x)
                n += std::abs(greenOf(a.row(y)[x]) - greenOf(b.row(y)[x]));
        return n;
    };
    EXPECT_GT(changes("game"), 2 * changes("desktop"));
}

TEST(Programme, WhatItHidesIsHatchedAndTheRestRunsOn) {
    const Brief& brief = *briefs().find("stream-overlay");
    Straight8 overlay = Straight8::cleared({1280, 720}, 0);
    for (int y = 600; y < 700; ++y)
        for (int x = 0; x < 640; ++x) overlay.row(y)[x] = packed(10, 10, 10, 255);
    Posted posted;
    posted.hides = true;
    const auto surfaces = drawSurfaces(brief, overlay.size(), showing(overlay), posted);
    ASSERT_TRUE(surfaces);
    const Surface& desk = surfaces->front();
    ASSERT_EQ(desk.id, "programme-desktop");
    const Straight8 running = programmeAt("desktop", {1280, 720}, 2);
    EXPECT_EQ(desk.picture.row(300)[300], running.row(300)[300]);
    EXPECT_NE(desk.picture.row(650)[300], running.row(650)[300]);
    EXPECT_NE(desk.picture.row(650)[300], packed(10, 10, 10, 255));
}

TEST(ChannelPage, EachDeviceShowsItsOwnPartOfTheBanner) {
    const Brief& brief = *briefs().find("channel-banner");
    // Blue outside of the phone's window, red inside it.
    Straight8 banner = flat({2560, 1440}, packed(0, 0, 255, 255));
    for (int y = 509; y < 931; ++y)
        for (int x = 508; x < 2052; ++x) banner.row(y)[x] = packed(255, 0, 0, 255);
    const auto surfaces = drawSurfaces(brief, banner.size(), showing(banner), {});
    ASSERT_TRUE(surfaces);
    for (const Surface& s : *surfaces) {
        const int middle = (s.pieceRect.top + s.pieceRect.bottom) / 2;
        const std::uint32_t edge = s.picture.row(middle)[s.pieceRect.left + 4];
        EXPECT_EQ(edge, s.spec == "channel-phone" ? packed(255, 0, 0, 255) : packed(0, 0, 255, 255))
            << s.id;
        EXPECT_EQ(s.picture.row(middle)[s.pieceRect.left + s.pieceRect.width() / 2],
                  packed(255, 0, 0, 255))
            << s.id;
        EXPECT_NEAR(static_cast<double>(s.pieceRect.width()) / s.pieceRect.height(),
                    s.spec == "channel-television" ? 16.0 / 9
                    : s.spec == "channel-desktop"  ? 2560.0 / 423
                    : s.spec == "channel-tablet"   ? 1855.0 / 423
                                                   : 1546.0 / 423,
                    0.04)
            << s.id;
    }
}

TEST(Addresses, OnlyWellFormedHttpLeadsOn) {
    for (const char* good :
         {"https://example.org", "http://example.org/a?b=c&d=1#e", "https://example.org:8080/x",
          "HTTPS://Example.org/", "https://bücher.example/"})
        EXPECT_TRUE(checkAddress(good)) << good;
    for (const char* bad :
         {"", "example.org", "www.example.org/films", "javascript:alert(1)", "data:text/html,x",
          "https://", "https:///x", "https:example.org", "https://a b.org",
          "https://example.org/\"onclick=\"x", "https://example.org/<script>", "ftp://example.org",
          "https://.org", "https://a..b", "https://example.org:99999", "https://example.org:",
          "https://user@example.org", "https://example.org/\n", "example.org:8080/x"})
        EXPECT_FALSE(checkAddress(bad)) << bad;
}

Piece headed(std::vector<LinkRegion> links) {
    Piece piece{"head", "Head", "page-header", {970, 150}, {"head"}, {}};
    piece.links = std::move(links);
    return piece;
}

Reading linksOf(const Piece& piece) {
    Subject subject;
    const Straight8 pixels(piece.frame);
    subject.brief = briefs().find("page-header");
    subject.pixels = &pixels;
    subject.piece = &piece;
    return measureLinks(subject);
}

TEST(Links, EachFaultIsNamedAndPutRight) {
    EXPECT_EQ(linksOf(headed({})).verdict, Verdict::notMeasured);
    EXPECT_EQ(linksOf(headed({{{10, 10, 34, 34}, "https://example.org", "a"}})).verdict,
              Verdict::pass);  // 24 x 24 just can be hit
    const std::pair<const char*, std::vector<LinkRegion>> faults[] = {
        {"links.small", {{{10, 10, 33, 40}, "https://example.org", "a"}}},
        {"links.outside", {{{950, 10, 990, 50}, "https://example.org", "a"}}},
        {"links.overlap",
         {{{10, 10, 60, 60}, "https://example.org", "a"},
          {{50, 50, 90, 90}, "https://example.org", "b"}}},
        {"links.address", {{{10, 10, 60, 60}, "example.org/films", "a"}}}};
    for (const auto& [id, links] : faults) {
        const Piece piece = headed(links);
        const Reading reading = linksOf(piece);
        EXPECT_EQ(reading.verdict, Verdict::fail) << id;
        ASSERT_EQ(reading.findings.size(), 1u) << id;
        EXPECT_EQ(reading.findings.front().says.id, id);
        ASSERT_TRUE(reading.findings.front().rect) << id;
        Kit kit;
        kit.pieces = {piece};
        InkStore store;
        const auto right =
            mended("put-links-right", kit, "head", *briefs().find("page-header"), store);
        ASSERT_TRUE(right) << id;
        EXPECT_EQ(linksOf(right->pieces.front()).verdict, Verdict::pass) << id;
    }
    // A region that only touches the next is none that overlaps it.
    EXPECT_EQ(linksOf(headed({{{10, 10, 60, 60}, "https://example.org", "a"},
                              {{60, 10, 90, 60}, "https://example.org", "b"}}))
                  .verdict,
              Verdict::pass);
    // Script is never mended into an address.
    const Piece script = headed({{{10, 10, 60, 60}, "javascript:alert(1)", "a"}});
    Kit kit;
    kit.pieces = {script};
    InkStore store;
    EXPECT_FALSE(mended("put-links-right", kit, "head", *briefs().find("page-header"), store));
}

TEST(Links, MendingPutsAnyTangleApart) {
    rc::check("regions end inside, apart and large enough", [] {
        std::vector<LinkRegion> links;
        const int n = *rc::gen::inRange(1, 5);
        for (int i = 0; i < n; ++i) {
            const int x = *rc::gen::inRange(-60, 960), y = *rc::gen::inRange(-30, 140);
            links.push_back({{x, y, x + *rc::gen::inRange(2, 160), y + *rc::gen::inRange(2, 60)},
                             "https://example.org",
                             std::to_string(i)});
        }
        Kit kit;
        kit.pieces = {headed(links)};
        if (linksOf(kit.pieces.front()).verdict == Verdict::pass) return;
        InkStore store;
        const auto right =
            mended("put-links-right", kit, "head", *briefs().find("page-header"), store);
        RC_ASSERT(right.has_value());
        RC_ASSERT(linksOf(right->pieces.front()).verdict == Verdict::pass);
        RC_ASSERT(right->pieces.front().links.size() == links.size());
    });
}

TEST(ImageMap, EscapesWhatStandsInItAndRefusesScript) {
    const auto html =
        imageMap({{{1, 2, 30, 40}, "https://example.org/?a=1&b='2'", "<b>\"Films\" & more</b>"}},
                 {970, 150}, "head.png", "A & B");
    ASSERT_TRUE(html);
    EXPECT_NE(html->find("coords=\"1,2,30,40\""), std::string::npos);
    EXPECT_NE(html->find("https://example.org/?a=1&amp;b=&apos;2&apos;"), std::string::npos);
    EXPECT_NE(html->find("&lt;b&gt;&quot;Films&quot; &amp; more&lt;/b&gt;"), std::string::npos);
    EXPECT_EQ(html->find("<b>"), std::string::npos);
    EXPECT_FALSE(
        imageMap({{{1, 2, 30, 40}, "javascript:alert(1)", "a"}}, {970, 150}, "head.png", "x"));
}

TEST(Slices, AreThePiecesOwnPixelsAndStandBesideIt) {
    const Folder folder;
    const Kit& kit = demoKit();
    const Piece& piece = *kit.piece("page-background");
    InkStore store;
    const auto done = releasePiece(piece, kit, *briefs().find("free-frame"), store, folder.path(),
                                   Replace::no, {}, {}, &briefs());
    ASSERT_TRUE(done) << done.error().sentence();
    ASSERT_EQ(done->beside.size(), 3u);  // the slice, its page, the piece's page
    const Path strip = folder.path() / "mossgate-page-header.png";
    ASSERT_TRUE(std::filesystem::exists(strip));
    const auto cut = decode(readFile(strip).value(), "strip").value();
    ASSERT_EQ(cut.pixels->size(), (PixelSize{970, 150}));
    const auto frame = releaseFrame({piece, kit}, store).value();
    for (int y = 0; y < 150; ++y)
        for (int x = 0; x < 970; ++x)
            ASSERT_EQ(cut.pixels->row(y)[x], frame.row(y + 22)[x + 475]) << x << ' ' << y;
    EXPECT_TRUE(done->pageRefused.empty());
    // Nothing that stands there is replaced, and then nothing at all is written.
    const auto again = releasePiece(piece, kit, *briefs().find("free-frame"), store, folder.path(),
                                    Replace::no, {}, {}, &briefs());
    ASSERT_FALSE(again);
    EXPECT_EQ(again.error().code, Code::unwritable);
}

TEST(Slices, OutsideTheFrameOrTwiceOfANameAreRefused) {
    Piece piece{"p", "P", "free-frame", {100, 100}, {"p"}, {}};
    for (const std::vector<Slice>& bad : {std::vector<Slice>{{"a", {0, 0, 101, 50}}},
                                          {{"a", {5, 5, 5, 50}}},
                                          {{"A b", {0, 0, 9, 9}}},
                                          {{"", {0, 0, 9, 9}}},
                                          {{"a", {0, 0, 9, 9}}, {"a", {9, 9, 19, 19}}}}) {
        piece.slices = bad;
        EXPECT_FALSE(withPiece({}, piece));
    }
    piece.slices = {{"a", {0, 0, 50, 50}}};
    piece.links = {{{10, 10, 40, 40}, "https://example.org", "x"}};
    const Kit kit = withPiece({}, piece).value();
    // They go along when the piece grows, and a frame that shrinks keeps what is left of them.
    const Kit twice = withPieceScaled(kit, "p", 2).value();
    EXPECT_EQ(twice.pieces[0].slices[0].place, (PixelRect{0, 0, 100, 100}));
    EXPECT_EQ(twice.pieces[0].links[0].place, (PixelRect{20, 20, 80, 80}));
    const Kit less = withFrame(kit, "p", {40, 40}, {0, 0}).value();
    EXPECT_EQ(less.pieces[0].slices[0].place, (PixelRect{0, 0, 40, 40}));
}

TEST(KitFile, KeepsLinksSlicesAndTwins) {
    Kit kit = demoKit();
    InkStore store;
    auto laid = withPieceLaidOut(kit, "thumbnail", *briefs().find("video-thumbnail"),
                                 *briefs().find("square-post"), store);
    ASSERT_TRUE(laid);
    laid->first.pieces.front().ownScreen = true;
    const Folder folder;
    ASSERT_TRUE(saveKit(laid->first, folder.path() / "k.zlkit", Replace::no));
    const auto back = openKit(folder.path() / "k.zlkit");
    ASSERT_TRUE(back) << back.error().sentence();
    EXPECT_EQ(back->pieces, laid->first.pieces);
    EXPECT_EQ(back->piece(laid->second)->laidFrom, "thumbnail");
    EXPECT_EQ(back->piece(laid->second)->layers.front().twin, 1);
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

TEST(OwnScreen, IsAFrameWhereTheBriefAllowsOne) {
    Piece piece{"o", "O", "stream-overlay", {1680, 1050}, {"o"}, {}};
    Subject subject;
    const Straight8 pixels(piece.frame);
    subject.brief = briefs().find("stream-overlay");
    subject.pixels = &pixels;
    subject.piece = &piece;
    EXPECT_EQ(measureFrame(subject).verdict, Verdict::fail);
    piece.ownScreen = true;
    EXPECT_EQ(measureFrame(subject).verdict, Verdict::pass);
    subject.brief = briefs().find("stream-card");
    EXPECT_EQ(measureFrame(subject).verdict, Verdict::fail);
}

TEST(Wall, HoldsEverySurfaceOfEveryPieceOnce) {
    InkStore store;
    std::vector<WallPiece> pieces;
    for (const Piece& piece : demoKit().pieces) {
        auto frame = releaseFrame({piece, demoKit()}, store);
        ASSERT_TRUE(frame);
        for (WallPiece& one :
             wallPiecesOf(piece, briefs(), std::make_shared<const Straight8>(std::move(*frame))))
            pieces.push_back(std::move(one));
    }
    std::set<std::size_t> seen;
    std::set<std::string> ofPieces;
    const auto done =
        drawWall(pieces, "Mossgate Signals", {240, 150}, {}, [&](std::size_t at, const Tile& tile) {
            EXPECT_TRUE(seen.insert(at).second);
            ofPieces.insert(tile.piece);
            EXPECT_EQ(tile.title.starts_with("header: "), tile.piece == "page-background")
                << "its header is met where headers are: " << tile.title;
            EXPECT_LE(tile.picture.width(), 240);
            EXPECT_LE(tile.picture.height(), 150);
        });
    ASSERT_TRUE(done);
    EXPECT_EQ(seen.size(), tilesOf(pieces));
    EXPECT_GT(seen.size(), 45u);
    EXPECT_EQ(ofPieces.size(),
              demoKit().pieces.size());  // a free frame has no surface, but its slice has
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(drawWall(pieces, "x", {240, 150}, stop.get_token(), [](std::size_t, const Tile&) {})
                  .error()
                  .code,
              Code::cancelled);
}

TEST(Report, HoldsEveryPieceAndLoadsNothing) {
    Kit kit = demoKit();
    kit.pieces.eraseIf(
        [](const Piece& p) { return p.id != "corner-mark" && p.id != "header-tangled"; });
    kit.pieces[0].title = "<script>alert(1)</script>";
    InkStore store;
    const auto report = reportOf(kit, briefs(), store);
    ASSERT_TRUE(report);
    EXPECT_EQ(report->worst, Verdict::fail);
    const std::string& html = report->html;
    EXPECT_EQ(html.find("<script"), std::string::npos);
    for (const char* outside : {"src=\"http", "href=\"http", "url("})
        EXPECT_EQ(html.find(outside), std::string::npos) << outside;
    EXPECT_NE(html.find("Page header, tangled"), std::string::npos);
    EXPECT_NE(html.find("data:image/png;base64,"), std::string::npos);
    for (const char* reading : {"Links", "Zones", "Frame", "Weight"})
        EXPECT_NE(html.find(std::string("<td>") + reading), std::string::npos) << reading;
}

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
