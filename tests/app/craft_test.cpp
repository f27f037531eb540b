// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that a piece is built from, in the real window: bars, several layers at once, groups,
// turns, finishes, tone, letters, guides, frames, looks, variants.
#include <QAbstractButton>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QInputDialog>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QSlider>
#include <QToolButton>

#include "craft.h"
#include "edit/stack.h"
#include "lettering/lettering.h"
#include "make/sections/sections.h"
#include "picture/decode.h"

namespace zl::app {
namespace {

class Craft : public CraftTest {};

TEST_F(Craft, AnEightyPercentBarOverTheTaskBarIsTwoClicks) {
    session().files().openValue(test::withPicture(test::kitWith("stream-overlay", {1920, 1080}),
                                                  test::textured({1920, 1080}), {0, 0, 1920, 1080}),
                                folder / "bar.zlkit");
    const std::uint32_t before = rendered().row(1060)[700];
    pick("addRectangle");
    ASSERT_TRUE(test::barOf(layer()));
    EXPECT_EQ(layer().name, "Bar");
    const std::uint32_t after = rendered().row(1060)[700];
    EXPECT_NEAR(redOf(after), redOf(before) * 0.2, 1);
    EXPECT_EQ(child<QLineEdit>("opacity")->text(), "80");
    EXPECT_EQ(test::barOf(layer())->place.bottom(), 1080);
}

TEST_F(Craft, BarsTakeEveryShapeAndFadeToNothing) {
    startEmpty();
    int count = 0;
    for (const char* action :
         {"addRectangle", "addRounded", "addEllipse", "addRing", "addLine", "addArrow"}) {
        pick(action);
        EXPECT_EQ(test::barOf(layer())->shape, static_cast<BarShape>(count++));
    }
    choose("shape", 1);
    EXPECT_EQ(test::barOf(layer())->shape, BarShape::rounded);
    type("radius", "7");
    EXPECT_EQ(test::barOf(layer())->radius, 7);
    EXPECT_FALSE(child<QLineEdit>("thickness")->isEnabled());
    EXPECT_FALSE(child<QLineEdit>("thickness")->toolTip().isEmpty()) << "it says why";
    click("fades");
    ASSERT_TRUE(test::barOf(layer())->fade);
    EXPECT_EQ(test::barOf(layer())->fade->alpha, 0);
    type("barColourText", "#11223380");
    EXPECT_EQ(nameOf(test::barOf(layer())->colour), "#11223380")
        << "what is typed is what is taken";
    type("fadeAngle", "90");
    EXPECT_EQ(test::barOf(layer())->fadeDegrees, 90);
    click("toNothing");
    type("fadeText", "#112233");
    EXPECT_EQ(nameOf(*test::barOf(layer())->fade), "#112233");
    for (const char* bad : {"0/0", "1e400", "abc"}) {
        const Kit kit = session().kit();
        type("radius", bad);
        EXPECT_EQ(session().kit(), kit) << bad;
    }
}

TEST_F(Craft, ALayerIsTurnedByItsHandleAndByNumbers) {
    startEmpty();
    pick("addEllipse");
    editPlace({220, 120, 200, 80});
    auto& canvas = window->canvas();
    const QPoint handle = canvas.turnHandle().toPoint(), centre = at(320, 160);
    // A quarter of the way round: from above the box to its right.
    drag(handle, centre + QPoint(centre.y() - handle.y(), 0));
    EXPECT_EQ(layer().turn.degrees, 90);
    EXPECT_EQ(boundsOf(layer()), (RealRect{280, 60, 80, 200}));
    type("turn", "30");
    EXPECT_EQ(layer().turn.degrees, 30);
    click("turnRight");
    EXPECT_EQ(layer().turn.degrees, 120);
    click("flipX");
    EXPECT_TRUE(layer().turn.flipX);
    EXPECT_EQ(layer().turn.degrees, -120);
    // A corner of a turned box scales it; the opposite corner stays where it is.
    session().editLayers({layer().id}, "turn", {}, [](Layer& one) {
        one.turn = {90, false, false};
    });
    const RealRect before = boundsOf(layer());
    drag(at(before.x, before.bottom()), at(before.x, before.bottom()) + QPoint(-12, 30));
    EXPECT_NEAR(boundsOf(layer()).right(), before.right(), 1e-6);
    EXPECT_NEAR(boundsOf(layer()).y, before.y, 1e-6);
    EXPECT_GT(boundsOf(layer()).height, before.height);
    choose("blend", 1);
    EXPECT_EQ(layer().blend, Blend::multiply);
}

TEST_F(Craft, FinishesAreAddedOrderedSwitchedAndCopied) {
    openDemo();
    session().choice().chooseLayer(2);  // the signal arm, a cut-out picture
    const std::size_t before = layer().finishes.size();
    for (const char* action : {"add-outline", "add-shadow", "add-glow", "add-bevel"}) pick(action);
    ASSERT_EQ(layer().finishes.size(), before + 4);
    EXPECT_EQ(layer().finishes.back().kind, "bevel");
    type("finish-3-dx", "12");
    EXPECT_EQ(layer().finishes[3].value("dx"), 12);
    choose("finish-2-side", 2);
    EXPECT_EQ(layer().finishes[2].value("side"), 2);
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("finish-5-remove")->height() > 0; }))
        << "the cards are laid out";
    child<QCheckBox>("finish-4-on")->click();
    EXPECT_TRUE(layer().finishes[4].off);
    click("finish-5-earlier");
    EXPECT_EQ(layer().finishes[4].kind, "bevel");
    click("finish-5-remove");
    EXPECT_EQ(layer().finishes.size(), before + 3);
    // An outline wider than it may be is refused beside the field, and nothing changes.
    const Kit kit = session().kit();
    type("finish-0-px", "100000");
    EXPECT_EQ(session().kit(), kit);
    QTest::keyClick(child<QLineEdit>("finish-0-px"), Qt::Key_Escape);
    trigger("copyFinish");
    session().choice().chooseLayers({3, 4}, 4);
    trigger("pasteFinish");
    EXPECT_EQ(piece().layer(3)->finishes, piece().layer(2)->finishes);
    EXPECT_EQ(piece().layer(4)->finishes, piece().layer(2)->finishes);
}

