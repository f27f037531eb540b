// SPDX-License-Identifier: GPL-3.0-or-later
// The ledge and its findings; the numbers follow the hand.
#include "window.h"
#include "words/words.h"

namespace zl::app {
namespace {

class LedgeTest : public WindowTest {
  protected:
    std::vector<std::string> order() {
        std::vector<std::string> ids;
        auto cells = window->findChildren<LedgeCell*>();
        std::sort(cells.begin(), cells.end(), [](auto* a, auto* b) { return a->x() < b->x(); });
        for (LedgeCell* cell : cells)
            if (cell->isVisible()) ids.push_back(cell->readingId());
        return ids;
    }
};

TEST_F(LedgeTest, ShowsTheWorstFirst) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    const auto ids = order();
    ASSERT_GE(ids.size(), 6u);
    Verdict last = Verdict::fail;
    for (const std::string& id : ids) {
        if (id.empty()) break;  // the rest stands behind the last cell
        EXPECT_LE(reading(id).verdict, last) << id;
        last = reading(id).verdict;
    }
    EXPECT_EQ(ids.front(), "frame");
    const auto* cell = child<LedgeCell>("reading-frame");
    EXPECT_TRUE(cell->accessibleName().contains("fail, 1920 × 1200"))
        << "the verdict is a word, too";
}

// Bars drawn as layers of their own cannot be cropped off a picture: the message says so, and what
// else the reading offers.
TEST_F(LedgeTest, AMendThatCannotHelpSaysWhyAndWhatElseThereIs) {
    openDemo("thumbnail");
    Kit kit = session().kit();
    for (const double top : {0.0, 640.0}) {
        BarLayer bar;
        bar.place = {0, top, 1280, 80};
        bar.colour = {0, 0, 0, 255};
        Layer layer;
        layer.name = top == 0 ? "Upper bar" : "Lower bar";
        layer.what = bar;
        auto next = withLayer(kit, "thumbnail", layer);
        ASSERT_TRUE(next) << next.error().what;
        kit = *next;
    }
    // The picture ends where the bars begin.
    Piece piece = *kit.piece("thumbnail");
    std::erase_if(piece.layers, [](const Layer& l) { return l.lettering() != nullptr; });
    piece.layers.front().picture()->place = {0, 80, 1280, 560};
    ASSERT_TRUE(session().apply(withChangedPiece(kit, piece), "bars"));
    ASSERT_TRUE(measured());
    ASSERT_EQ(reading("black-bars").verdict, Verdict::fail);
    const Kit before = session().kit();
    click("reading-more");
    ASSERT_TRUE(
        comesTrue([this] { return window->findChild<QPushButton*>("mend-crop-bars") != nullptr; }));
    click("mend-crop-bars");
    ASSERT_TRUE(comesTrue([this] { return child("notice")->isVisible(); }));
    const QString said = child<QLabel>("noticeText")->text();
    EXPECT_TRUE(said.contains("not in one picture that fills the frame")) << qPrintable(said);
    EXPECT_TRUE(said.contains("It offers as well: Fill them with a blurred copy."))
        << qPrintable(said);
    EXPECT_TRUE(session().kit() == before) << "nothing was changed";
}

// A piece that cannot be drawn passes nothing.
TEST_F(LedgeTest, WhatCannotBeMeasuredIsSaidWhereverItsReadingsStand) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {160, 90}), test::textured({64, 36}),
                                {0, 0, 160, 90});
    kit.assets.clear();
    session().files().openValue(kit, folder / "gone.zlkit");
    const auto state = [this] { return window->readings().state(session().piece()->id); };
    ASSERT_TRUE(comesTrue([&] { return state() && !state()->refusal.isEmpty(); }));
    const QString why = state()->refusal;
    EXPECT_TRUE(why.contains("missing in the kit")) << why.toStdString();
    window->showView(MainWindow::gauge);
    ASSERT_TRUE(comesTrue([this] { return child<QLabel>("gaugeNone") != nullptr; }));
    EXPECT_TRUE(comesTrue([&] { return child<QLabel>("gaugeNone")->text() == why; }))
        << child<QLabel>("gaugeNone")->text().toStdString();
}

