// SPDX-License-Identifier: GPL-3.0-or-later
// Briefs of one's own, through the real window: typed, drawn on the piece, refused with a reason,
// kept.
#include <QMenu>
#include <QTableWidget>
#include <QToolButton>

#include "base/json.h"
#include "places.h"

namespace zl::app {
namespace {

class OwnBrief : public PlacesTest {
  protected:
    // It is written aside.
    void save() {
        click("saveBrief");
        ASSERT_TRUE(comesTrue([this] { return session().jobs().running() == 0; }));
        QCoreApplication::processEvents();
    }
};

TEST_F(OwnBrief, ABriefOfOnesOwnIsDrawnCheckedAndKept) {
    open("thumbnail");
    trigger("ownBriefAction");
    auto* title = child<QLineEdit>("briefTitle");
    title->setText("My club page");
    auto* zones = child<QTableWidget>("briefZones");
    const int before = zones->rowCount();
    click("drawZone");
    activate();
    drag(at(320, 180), at(640, 360));
    ASSERT_EQ(zones->rowCount(), before + 1);
    EXPECT_NEAR(zones->item(before, 2)->text().toDouble(), 25, 0.3);
    // Outside, empty, overlapping: refused, each with a sentence; the dialog stays.
    const auto refusal = [this] {
        for (QLabel* label : window->findChildren<QLabel*>("refusal"))
            if (label->isVisible() && !label->text().isEmpty()) return label->text();
        return QString();
    };
    const auto set = [&](int column, const char* value) {
        zones->item(before, column)->setText(value);
    };
    set(4, "120");
    save();
    EXPECT_TRUE(refusal().contains("reaches past the frame")) << refusal().toStdString();
    set(4, "25");
    set(2, "25");
    save();
    EXPECT_TRUE(refusal().contains("has no area")) << refusal().toStdString();
    set(2, "80");
    set(4, "99");
    set(3, "80");
    set(5, "99");
    save();
    EXPECT_TRUE(refusal().contains("overlaps")) << refusal().toStdString();
    set(2, "five");
    save();
    EXPECT_TRUE(refusal().contains("no number")) << refusal().toStdString();
    EXPECT_FALSE(std::filesystem::exists(folder / "mine/zinc-ledge/briefs"));
    set(2, "30");
    set(4, "60");
    set(3, "20");
    set(5, "40");
    child<QLineEdit>("briefWidth")->setText("1280");
    save();
    EXPECT_EQ(piece().brief, "own-my-club-page");
    ASSERT_TRUE(session().brief());
    EXPECT_EQ(session().brief()->zones.size(), static_cast<std::size_t>(before) + 1);
    EXPECT_TRUE(std::filesystem::exists(folder / "mine/zinc-ledge/briefs/own-my-club-page.json"));
    ASSERT_TRUE(measured());
    EXPECT_EQ(wholeOf(*session().brief())["zones"].back()["provenance"], "drawn by hand");
    // Its zones are offered as guides from now on.
    QMenu* guides = child<QToolButton>("guidesFromBrief")->menu();
    Q_EMIT guides->aboutToShow();
    EXPECT_TRUE(guides->findChild<QAction*>("guides-own-my-club-page"));
    session().document().history().undo();
    EXPECT_EQ(piece().brief, "video-thumbnail");
}

TEST_F(OwnBrief, ADeviceThatIsTakenAwayTakesItsSurfaceAlong) {
    open("banner");
    trigger("ownBriefAction");
    auto* zones = child<QTableWidget>("briefZones");
    ASSERT_EQ(zones->rowCount(), 4);
    zones->setCurrentCell(3, 0);
    click("removeZone");
    save();
    ASSERT_TRUE(piece().brief.starts_with("own-"));
    EXPECT_EQ(session().brief()->surfaces.size(), 3u);
    EXPECT_EQ(session().brief()->zones.size(), 3u);
}

TEST_F(OwnBrief, EscapeGivesADrawnZoneUpAndTheDialogComesBack) {
    open("thumbnail");
    trigger("ownBriefAction");
    click("drawZone");
    EXPECT_FALSE(child<QWidget>("briefDialog")->isVisible());
    QTest::keyClick(&window->canvas(), Qt::Key_Escape);
    EXPECT_TRUE(comesTrue([this] { return child<QWidget>("briefDialog")->isVisible(); }));
}

TEST_F(OwnBrief, AnOwnBriefIsChangedUnderItsTitleAndCopiedUnderAnother) {
    open("thumbnail");
    trigger("ownBriefAction");
    child<QLineEdit>("briefTitle")->setText("Club");
    save();
    ASSERT_EQ(piece().brief, "own-club");
    activate();
    trigger("ownBriefAction");
    EXPECT_EQ(child<QLineEdit>("briefTitle")->text(), "Club");
    child<QLineEdit>("briefLimit")->setText("3000000");
    save();
    EXPECT_EQ(session().brief()->limit, 3'000'000);
    EXPECT_EQ(wholeOf(*session().brief())["provenance"]["limit"], "my own")
        << "a number that was typed says so";
    EXPECT_EQ(wholeOf(*session().brief())["provenance"]["formats"], "practice")
        << "one that was not keeps its own";
    const auto own = [this] {
        std::size_t n = 0;
        for (const Brief& brief : session().briefs().all) n += brief.id.starts_with("own-") ? 1 : 0;
        return n;
    };
    EXPECT_EQ(own(), 1u);
    // Begun from another brief, it does not take that one's place unasked.
    activate();
    session().document().history().undo();
    session().document().history().undo();
    ASSERT_EQ(piece().brief, "video-thumbnail");
    trigger("ownBriefAction");
    child<QLineEdit>("briefTitle")->setText("Club");
    save();
    EXPECT_TRUE(child<QWidget>("briefDialog")->isVisible());
    EXPECT_EQ(session().briefs().find("own-club")->limit, 3'000'000);
    child<QLineEdit>("briefTitle")->setText("Club, too");
    save();
    EXPECT_EQ(own(), 2u);
}

}  // namespace
}  // namespace zl::app