TEST_F(Craft, ALookIsSavedAndWornByOtherLetters) {
    openDemo("overlay");
    session().choice().chooseLayer(3);
    auto* menu = child<QToolButton>("looks")->menu();
    Q_EMIT menu->aboutToShow();
    pick("saveLook");
    auto* ask = window->findChild<QInputDialog*>("lookName");
    ASSERT_TRUE(ask);
    ask->setTextValue("Caption");
    ask->accept();
    activate();
    ASSERT_EQ(session().kit().looks.size(), 2u);
    session().choice().choosePiece("thumbnail");
    session().choice().chooseLayer(4);
    Q_EMIT menu->aboutToShow();
    for (QAction* action : menu->actions())
        if (action->text() == "Caption") action->trigger();
    EXPECT_EQ(layer().lettering()->text, "THAT STUCK");
    EXPECT_EQ(layer().lettering()->size, 74);
    EXPECT_EQ(layer().finishes, session().kit().piece("overlay")->layer(3)->finishes);
}

TEST_F(Craft, ToneIsSetByNumbersSlidersAndStartsAndLookedAtBefore) {
    openDemo();
    session().choice().chooseLayer(1);
    type("warmth", "30");
    EXPECT_EQ(layer().picture()->tone.warmth, 30);
    child<QSlider>(
        "clarity"
        "Slider")
        ->setValue(25);
    EXPECT_EQ(layer().picture()->tone.clarity, 25);
    auto* histogram = child<HistogramView>("histogram");
    EXPECT_TRUE(comesTrue([&] { return histogram->shown().pixels == 1280 * 720; }));
    type("contrast", "250");
    EXPECT_NE(layer().picture()->tone.contrast, 250);
    QTest::keyClick(child<QLineEdit>("contrast"), Qt::Key_Escape);
    pick("tone-grey");
    EXPECT_EQ(layer().picture()->tone.saturation, -100);
    const Straight8 grey = rendered();
    EXPECT_EQ(redOf(grey.row(700)[40]), blueOf(grey.row(700)[40]));
    const Kit kit = session().kit();
    click("toneBefore");
    EXPECT_EQ(session().kit(), kit) << "only looked at";
    click("toneBefore");
    click("toneNeutral");
    EXPECT_TRUE(layer().picture()->tone.neutral());
}