TEST_F(LedgeTest, WhatDoesNotFitStandsBehindOneCell) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    window->resize(960, 620);
    ASSERT_TRUE(comesTrue([this] {
        return window->findChild<LedgeCell*>("reading-more") &&
               window->findChild<LedgeCell*>("reading-more")->isVisible();
    }));
    const auto* more = child<LedgeCell>("reading-more");
    const auto isMine = [](const ReadingRow& row) {
        return row.briefs == ForBriefs::all || row.briefs == ForBriefs::opaque ||
               row.briefs == ForBriefs::edges || row.briefs == ForBriefs::ofVideos;
    };
    const auto mine = std::count_if(allReadings().begin(), allReadings().end(),
                                    isMine);  // the sketch it is built over has alpha
    EXPECT_TRUE(more->accessibleName().startsWith(
        QString::number(mine - static_cast<std::ptrdiff_t>(order().size()) + 1)));
    click("reading-more");
    for (const ReadingRow& row : allReadings())
        if (isMine(row)) {
            EXPECT_TRUE(window->findChild<QLabel*>(
                "says-" + QString::fromUtf8(row.id.data(), static_cast<int>(row.id.size()))))
                << row.id;
        }
}

TEST_F(LedgeTest, OpenFindingsFollowTheNumbersInThePanelThatStands) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    click("reading-zones");
    auto* says = child<QLabel>("says-zones");
    auto* place = child<QPushButton>("finding-zones-0");
    const QString before = says->text();
    session().choice().chooseLayer(3);  // "layer 7"
    window->canvas().setFocus();
    QTest::keyClick(&window->canvas(), Qt::Key_Left, Qt::ShiftModifier);
    ASSERT_TRUE(
        comesTrue([&] { return measured() && child<QLabel>("says-zones")->text() != before; }));
    EXPECT_EQ(child<QLabel>("says-zones"), says) << "the panel is not built anew";
    EXPECT_EQ(says->text().toStdString(), english(reading("zones").says));
    EXPECT_EQ(place->accessibleName().toStdString(), english(reading("zones").findings[0].says));
    session().choice().chooseLayer(1);
    QTest::mouseClick(place, Qt::LeftButton);
    EXPECT_EQ(session().layer()->id, 3);
    click("reading-stretch");
    EXPECT_TRUE(child("says-stretch")->isVisible()) << "another reading, another panel";
}

TEST_F(LedgeTest, ASentenceIsSaidOnce) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    ASSERT_EQ(english(reading("lettering").says),
              english(reading("lettering").findings.at(0).says));
    click("reading-lettering");
    EXPECT_TRUE(child("finding-lettering-0")->isVisible());
    EXPECT_FALSE(child("says-lettering")->isVisible()) << "its one place says the same";
    click("reading-frame");
    EXPECT_TRUE(child("says-frame")->isVisible());
}

// Whoever mends by keys goes on from the panel, not from somewhere in the window.
TEST_F(LedgeTest, TheFocusStaysInTheFindingsAfterAMend) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    activate();
    auto* findings = window->findChild<Findings*>();
    window->resize(2200, 800);
    ASSERT_TRUE(comesTrue([&] {
        return window->findChild<QWidget*>("reading-naming") &&
               child("reading-naming")->isVisible();
    }));
    click("reading-naming");
    ASSERT_TRUE(findings->isAncestorOf(QApplication::focusWidget())) << "it begins there";
    auto* mend = child<QPushButton>("mend-to-reference");
    mend->setFocus();
    QTest::keyClick(mend, Qt::Key_Space);
    ASSERT_TRUE(comesTrue([this] { return piece().layers[1].isReference() && measured(); }));
    ASSERT_TRUE(comesTrue([&] { return !window->findChild<QPushButton*>("mend-to-reference"); }));
    EXPECT_TRUE(findings->isVisible());
    EXPECT_TRUE(findings->isAncestorOf(QApplication::focusWidget()));
}

