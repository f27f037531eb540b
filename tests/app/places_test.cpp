// SPDX-License-Identifier: GPL-3.0-or-later
// Places: zones by device, banner windows, the player and the programme, link regions and slices,
// one piece for many places, own briefs, a host that misbehaves, the wall and the report. Through
// the real window.
#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>
#include <QMenu>
#include <QSlider>
#include <QToolButton>

#include "layout/lay_out.h"
#include "links/links.h"
#include "make/device_strip.h"
#include "picture/decode.h"
#include "places.h"
#include "release/release.h"
#include "widgets/surface_picture.h"

namespace zl::app {
namespace {

TEST_F(PlacesTest, OneDevicesZoneStandsAloneAndWhatItDoesNotShowIsDimmed) {
    open("banner");
    const QImage all = window->canvas().grab().toImage();
    inMenu("zoneMenu", "zone-phone")->trigger();
    EXPECT_EQ(window->canvas().zoneAlone(), "phone");
    EXPECT_TRUE(child<QToolButton>("zoneMenu")->text().startsWith("Phone"));
    inMenu("zoneMenu", "dimOutside")->trigger();
    const QImage dimmed = window->canvas().grab().toImage();
    // In the middle nothing changed; above the phone's window it is darker.
    const QPoint inside = at(1280, 700), outside = at(1280, 200);
    EXPECT_EQ(all.pixelColor(inside), dimmed.pixelColor(inside));
    EXPECT_LT(dimmed.pixelColor(outside).lightness() + 5, all.pixelColor(outside).lightness());
    // Another piece has other zones: all of them are shown.
    session().choice().choosePiece("overlay");
    EXPECT_EQ(window->canvas().zoneAlone(), "");
    session().choice().choosePiece("header");
    EXPECT_FALSE(child<QToolButton>("zoneMenu")->isEnabled());
    EXPECT_FALSE(child<QToolButton>("zoneMenu")->toolTip().isEmpty());
}

TEST_F(PlacesTest, EachDevicesWindowFollowsTheHand) {
    open("banner");
    auto* strip = child<DeviceStrip>("deviceStrip");
    ASSERT_TRUE(strip->isVisible());
    ASSERT_TRUE(comesTrue([&] { return !strip->windowOf("phone").isEmpty(); }));
    for (const char* device : {"television", "desktop", "tablet", "phone"}) {
        const QRectF r = strip->windowOf(device);
        EXPECT_FALSE(r.isEmpty()) << device;
        EXPECT_TRUE(QRectF(strip->rect()).contains(r)) << device;
    }
    QTest::qWait(200);
    const QImage before = strip->grab().toImage();
    session().choice().chooseLayer(3);  // the channel's name
    const QPoint from = at(1300, 670);
    drag(from, from + QPoint(0, 60));
    ASSERT_NE(layer().lettering()->at.y, 606);
    EXPECT_TRUE(comesTrue([&] {
        const QImage after = strip->grab().toImage();
        const QRect phone = strip->windowOf("phone").toAlignedRect();
        return before.copy(phone) != after.copy(phone);
    }));
    session().choice().choosePiece("thumbnail");
    EXPECT_FALSE(strip->isVisible());
}

TEST_F(PlacesTest, EachFaultyPieceIsMendedByClicking) {
    for (const char* faulty : {"overlay-crowded", "banner-wide", "header-tangled"}) {
        open(faulty);
        for (int i = 0; i < 6; ++i) {
            std::string id;
            for (const Reading& one : window->readings().state(faulty)->readings)
                if (id.empty() && one.verdict == Verdict::fail) id = one.id;
            if (id.empty()) break;
            window->openFindings(QString::fromStdString(id));
            const std::string mend = reading(id).mends.front();
            const int steps = session().document().history().count();
            QTest::mouseClick(child<QWidget>(("mend-" + mend).c_str()), Qt::LeftButton);
            ASSERT_TRUE(comesTrue([&] { return session().document().history().count() > steps; }))
                << faulty << ' ' << mend;
            ASSERT_TRUE(measured());
        }
        for (const Reading& one : window->readings().state(faulty)->readings)
            EXPECT_NE(one.verdict, Verdict::fail) << faulty << ' ' << one.id;
    }
}

TEST_F(PlacesTest, TheMarkAppearsWhenItsTimeComes) {
    handOver("corner-mark");
    ASSERT_TRUE(stateSays("draft"));
    ASSERT_TRUE(comesTrue(
        [this] { return window->findChild<QWidget*>("surface-player-640-light") != nullptr; }));
    window->resize(1280, 1000);
    child<QAbstractButton>("truePixels")->click();
    setCombo("showingWhen", 1);
    QSignalSpy painted(window->findChild<RehearseView*>(), &RehearseView::stagePainted);
    type("showingFrom", "1:00");
    // The clock waits two seconds before, and the mark is not there.
    EXPECT_TRUE(child<QLabel>("stageClock")->text().contains("0:58"));
    EXPECT_TRUE(child<QLabel>("stageClock")->text().contains("not there yet"));
    ASSERT_TRUE(comesTrue([&] { return painted.count() > 0; }));
    QTest::qWait(150);
    const QImage before = grabbed("surface-player-640-light");
    // It runs: the mark appears.
    child<QAbstractButton>("playStage")->click();
    EXPECT_TRUE(comesTrue(
        [this] { return child<QLabel>("stageClock")->text().contains("is there"); }, 10'000));
    child<QAbstractButton>("playStage")->click();
    EXPECT_FALSE(window->findChild<RehearseView*>()->stage().playing());
    const auto markShown = [&] {
        const QImage now = grabbed("surface-player-640-light");
        return now.pixelColor(616 + 1, 288 + 1) != before.pixelColor(616 + 1, 288 + 1);
    };
    EXPECT_TRUE(comesTrue(markShown, 5'000));
    // A start after the video's end is refused in a sentence, and what was set stays.
    type("showingFrom", "20:00");
    QLabel* why = nullptr;
    for (QLabel* label : window->findChildren<QLabel*>("refusal"))
        if (label->isVisible()) why = label;
    ASSERT_TRUE(why);
    EXPECT_TRUE(why->text().contains("14:05")) << why->text().toStdString();
    Posted posted;
    window->findChild<RehearseView*>()->stage().fill(posted);
    EXPECT_EQ(posted.showing.from, 60);
    // By hand, on the slider.
    type("showingFrom", "1:00");
    auto* scrub = child<QSlider>("stageScrub");
    scrub->setFocus();
    QTest::keyClick(scrub, Qt::Key_Home);
    EXPECT_TRUE(child<QLabel>("stageClock")->text().startsWith("0:00"));
}

TEST_F(PlacesTest, TheProgrammeRunsAndShowsWhatTheOverlayHides) {
    handOver("overlay");
    ASSERT_TRUE(comesTrue(
        [this] { return window->findChild<QWidget*>("surface-programme-desktop") != nullptr; }));
    child<QAbstractButton>("truePixels")->click();
    auto* view = window->findChild<RehearseView*>();
    QSignalSpy painted(view, &RehearseView::stagePainted);
    const QImage before = grabbed("surface-programme-desktop");
    child<QAbstractButton>("playStage")->click();
    ASSERT_TRUE(comesTrue([&] { return painted.count() >= 3; }));
    child<QAbstractButton>("playStage")->click();
    EXPECT_NE(grabbed("surface-programme-desktop"), before);
    // What was on its way when it stopped comes to rest.
    QImage still;
    ASSERT_TRUE(comesTrue([&] {
        still = grabbed("surface-programme-desktop");
        QTest::qWait(400);
        return grabbed("surface-programme-desktop") == still;
    }));
    child<QCheckBox>("whatItHides")->click();
    // Where the mark stands (112 + 88, 852 + 88 of 1920 x 1080) something else is seen now; far
    // from it nothing changed.
    QImage hides;
    EXPECT_TRUE(comesTrue([&] {
        hides = grabbed("surface-programme-desktop");
        int changed = 0;
        for (int i = 0; i < 40; ++i)
            changed += hides.pixelColor(120 + i, 628) != still.pixelColor(120 + i, 628) ? 1 : 0;
        return changed > 25;
    }));
    EXPECT_EQ(hides.pixelColor(1000, 100), still.pixelColor(1000, 100));
}

TEST_F(PlacesTest, ALinkRegionIsDrawnNamedAndTried) {
    open("header");
    session().choice().chooseLayer(0);
    click("drawLink");
    drag(at(700, 20), at(860, 100));
    ASSERT_EQ(piece().links.size(), 4u);
    EXPECT_NEAR(piece().links.back().place.left, 700, 2);
    EXPECT_NEAR(piece().links.back().place.width(), 160, 3);
    EXPECT_EQ(child<QComboBox>("regionList")->currentIndex(), 3);
    EXPECT_EQ(piece().links.back().address, "") << "where it leads is the person's to say";
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("links").verdict, Verdict::fail);
    type("linkSays", "Search");
    type("linkAddress", "example.org/search");
    EXPECT_EQ(piece().links.back().address, "https://example.org/search");
    EXPECT_EQ(piece().links.back().says, "Search");
    // Script is refused with its reason; the address stays.
    type("linkAddress", "javascript:alert(1)");
    EXPECT_EQ(piece().links.back().address, "https://example.org/search");
    type("linkAddress", "https://example.org/search");
    type("regionLeft", "710");
    EXPECT_EQ(piece().links.back().place.left, 710);
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("links").verdict, Verdict::pass);
    // Released, it brings its page; rehearsed, the regions answer the pointer.
    window->showView(MainWindow::release);
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    const std::string html = test::textOf(fileNamed("mossgate-header.html"));
    EXPECT_NE(html.find("href=\"https://example.org/search\" alt=\"Search\""), std::string::npos);
    click("handOverNext");
    ASSERT_TRUE(
        comesTrue([this] { return window->findChild<QWidget*>("surface-page") != nullptr; }));
    auto* page = child<SurfacePicture>("surface-page");
    const QPoint middle = page->placeOf(piece().links.back()).center().toPoint();
    QMouseEvent move(QEvent::MouseMove, middle, page->mapToGlobal(middle), Qt::NoButton,
                     Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(page, &move);
    EXPECT_EQ(page->target(), "https://example.org/search");
    EXPECT_EQ(page->cursor().shape(), Qt::PointingHandCursor);
    const QPoint beside(4, 4);
    QMouseEvent away(QEvent::MouseMove, beside, page->mapToGlobal(beside), Qt::NoButton,
                     Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(page, &away);
    EXPECT_EQ(page->target(), "");
    // Tab goes from region to region, in and out at either end.
    activate();
    page->setFocus(Qt::TabFocusReason);
    for (const LinkRegion& link : piece().links) {
        EXPECT_EQ(page->target().toStdString(), link.address);
        EXPECT_TRUE(page->accessibleDescription().endsWith("leads to " + page->target()));
        QTest::keyClick(page, Qt::Key_Tab);
    }
    EXPECT_FALSE(page->hasFocus());
    EXPECT_EQ(page->target(), "");
    page->setFocus(Qt::BacktabFocusReason);
    EXPECT_EQ(page->target().toStdString(), piece().links.back().address);
    QTest::keyClick(page, Qt::Key_Backtab);
    EXPECT_EQ(page->target().toStdString(), piece().links[piece().links.size() - 2].address);
}

TEST_F(PlacesTest, ASliceIsMetWhereItsOwnBriefSays) {
    open("page-background");
    const Slice slice = piece().slices.front();
    window->showView(MainWindow::release);
    ASSERT_TRUE(measured());
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    click("handOverNext");
    ASSERT_TRUE(comesTrue(
        [this] { return window->findChild<QWidget*>("surface-slice-header-page") != nullptr; }));
    EXPECT_FALSE(child<QWidget>("rehearseEmpty")->isVisible())
        << "the whole is met nowhere, its strip is";
    auto* strip = child<SurfacePicture>("surface-slice-header-page");
    const std::vector<LinkRegion> links = linksWithin(piece().links, slice.place);
    ASSERT_FALSE(links.empty());
    EXPECT_NEAR(strip->placeOf(links.front()).width() / strip->placeOf(links.front()).height(),
                links.front().place.width() * 1.0 / links.front().place.height(), 0.02);
    strip->setFocus(Qt::TabFocusReason);
    EXPECT_EQ(strip->target().toStdString(), links.front().address);
    EXPECT_GT(strip->sizeHint().width(), window->width() / 2) << "alone, it has the room";
    // What stands on the page is that part of the released picture.
    const Picture released = good(decode(fileNamed("mossgate-page.png"), "x"));
    const Straight8 part = partOf(*released.pixels, slice.place);
    const QImage shown = strip->grab().toImage();
    const QRectF place = strip->placeOf({PixelRect::of(slice.place.size()), {}, {}});
    const double scale = place.width() / part.width();
    double off = 0;
    int count = 0;
    for (int y = 20; y < part.height() - 20; y += 10)
        for (int x = part.width() / 2; x < part.width() - 20; x += 30, ++count)
            off += std::abs(qGreen(shown.pixel(static_cast<int>(place.x() + x * scale),
                                               static_cast<int>(place.y() + y * scale))) -
                            static_cast<int>(greenOf(part.row(y)[x])));
    EXPECT_LT(off / count, 12);
}

TEST_F(PlacesTest, AHeaderStripIsCutOutOfAnyPieceAndReleasedOnItsOwn) {
    open("thumbnail");
    trigger("headerStripAction");
    ASSERT_EQ(piece().slices.size(), 1u);
    EXPECT_EQ(piece().slices.front().place, (PixelRect{155, 22, 1125, 172}));
    window->showView(MainWindow::release);
    ASSERT_TRUE(measured());
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    EXPECT_EQ(good(decode(fileNamed("the-lever-that-stuck-header.png"), "x")).facts.size,
              (PixelSize{970, 150}));
    // A frame that cannot hold it is told; nothing changes.
    session().choice().choosePiece("corner-mark");
    trigger("headerStripAction");
    EXPECT_TRUE(piece().slices.empty());
    EXPECT_TRUE(told.back().contains("970 × 150"));
}

TEST_F(PlacesTest, OnePieceIsLaidOutForOtherPlacesAndItsEditsFollow) {
    open("thumbnail");
    const std::size_t pieces = session().kit().pieces.size();
    trigger("layOutAction");
    auto* list = child<QListWidget>("layOutBriefs");
    EXPECT_FALSE(child<QWidget>("layOut")->isEnabled());
    for (int i = 0; i < list->count(); ++i)
        if (const QString id = list->item(i)->data(Qt::UserRole).toString();
            id == "upright-story" || id == "square-post")
            list->item(i)->setCheckState(Qt::Checked);
    click("layOut");
    ASSERT_TRUE(comesTrue([&] { return session().kit().pieces.size() == pieces + 2; }));
    activate();
    ASSERT_TRUE(measured());
    EXPECT_EQ(piece().laidFrom, "thumbnail");
    EXPECT_EQ(piece().brief, "upright-story");
    EXPECT_NE(reading("zones").verdict, Verdict::fail);
    EXPECT_EQ(reading("stretch").verdict, Verdict::pass);
    const std::string story = piece().id;
    // An edit of the first follows when it is asked to.
    session().choice().choosePiece("thumbnail");
    session().choice().chooseLayer(3);
    Layer edited = layer();
    edited.lettering()->text = "THE ROD";
    session().apply(withChangedLayer(session().kit(), "thumbnail", edited), "edit");
    EXPECT_EQ(session().kit().piece(story)->layers[2].lettering()->text, "THE LEVER");
    trigger("carryOverAction");
    ASSERT_TRUE(comesTrue(
        [&] { return session().kit().piece(story)->layers[2].lettering()->text == "THE ROD"; }));
    // One step of history, and it comes back.
    session().document().history().undo();
    EXPECT_EQ(session().kit().piece(story)->layers[2].lettering()->text, "THE LEVER");
    session().choice().choosePiece("banner");
    trigger("carryOverAction");
    EXPECT_TRUE(told.back().contains("Nothing was laid out"));
}

TEST_F(PlacesTest, AnOverlayTakesTheOwnScreensSize) {
    open("overlay");
    trigger("startPieceAction");
    auto* briefs = child<QListWidget>("briefs");
    for (int i = 0; i < briefs->count(); ++i)
        if (briefs->item(i)->data(Qt::UserRole).toString() == "stream-overlay")
            briefs->setCurrentRow(i);
    click("ownScreen");
    type("newWidth", "0");  // Enter starts
    EXPECT_TRUE(child<QWidget>("newPieceDialog")->isVisible()) << "a screen of no width is refused";
    child<QLineEdit>("newHeight")->setText("1050");
    type("newWidth", "1680");
    ASSERT_EQ(piece().frame, (PixelSize{1680, 1050}));
    EXPECT_TRUE(piece().ownScreen);
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("frame").verdict, Verdict::pass);
}

TEST_F(PlacesTest, BoxesForAnOverlayStandInTheSafeAreaAndOutOfThePlayArea) {
    open("overlay");
    Piece bare = piece();
    bare.layers.clear();
    session().apply(withChangedPiece(session().kit(), bare), "empty");
    auto* menu = child<QPushButton>("addLayer")->menu();
    for (const char* box : {"addCameraBox", "addChatBox", "addLinkList"}) {
        auto* action = menu->findChild<QAction*>(box);
        ASSERT_TRUE(action) << box;
        action->trigger();
    }
    ASSERT_EQ(piece().layers.size(), 4u);
    session().choice().chooseLayer(0);
    for (QAction* one : child<QToolButton>("guidesFromBrief")->menu()->actions())
        if (one->objectName() == "guides-centre") one->trigger();
    EXPECT_EQ(piece().guides.size(), 2u);
    ASSERT_TRUE(measured());
    EXPECT_NE(reading("zones").verdict, Verdict::fail) << reading("zones").shown;
    EXPECT_NE(reading("naming").verdict, Verdict::watch);
    // A step each.
    session().document().history().undo();
    session().document().history().undo();
    EXPECT_EQ(piece().layers.size(), 2u);
}

TEST_F(PlacesTest, AHostThatMisbehavesLosesNothing) {
    handOver("corner-mark");
    ASSERT_TRUE(stateSays("draft"));
    const Path mine = folder / "mossgate-corner-mark.png";
    const Bytes released = good(readFile(mine));
    // Cut off: it goes on from there.
    setCombo("hostTrouble", 4);
    type("hostTroubleAmount", "5000");
    click("handOver");
    ASSERT_TRUE(stateSays("Broke off"));
    EXPECT_TRUE(child<QAbstractButton>("handOver")->text().contains("Go on"));
    EXPECT_TRUE(child<QLabel>("hostSaid")->text().contains("5,000") ||
                child<QLabel>("hostSaid")->text().contains("5000"));
    for (int i = 0; i < 4 && child<QLabel>("hostState")->text().contains("Broke off"); ++i) {
        click("handOver");
        ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOver")->isEnabled(); }));
    }
    EXPECT_TRUE(stateSays("draft"));
    // Each refusal, and the draft stands.
    for (int what = 1; what <= 3; ++what) {
        setCombo("hostTrouble", what);
        click("handOver");
        ASSERT_TRUE(stateSays("Refused"));
        EXPECT_TRUE(child<QLabel>("hostSaid")->text().contains("told to refuse"));
        setCombo("hostTrouble", 0);
        click("handOver");
        ASSERT_TRUE(stateSays("draft"));
    }
    // Slow: it can be cancelled.
    setCombo("hostTrouble", 5);
    type("hostTroubleAmount", "60");
    click("handOver");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("cancelHandOver")->isVisible(); }));
    click("cancelHandOver");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOver")->isEnabled(); }));
    EXPECT_TRUE(told.back().contains("cancelled"));
    // The draft is lost: it is said, and the file is handed over again.
    setCombo("hostTrouble", 7);
    click("publishDraft");
    ASSERT_TRUE(comesTrue([this] { return told.back().contains("lost the draft"); }));
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOver")->isEnabled(); }));
    EXPECT_FALSE(child<QWidget>("publishDraft")->isEnabled());
    setCombo("hostTrouble", 6);
    click("handOver");
    ASSERT_TRUE(stateSays("draft"));
    click("publishDraft");
    ASSERT_TRUE(stateSays("published"));
    EXPECT_EQ(good(readFile(mine)), released);
}

TEST_F(PlacesTest, TheWallShowsEverySurfaceAndOpensThePieceThatIsClicked) {
    open("thumbnail");
    window->showView(MainWindow::rehearse);
    click("rehearseWall");
    auto* wall = window->findChild<WallView*>();
    ASSERT_TRUE(comesTrue([this] { return window->findChild<QWidget*>("wallPiece-banner"); }));
    auto* head = child<QAbstractButton>("wallPiece-banner");
    head->setFocus();
    ASSERT_TRUE(comesTrue([&] { return wall->complete(); }, 90'000));
    EXPECT_EQ(QApplication::focusWidget(), head) << "the focus stays while tiles arrive";
    EXPECT_GT(wall->tiles(), 45);
    for (const Piece& one : session().kit().pieces)
        EXPECT_TRUE(window->findChild<QWidget*>(
            QString("wallPiece-%1").arg(QString::fromStdString(one.id))))
            << one.id;
    QTest::qWait(150);
    EXPECT_TRUE(
        child<QAbstractButton>("tile-page-background-0")->accessibleName().startsWith("header: "))
        << "a slice is met by itself";
    EXPECT_TRUE(child<QLabel>("hostHeadline")->text().contains(QString::number(wall->tiles())));
    auto* fail = child<QAbstractButton>("wallPiece-header-tangled");
    EXPECT_TRUE(fail->text().contains("fail"));
    fail->click();
    EXPECT_EQ(piece().id, "header-tangled");
    EXPECT_EQ(window->view(), MainWindow::make);
    // Unchanged pieces are not drawn again; a changed one is.
    window->showView(MainWindow::rehearse);
    click("rehearseWall");
    EXPECT_TRUE(comesTrue([&] { return wall->complete(); }));
    // Every surface names its channel: under another name it is drawn anew.
    Kit renamed = session().kit();
    renamed.title = "Another channel";
    ASSERT_TRUE(session().apply(renamed, "rename"));
    EXPECT_EQ(wall->tiles(), 0);
    EXPECT_GT(wall->tilesDue(), 45);
}

TEST_F(PlacesTest, OneReportTellsOfTheWholeKit) {
    openDemo("corner-mark");
    Kit few = session().kit();
    few.pieces.eraseIf(
        [](const Piece& one) { return one.id != "corner-mark" && one.id != "header"; });
    session().files().openValue(few, folder / "few.zlkit");
    ASSERT_TRUE(measured());
    window->showView(MainWindow::rehearse);
    answers.push_back(QString::fromStdString((folder / "report.html").string()));
    click("writeReport");
    ASSERT_TRUE(comesTrue([this] { return std::filesystem::exists(folder / "report.html"); }));
    const std::string html = test::textOf(fileNamed("report.html"));
    EXPECT_NE(html.find("Page header"), std::string::npos);
    EXPECT_NE(html.find("Corner mark"), std::string::npos);
    EXPECT_EQ(html.find("src=\"http"), std::string::npos);
    ASSERT_TRUE(comesTrue(
        [this] { return child<QAbstractButton>("writeReport")->text().startsWith("Write"); }));
}

TEST_F(PlacesTest, ASliceIsDrawnNamedAndMoved) {
    open("page-background");
    session().choice().chooseLayer(0);
    ASSERT_EQ(child<QComboBox>("regionList")->count(), 2);
    trigger("drawSliceAction");
    drag(at(200, 600), at(700, 900));
    ASSERT_EQ(piece().slices.size(), 2u);
    EXPECT_EQ(piece().slices.back().name, "part");
    EXPECT_EQ(child<QComboBox>("regionList")->currentIndex(), 2) << "the new one is chosen";
    type("linkSays", "Lower Part");
    EXPECT_EQ(piece().slices.back().name, "lower-part");
    EXPECT_FALSE(child<QWidget>("linkAddress")->isEnabled());
    type("regionWidth", "300");
    EXPECT_EQ(piece().slices.back().place.width(), 300);
    // Past the frame: refused, and what was there stays.
    type("regionLeft", "1800");
    EXPECT_NE(piece().slices.back().place.left, 1800);
    bool said = false;
    for (QLabel* label : window->findChildren<QLabel*>("refusal"))
        said = said || (label->isVisible() && label->text().contains("inside the frame"));
    EXPECT_TRUE(said);
    // Two of one name cannot be.
    type("linkSays", "header");
    EXPECT_EQ(piece().slices.back().name, "lower-part");
    setCombo("regionList", 0);
    for (QLabel* label : window->findChildren<QLabel*>("refusal"))
        EXPECT_FALSE(label->isVisible()) << "that was said of another region";
    setCombo("regionList", 2);
    click("removeRegion");
    EXPECT_EQ(piece().slices.size(), 1u);
    session().document().history().undo();
    EXPECT_EQ(piece().slices.size(), 2u);
}

TEST_F(PlacesTest, ALinkThatIsWrongKeepsThePageBackButNotThePicture) {
    open("header-tangled");
    window->showView(MainWindow::release);
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    EXPECT_TRUE(std::filesystem::exists(folder / "mossgate-header-tangled.png"));
    EXPECT_FALSE(std::filesystem::exists(folder / "mossgate-header-tangled.html"));
    EXPECT_TRUE(told.back().contains("no scheme"));
}

TEST_F(PlacesTest, AClosingMarkComesAtTheEnd) {
    handOver("corner-mark");
    ASSERT_TRUE(comesTrue(
        [this] { return window->findChild<QWidget*>("surface-player-640-dark") != nullptr; }));
    setCombo("showingWhen", 2);
    EXPECT_TRUE(child<QLabel>("stageClock")->text().contains("13:48"))
        << "two seconds before the last fifteen";
    EXPECT_TRUE(child<QLabel>("stageClock")->text().contains("not there yet"));
    EXPECT_FALSE(child<QWidget>("showingFrom")->isEnabled());
    auto* scrub = child<QSlider>("stageScrub");
    scrub->setFocus();
    QTest::keyClick(scrub, Qt::Key_End);
    EXPECT_TRUE(child<QLabel>("stageClock")->text().contains("is there"));
    // A shorter video, closing from its own end.
    type("videoLength", "0:40");
    EXPECT_TRUE(child<QLabel>("stageClock")->text().contains("0:23"));
    type("videoLength", "0");
    Posted posted;
    window->findChild<RehearseView*>()->stage().fill(posted);
    EXPECT_EQ(posted.length, 40) << "a video of no length is refused";
}

TEST_F(PlacesTest, AFollowerTakesEditsOverFromItsOwnSide) {
    open("thumbnail");
    InkStore store;
    auto laid = good(withPieceLaidOut(session().kit(), "thumbnail", test::brief("video-thumbnail"),
                                      test::brief("square-post"), store));
    session().apply(laid.first, "lay out");
    Piece first = *session().kit().piece("thumbnail");
    first.layers[0].picture()->tone.contrast = 40;
    session().apply(withChangedPiece(session().kit(), first), "edit");
    session().choice().choosePiece(laid.second);
    trigger("carryOverAction");
    ASSERT_TRUE(comesTrue([this] { return piece().layers[0].picture()->tone.contrast == 40; }));
    trigger("carryOverAction");
    EXPECT_TRUE(comesTrue([this] { return told.back().contains("nothing new"); }));
}

TEST_F(PlacesTest, TheWholeKitGoesOutFromTheWall) {
    openDemo("header");
    Kit few = session().kit();
    few.pieces.eraseIf([](const Piece& one) {
        return one.id != "header" && one.id != "header-tangled" && one.id != "corner-mark";
    });
    session().files().openValue(few, folder / "few.zlkit");
    const auto allMeasured = [this] {
        for (const Piece& one : session().kit().pieces)
            if (!window->readings().isCurrent(one.id)) return false;
        return true;
    };
    ASSERT_TRUE(comesTrue(allMeasured));
    window->showView(MainWindow::rehearse);
    click("rehearseWall");
    EXPECT_FALSE(child<QWidget>("handOver")->isVisible()) << "the wall is of the kit";
    click("wallReleaseAll");
    ASSERT_TRUE(comesTrue([this] { return !told.empty() && told.back().contains("2 released"); }));
    EXPECT_TRUE(std::filesystem::exists(folder / "mossgate-header.html"));
    EXPECT_TRUE(std::filesystem::exists(folder / "mossgate-corner-mark.png"));
    EXPECT_FALSE(std::filesystem::exists(folder / "mossgate-header-tangled.png"))
        << "what fails stays";
}

}  // namespace
}  // namespace zl::app