TEST_F(Craft, ARegionOfAPictureIsHidden) {
    startEmpty({200, 100});
    answers = {write("plate.png", test::png(test::noisy({200, 100})))};
    trigger("addPictureAction");
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 1; }));
    pick("veilCoarse");
    ASSERT_EQ(layer().picture()->veils.size(), 1u);
    type("veil-0-0", "20");
    type("veil-0-1", "30");
    type("veil-0-2", "64");
    type("veil-0-3", "32");
    type("veil-0-4", "16");
    const Straight8 hidden = rendered();
    for (int x = 21; x < 36; ++x) EXPECT_EQ(hidden.row(35)[x], hidden.row(35)[20]);
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("veil-0-remove")->height() > 0; }));
    click("veil-0-remove");
    EXPECT_TRUE(layer().picture()->veils.empty());
}

TEST_F(Craft, LettersTakeCapitalsTrackingStackingAndAWidth) {
    startEmpty();
    trigger("addLetteringAction");
    QTest::keyClicks(child<QPlainTextEdit>("text"), "quiet");
    click("caps");
    click("italic");
    EXPECT_TRUE(layer().lettering()->caps);
    EXPECT_NE(layer().lettering()->style.find("Italic"), std::string::npos);
    type("tracking", "120");
    EXPECT_EQ(layer().lettering()->tracking, 120);
    click("fitWidth");
    EXPECT_NEAR(boxOf(layer()).width, 640 * 0.9, 3);
    EXPECT_NEAR(boxOf(layer()).x, 32, 1e-9);
    EXPECT_TRUE(child<QLabel>("capsNote")->text().contains("px high"));
    click("vertical");
    EXPECT_GT(boxOf(layer()).height, boxOf(layer()).width);
    for (const char* bad : {"0", "1000000", "1/0"}) {
        const Kit kit = session().kit();
        type("size", bad);
        EXPECT_EQ(session().kit(), kit) << bad;
        QTest::keyClick(child<QLineEdit>("size"), Qt::Key_Escape);
    }
    // A letter that the font lacks is told, with what stands for it.
    session().editLayers({layer().id}, "text", {},
                         [](Layer& one) { one.lettering()->text = "A☃"; });
    EXPECT_TRUE(child<QLabel>("fontNote")->text().contains("☃"));
    // A text without end is refused, and the old one stands.
    const Kit kit = session().kit();
    child<QPlainTextEdit>("text")->setPlainText(QString(100'000, 'x'));
    EXPECT_EQ(session().kit(), kit);
    EXPECT_TRUE(told.back().contains("too long"));
}

TEST_F(Craft, GuidesAreTypedTakenFromABriefDraggedAndSnappedTo) {
    startEmpty();
    session().choice().chooseLayer(0);
    type("guidePlace", "640/4");
    child<QLineEdit>("guidePlace")->setText("25%");
    click("addLevelGuide");
    ASSERT_EQ(piece().guides.size(), 2u);
    EXPECT_EQ(piece().guides[0], (Guide{true, 160, false}));
    EXPECT_EQ(piece().guides[1], (Guide{false, 0.25, true}));
    child<QLineEdit>("guidePlace")->setText("nowhere");
    click("addLevelGuide");
    EXPECT_EQ(piece().guides.size(), 2u);
    // Dragged by its flag above the frame.
    drag(at(160, 0) + QPoint(0, -7), at(200, 0) + QPoint(0, -7));
    EXPECT_NEAR(piece().guides[0].at, 200, 1);
    // A layer is drawn to it.
    pick("addEllipse");
    editPlace({40, 200, 50, 50});
    drag(at(65, 225), at(65, 225) + (at(228, 225) - at(65, 225)));
    EXPECT_NEAR(test::barOf(layer())->place.x, piece().guides[0].at, 1e-9);
    // Out of the frame it is thrown away.
    // Out of the frame and back in one drag it is there again.
    const QPoint flag = at(piece().guides[0].at, 0) + QPoint(0, -7);
    QTest::mousePress(&window->canvas(), Qt::LeftButton, {}, flag);
    QTest::mouseMove(&window->canvas(), at(-60, 0) + QPoint(0, -7));
    EXPECT_EQ(piece().guides.size(), 1u);
    QTest::mouseMove(&window->canvas(), flag);
    QTest::mouseRelease(&window->canvas(), Qt::LeftButton, {}, flag);
    ASSERT_EQ(piece().guides.size(), 2u);
    drag(at(piece().guides[0].at, 0) + QPoint(0, -7), at(-60, 0) + QPoint(0, -7));
    EXPECT_EQ(piece().guides.size(), 1u);
    session().choice().chooseLayer(0);
    pick("guides-stream-overlay");
    EXPECT_GT(piece().guides.size(), 6u);
    click("clearGuides");
    EXPECT_TRUE(piece().guides.empty());
    trigger("thirdsAction");
}

// What is asked is asked of the kit that was open; another one may come while it is asked.
TEST_F(Craft, WhatIsAskedOfAPieceEndsWithItsKit) {
    for (const char* action : {"frameAction", "layOutAction", "compareVariantsAction",
                               "overVideoAction", "ownBriefAction"}) {
        openDemo("overlay");
        trigger(action);
        const auto open = [this] {
            for (QDialog* dialog : window->findChildren<QDialog*>())
                if (dialog->isVisible()) return true;
            return false;
        };
        ASSERT_TRUE(open()) << action;
        session().files().openValue(Kit{}, folder / "empty.zlkit");
        EXPECT_FALSE(open()) << action;
        activate();
    }
}

TEST_F(Craft, TheFrameIsScaledRelaidPutRoundAndTrimmed) {
    openDemo("overlay");
    const auto dialog = [this] {
        trigger("frameAction");
        return window->findChild<QDialog*>("frameDialog");
    };
    const auto fill = [](QDialog* in, const char* field, const QString& text) {
        auto* edit = in->findChild<QLineEdit*>(field);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QFocusEvent left(QEvent::FocusOut);
        QApplication::sendEvent(edit, &left);
    };
    QDialog* one = dialog();
    ASSERT_TRUE(one);
    fill(one, "newWidth", "960");
    const auto shows = [one](const char* field) {
        return one->findChild<QLineEdit*>(field)->text();
    };
    EXPECT_EQ(shows("newHeight"), "540") << "the shape is kept";
    one->findChild<QAbstractButton*>("frameAround")->click();
    fill(one, "newHeight", "77");
    EXPECT_EQ(shows("newWidth"), "960");
    one->findChild<QAbstractButton*>("scaleAll")->click();
    EXPECT_EQ(shows("newWidth"), "137") << "the side that was typed leads";
    fill(one, "newHeight", "540");
    EXPECT_EQ(shows("newWidth"), "960");
    QTest::mouseClick(one->findChild<QAbstractButton*>("changeFrame"), Qt::LeftButton);
    activate();
    EXPECT_EQ(piece().frame, (PixelSize{960, 540}));
    EXPECT_NEAR(test::barOf(piece().layers[0])->place.width, 550, 1e-9);
    QDialog* two = dialog();
    two->findChild<QAbstractButton*>("relay")->click();
    fill(two, "newWidth", "540");
    fill(two, "newHeight", "960");
    QTest::mouseClick(two->findChild<QAbstractButton*>("changeFrame"), Qt::LeftButton);
    activate();
    EXPECT_EQ(piece().frame, (PixelSize{540, 960}));
    QDialog* three = dialog();
    three->findChild<QAbstractButton*>("trimFrame")->click();
    fill(three, "trimMargin", "10");
    QTest::mouseClick(three->findChild<QAbstractButton*>("changeFrame"), Qt::LeftButton);
    activate();
    ASSERT_TRUE(comesTrue([this] { return piece().frame != PixelSize{540, 960}; }));
    InkStore store;
    const PixelRect ink = good(inkBounds({piece(), session().kit()}, store));
    EXPECT_EQ(ink, (PixelRect{10, 10, piece().frame.width - 10, piece().frame.height - 10}));
    for (int i = 0; i < 3; ++i) session().document().history().undo();
    EXPECT_EQ(piece().frame, (PixelSize{1920, 1080}));
}

TEST_F(Craft, LayersAreCopiedBetweenPiecesWithTheirPictures) {
    QApplication::clipboard()->clear();  // of what another test left there
    openDemo();
    session().choice().chooseLayers({2, 4}, 4);
    trigger("copyLayers");
    ASSERT_TRUE(comesTrue([] {
        const QMimeData* copied = QApplication::clipboard()->mimeData();
        return copied && copied->hasFormat("application/x-zinc-ledge-layers");
    }));
    session().files().openValue(test::kitWith("free-frame", {1280, 720}), folder / "other.zlkit");
    trigger("paste");
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 2; }));
    EXPECT_EQ(piece().layers[0].name, "Signal arm, cut out");
    EXPECT_TRUE(session().kit().asset(piece().layers[0].picture()->source));
    EXPECT_EQ(session().chosenIds().size(), 2u);
    QApplication::clipboard()->setText("no picture");
    trigger("paste");
    EXPECT_TRUE(notice().contains("no picture to paste"));
    EXPECT_EQ(piece().layers.size(), 2u);
}