TEST_F(LedgeTest, AMessageStandsBesideTheFindingsOrAboveThem) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    auto* findings = window->findChild<Findings*>();
    for (const int width : {1280, 960}) {  // beside them; where there is no room for that, above
        window->resize(width, 800);
        QTest::qWait(50);
        if (!findings->isVisible()) click("reading-stretch");
        click("mend-unstretch");
        auto* notice = child("notice");
        ASSERT_TRUE(comesTrue([&] {
            return notice->isVisible() && child<QLabel>("noticeText")->text().contains("done");
        }));
        ASSERT_TRUE(measured());
        EXPECT_TRUE(findings->isVisible());
        EXPECT_FALSE(notice->geometry().intersects(findings->geometry())) << width;
        EXPECT_TRUE(notice->parentWidget()->rect().contains(notice->geometry())) << width;
        EXPECT_GE(notice->height(), notice->layout()->heightForWidth(notice->width()))
            << "no words are cut off";
        click("undo");
        ASSERT_TRUE(comesTrue(
            [this] { return measured() && window->findChild<QPushButton*>("mend-unstretch"); }));
        if (notice->isVisible()) click("closeNotice");  // good news leaves by itself
    }
}

TEST_F(LedgeTest, AClickOpensFindingsAndTheyGoToTheirPlace) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    click("reading-stretch");
    EXPECT_EQ(child<QLabel>("says-stretch")->text().toStdString(),
              english(reading("stretch").says));
    window->showView(MainWindow::release);
    click("finding-stretch-0");
    EXPECT_EQ(window->view(), MainWindow::make);
    EXPECT_EQ(layer().name, "layer 1") << "the stretched picture is chosen";
    QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : window.get(),
                    Qt::Key_Escape);
    click("reading-stretch");
    EXPECT_FALSE(window->findChild<Findings*>()->isVisible()) << "a second click closes it";
    window->resize(2200, 800);
    ASSERT_TRUE(comesTrue([&] {
        return window->findChild<QWidget*>("reading-naming") &&
               child("reading-naming")->isVisible();
    }));
    click("reading-naming");
    click("closeFindings");
    EXPECT_FALSE(window->findChild<Findings*>()->isVisible());
}

TEST_F(LedgeTest, TheNumbersFollowTheLatestEdit) {
    openDemo();
    ASSERT_TRUE(measured());
    session().choice().chooseLayer(1);
    type("width", "1600");
    EXPECT_FALSE(window->readings().isCurrent("thumbnail")) << "an older number is marked as such";
    ASSERT_TRUE(measured());
    EXPECT_NEAR(std::get<double>(reading("enlargement").value), 1.25, 1e-9);
    type("width", "3200");
    ASSERT_TRUE(measured());
    EXPECT_NEAR(std::get<double>(reading("enlargement").value), 2.5, 1e-9);
    EXPECT_EQ(reading("enlargement").verdict, Verdict::fail);
    EXPECT_EQ(child<LedgeCell>("reading-enlargement")->x(), 0) << "it moved to the front";
}

TEST_F(LedgeTest, AMendOfAPieceEditedMeanwhileIsNotForcedOnIt) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    click("reading-frame");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("mend-crop-to-frame")->isVisible(); }));
    click("mend-crop-to-frame");
    Layer layer = piece().layers[0];
    layer.opacity = 0.5;
    ASSERT_TRUE(session().apply(withChangedLayer(session().kit(), piece().id, layer), "meanwhile"));
    ASSERT_TRUE(comesTrue([this] { return notice().contains("edited meanwhile"); }));
    EXPECT_EQ(piece().frame, (PixelSize{1920, 1200}));
    EXPECT_EQ(piece().layers[0].opacity, 0.5);
}

TEST_F(LedgeTest, AnUnknownBriefIsSaidAndNothingElseBreaks) {
    Kit kit = test::kitWith("video-thumbnail", {1280, 720});
    kit.pieces[0].brief = "someone-elses";
    session().files().openValue(kit, folder / "x.zlkit");
    EXPECT_TRUE(comesTrue([this] { return order().empty(); }));
    trigger("addLetteringAction");
    EXPECT_EQ(piece().layers.size(), 1u);
}

}  // namespace
}  // namespace zl::app