TEST_F(Craft, VariantsAreKeptAndComparedSmall) {
    openDemo();
    trigger("variantAction");
    EXPECT_EQ(piece().variantOf, "thumbnail");
    session().choice().chooseLayer(4);
    type("colourText", "#FFFFFF");
    ASSERT_TRUE(comesTrue([this] {
        return window->readings().isCurrent("thumbnail") &&
               window->readings().isCurrent(session().piece()->id);
    }));
    trigger("compareVariantsAction");
    auto* dialog = window->findChild<QDialog*>("variantsDialog");
    ASSERT_TRUE(dialog);
    const auto pictures = dialog->findChildren<QLabel*>("variantPicture");
    ASSERT_EQ(pictures.size(), 2);
    for (const QLabel* picture : pictures)
        EXPECT_EQ(picture->pixmap(Qt::ReturnByValue).width(), 168);
    EXPECT_NE(pictures[0]->pixmap(Qt::ReturnByValue).toImage(),
              pictures[1]->pixmap(Qt::ReturnByValue).toImage());
    // A measurement that ends fills it anew; the keys stay where they were.
    const auto theOther = [&]() -> QAbstractButton* {
        for (auto* button : dialog->findChildren<QAbstractButton*>("openVariant"))
            if (button->isVisible() && button->isEnabled()) return button;
        return nullptr;
    };
    ASSERT_TRUE(theOther());
    theOther()->setFocus();
    Q_EMIT window->readings().changed(QString::fromStdString(piece().id));
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    ASSERT_TRUE(theOther());
    EXPECT_EQ(dialog->focusWidget(), theOther());
    QTest::mouseClick(theOther(), Qt::LeftButton);
    activate();
    EXPECT_EQ(piece().id, "thumbnail");
}

TEST_F(Craft, ColoursOfTheKitAreAtHandAndOneIsPickedFromThePiece) {
    openDemo();
    session().choice().chooseLayer(4);
    auto* field = child<ColourField>("colour");
    const auto offered = [&](const QString& name) {
        QTest::mouseClick(field->findChild<QToolButton*>(), Qt::LeftButton);
        auto* action = window->findChild<QAction*>(name);
        EXPECT_TRUE(action) << name.toStdString();
        if (action) action->trigger();
        for (auto* menu : window->findChildren<QMenu*>("colours")) menu->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    };
    offered("own-B4472F");
    EXPECT_EQ(nameOf(layer().lettering()->colour), "#B4472F");
    type("colourText", "#010203");
    offered("keepColour");
    EXPECT_EQ(nameOf(session().kit().colours.back()), "#010203");
    ASSERT_TRUE(measured());
    offered("pickColour");
    EXPECT_TRUE(window->canvas().picking());
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, {}, at(900, 560));
    EXPECT_FALSE(window->canvas().picking());
    EXPECT_NE(nameOf(layer().lettering()->colour), "#010203");
    EXPECT_EQ(session().layer()->id, 4) << "the click picked a colour, not a layer";
}

// A mark that reaches out of its frame is brought back in by one click.
TEST_F(Craft, RoomIsMadeForFinishesAndAMarkIsMended) {
    session().files().openValue(test::kitWith("corner-mark", {150, 150}), folder / "mark.zlkit");
    pick("addEllipse");
    editPlace({5, 5, 140, 140});
    pick("add-outline");
    type("finish-0-px", "14");
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("cut-off").verdict, Verdict::fail);
    window->openFindings("cut-off");
    click("mend-make-room");
    ASSERT_TRUE(comesTrue([this] {
        return window->readings().isCurrent("p") && reading("cut-off").verdict == Verdict::pass;
    }));
    EXPECT_EQ(reading("margins").verdict, Verdict::pass);
}

}  // namespace
}  // namespace zl::app
