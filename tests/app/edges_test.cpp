// SPDX-License-Identifier: GPL-3.0-or-later
// Cutting out and looking at edges in the real window: three clicks from a logo on white to a mark,
// Gauge, keys with their brush, shapes on the canvas, the mends of the faulty mark.
#include <QCheckBox>
#include <QComboBox>
#include <QSlider>
#include <QToolButton>

#include "edit/edits.h"
#include "gauge/gauge_view.h"
#include "make/sections/sections.h"
#include "picture/decode.h"
#include "support/walls.h"
#include "window.h"

namespace zl::app {
namespace {

class EdgesTest : public WindowTest {
  protected:
    void open(const char* id) {
        session().files().openValue(test::madeDemo().kit, folder / "demo.zlkit");
        session().choice().choosePiece(id);
        ASSERT_TRUE(measured());
    }
    // A red disc of 60 px on white, 200 x 160, filling a frame of that size.
    void openDisc() {
        const Straight8 disc = test::painted({200, 160}, [](int x, int y) {
            const double a = std::clamp(60.5 - std::hypot(x + 0.5 - 100, y + 0.5 - 80), 0.0, 1.0);
            const auto mix = [&](int ink) {
                return static_cast<int>(std::lround(a * ink + (1 - a) * 255));
            };
            return packed(mix(200), mix(40), mix(30), 255);
        });
        Kit kit = test::withPicture(test::kitWith("free-frame", {200, 160}), disc, {0, 0, 200, 160},
                                    "disc.png");
        session().files().openValue(kit, folder / "disc.zlkit");
        session().choice().chooseLayer(1);
        ASSERT_TRUE(measured());
    }
    const std::vector<Cut>& cuts() { return session().piece()->layer(1)->picture()->cuts; }
    std::uint32_t pixel(int x, int y) {
        InkStore store;
        return good(render({*session().piece(), session().kit()}, store)).row(y)[x];
    }
    void pick(const char* action) {
        auto* found = window->findChild<QAction*>(action);
        ASSERT_TRUE(found) << action;
        found->trigger();
    }
    void dragOnCanvas(RealPoint from, RealPoint to) { drag(at(from.x, from.y), at(to.x, to.y)); }
    void showAllCells() {
        window->resize(3200, 900);
        QTest::qWait(20);
    }
};

TEST_F(EdgesTest, ALogoOnWhiteBecomesACleanMarkInThreeClicks) {
    open("corner-mark-on-white");
    showAllCells();
    EXPECT_EQ(reading("coverage").verdict, Verdict::fail);
    click("reading-coverage");     // one: what is wrong
    click("mend-key-background");  // two: the background goes
    ASSERT_TRUE(comesTrue([&] { return cuts().size() == 1; }));
    ASSERT_TRUE(measured());
    for (const char* id : {"coverage", "format", "fringe", "steps", "specks", "hidden-colour"})
        EXPECT_EQ(reading(id).verdict, Verdict::pass) << id;
    session().choice().chooseLayer(1);
    child("trimIntoFrame")->setFocus();
    ASSERT_TRUE(comesTrue([&] { return child("trimIntoFrame")->height() > 0; }));
    const RealRect before = session().layer()->picture()->place;
    static_cast<QAbstractButton*>(child("trimIntoFrame"))->click();  // three: it fills its frame
    ASSERT_TRUE(comesTrue([&] { return !(session().layer()->picture()->place == before); }));
    ASSERT_TRUE(measured());
    for (const char* id : {"coverage", "fringe", "steps", "specks", "margins", "cut-off"})
        EXPECT_EQ(reading(id).verdict, Verdict::pass) << id;
    // Released as PNG, and the bytes read back.
    window->showView(MainWindow::release);
    click("releaseNow");
    ASSERT_TRUE(comesTrue(
        [&] { return std::filesystem::exists(folder / "mossgate-corner-mark-new.png"); }));
    const Picture back =
        good(decode(good(readFile(folder / "mossgate-corner-mark-new.png")), "mark.png"));
    EXPECT_EQ(back.facts.size, (PixelSize{150, 150}));
    EXPECT_TRUE(back.facts.alphaChannel);
    EXPECT_EQ(alphaOf(back.pixels->row(0)[0]), 0);
    EXPECT_EQ(alphaOf(back.pixels->row(75)[75]), 255);
}

TEST_F(EdgesTest, TheFaultyMarkIsFoundShownAndMendedInGauge) {
    open("corner-mark-old");
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    ASSERT_EQ(window->view(), MainWindow::gauge);
    auto* view = child<GaugeView>("gaugeView");
    ASSERT_TRUE(comesTrue([&] {
        return !view->pane(0).image().isNull() &&
               window->findChild<QWidget*>("gaugeFinding-cut-off");
    }));
    for (const char* id : {"gaugeFinding-fringe", "gaugeFinding-steps", "gaugeFinding-specks",
                           "gaugeFinding-cut-off"})
        EXPECT_TRUE(window->findChild<QWidget*>(id)) << id;
    EXPECT_TRUE(window->findChild<QLabel*>("gaugeLegend")->text().contains("fringed"));
    // A jump: every pane goes there, large.
    static_cast<QAbstractButton*>(child("gaugeShow-fringe"))->click();
    const Mapping first = view->pane(0).mapping();
    EXPECT_GT(first.scale, 3);
    for (int i = 1; i < GaugeView::paneCount; ++i)
        EXPECT_EQ(view->pane(i).mapping().scale, first.scale);
    const auto shown = [&](const char* id) {
        const auto all = window->findChildren<QAbstractButton*>(id);
        return std::any_of(all.begin(), all.end(), [](auto* one) { return one->isVisible(); });
    };
    const auto mend = [&](const char* id) {
        const Kit before = session().kit();
        ASSERT_TRUE(comesTrue([&] { return shown(id); })) << id;
        child<QAbstractButton>(id)->setFocus();
        QTest::keyClick(child<QAbstractButton>(id), Qt::Key_Space);
        ASSERT_TRUE(comesTrue([&] { return !(session().kit() == before); })) << id;
        ASSERT_TRUE(measured());
    };
    mend("gaugeMend-keep-alpha");
    mend("gaugeMend-take-fringe-off");
    EXPECT_EQ(reading("fringe").verdict, Verdict::pass);
    ASSERT_TRUE(comesTrue(
        [&] { return !window->findChild<QAbstractButton*>("gaugeMend-take-fringe-off"); }));
    EXPECT_TRUE(QApplication::focusWidget() &&
                QApplication::focusWidget()->objectName().startsWith("gaugeMend-"))
        << "whoever mends by keys goes on from there";
    // Holding B shows what it was.
    ASSERT_TRUE(comesTrue([&] { return window->findChild<QWidget*>("gaugeShow-steps"); }));
    ASSERT_TRUE(comesTrue([&] { return view->isCurrent(); }));
    view->setFocus();
    const QImage after = view->pane(1).image();
    QTest::keyPress(view, Qt::Key_B);
    EXPECT_TRUE(view->showsBefore());
    EXPECT_TRUE(comesTrue([&] {
        return view->pane(1).accessibleName().contains("before") && view->pane(1).image() != after;
    }));
    QTest::qWait(50);
    const QImage shownBefore = view->pane(1).image();
    QTest::keyRelease(view, Qt::Key_B);
    EXPECT_FALSE(view->showsBefore());
    EXPECT_TRUE(comesTrue([&] {
        return !view->pane(1).accessibleName().contains("before") &&
               view->pane(1).image() != shownBefore;
    })) << "and back";
    mend("gaugeMend-soften-steps");
    mend("gaugeMend-make-room");
    mend("gaugeMend-remove-specks");
    for (const char* id : {"format", "fringe", "steps", "specks", "cut-off"})
        EXPECT_EQ(reading(id).verdict, Verdict::pass) << id;
    EXPECT_EQ(session().piece()->layer(1)->picture()->cuts.size(), 3u)
        << "each mend is a cut that can be switched off";
    for (int i = 0; i < 5; ++i) QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("fringe").verdict, Verdict::fail) << "Ctrl+Z brings it back";
}

TEST_F(EdgesTest, GaugeZoomsPansAndReadsUnderThePointer) {
    openDisc();
    click("addKey");
    ASSERT_TRUE(measured());
    window->showView(MainWindow::gauge);
    auto* view = child<GaugeView>("gaugeView");
    ASSERT_TRUE(comesTrue([&] { return !view->pane(0).image().isNull(); }));
    click("gauge3200");
    EXPECT_DOUBLE_EQ(view->pane(3).shownZoom(), 32);
    click("gaugeFit");
    GaugePane& pane = view->pane(0);
    const QPointF under = pane.toWidget({100, 80});
    QWheelEvent wheel(under, pane.mapToGlobal(under), {}, {0, 360}, Qt::NoButton,
                      Qt::ControlModifier, Qt::NoScrollPhase, false);
    const double fitted = pane.shownZoom();
    QApplication::sendEvent(&pane, &wheel);
    EXPECT_NEAR(pane.shownZoom(), fitted * 1.25 * 1.25 * 1.25, 1e-6);
    EXPECT_LE(QLineF(pane.toWidget({100, 80}), under).length(), 1.5)
        << "the point under the pointer stays";
    QTest::mouseMove(&pane, pane.toWidget({100.5, 80.5}).toPoint());
    EXPECT_TRUE(
        comesTrue([&] { return child<QLabel>("gaugeUnder")->text().contains("R 200 G 40 B 30"); }));
    EXPECT_TRUE(child<QLabel>("gaugeUnder")->text().contains("255"));
    auto* slice = static_cast<GaugeSlice*>(child("gaugeSlice"));
    const QPoint from = pane.toWidget({100, 80}).toPoint(), to = pane.toWidget({100, 12}).toPoint();
    QTest::mousePress(&pane, Qt::LeftButton, {}, from);
    QTest::mouseMove(&pane, to);
    QTest::mouseRelease(&pane, Qt::LeftButton, {}, to);
    ASSERT_GT(slice->alpha().size(), 20u);
    EXPECT_FLOAT_EQ(slice->alpha().front(), 1);
    EXPECT_FLOAT_EQ(slice->alpha().back(), 0);
    EXPECT_LE(*std::max_element(slice->difference().begin(), slice->difference().end()), 4)
        << "the edge is clean";
    // An own colour behind the fifth pane.
    auto* photo = child<QComboBox>("gaugeBackdrop");
    photo->setCurrentIndex(3);
    Q_EMIT photo->activated(3);
    auto* own = child<ColourField>("gaugeOwn")->text();
    ASSERT_TRUE(own->isVisible());
    own->setFocus();
    own->selectAll();
    QTest::keyClicks(own, "#0080FF");
    QTest::keyClick(own, Qt::Key_Return);
    click("gaugeFit");
    GaugePane& photoPane = view->pane(4);
    const QPoint ground = photoPane.toWidget({100, 14}).toPoint();
    EXPECT_TRUE(
        comesTrue([&] { return photoPane.image().pixelColor(ground) == QColor(0, 128, 255); }));
    // Colour alone: what lies under alpha 0 has the ink's colour.
    auto* bare = child<QComboBox>("gaugeBareOf");
    bare->setCurrentIndex(1);
    Q_EMIT bare->activated(1);
    EXPECT_TRUE(comesTrue([&] { return view->pane(5).accessibleName().contains("colour"); }));
}

TEST_F(EdgesTest, AKeyIsSetByItsFieldsAndPickedInThePicture) {
    openDisc();
    EXPECT_EQ(alphaOf(pixel(5, 5)), 255);
    click("addKey");
    ASSERT_EQ(cuts().size(), 1u);
    EXPECT_EQ(alphaOf(pixel(5, 5)), 0);
    EXPECT_EQ(alphaOf(pixel(100, 80)), 255);
    EXPECT_TRUE(comesTrue(
        [&] { return child<QLabel>("cutNote-0")->text().contains("100 % of the border"); }));
    // Another layer with the same cut tells the same of itself.
    trigger("doubleLayerAction");
    EXPECT_TRUE(comesTrue(
        [&] { return child<QLabel>("cutNote-0")->text().contains("100 % of the border"); }));
    trigger("undoAction");
    session().choice().chooseLayer(piece().layers[0].id);
    // Picked: the disc's own red, linked to that point.
    child<QAbstractButton>("cutPick-0")->click();
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, {},
                      window->canvas().toWidget({100.5, 80.5}).toPoint());
    ASSERT_TRUE(comesTrue([&] { return cuts()[0].key()->colour.has_value(); }));
    EXPECT_EQ(*cuts()[0].key()->colour, (Colour{200, 40, 30, 255}));
    EXPECT_EQ(alphaOf(pixel(100, 80)), 0);
    EXPECT_EQ(alphaOf(pixel(5, 5)), 255);
    child<QAbstractButton>("cutFind-0")->click();
    EXPECT_FALSE(cuts()[0].key()->colour);
    child<QSlider>("cutToleranceSlider-0")->setValue(40);
    EXPECT_EQ(cuts()[0].key()->tolerance, 40.0);
    type("cut-0-tolerance", "200");
    EXPECT_EQ(cuts()[0].key()->tolerance, 40.0) << "refused beside the field";
    type("cut-0-tolerance", "0");
    EXPECT_FALSE(cuts()[0].key()->tolerance) << "measured by itself again";
    auto* reach = child<QComboBox>("cutReach-0");
    Q_EMIT reach->activated(1);
    EXPECT_TRUE(cuts()[0].key()->everywhere);
    auto* shadow = child<QComboBox>("cutShadow-0");
    shadow->setCurrentIndex(2);
    Q_EMIT shadow->activated(2);
    EXPECT_EQ(cuts()[0].key()->shadow, KeyShadow::off);
    shadow->setCurrentIndex(1);
    Q_EMIT shadow->activated(1);
    EXPECT_EQ(cuts()[0].key()->shadow, KeyShadow::drop);
    child<QCheckBox>("cutOn-0")->click();
    EXPECT_EQ(alphaOf(pixel(5, 5)), 255) << "switched off";
    child<QAbstractButton>("removeCut-0")->click();
    EXPECT_TRUE(cuts().empty());
}

// A ring on white: its middle is white, too, and stays until it is asked for.
TEST_F(EdgesTest, AClosedAreaIsOfferedAndTakenWithOneClick) {
    const Straight8 ring = test::painted({200, 200}, [](int x, int y) {
        const double r = std::hypot(x + 0.5 - 100, y + 0.5 - 100),
                     in = std::clamp(80.5 - r, 0.0, 1.0) * std::clamp(r - 39.5, 0.0, 1.0);
        const auto mix = [&](int v) {
            return static_cast<int>(std::lround(v * in + 255 * (1 - in)));
        };
        return packed(mix(30), mix(60), mix(120), 255);
    });
    Kit kit = test::kitWith("free-frame", {200, 200});
    session().files().openValue(test::withPicture(kit, ring, {0, 0, 200, 200}, "ring.png"),
                                folder / "ring.zlkit");
    session().choice().choosePiece("p");
    session().choice().chooseLayer(1);
    child<QPushButton>("addKey")->click();
    ASSERT_EQ(cuts().size(), 1u);
    auto* offer = child<QPushButton>("cutClosed-0");
    ASSERT_TRUE(comesTrue([&] { return !offer->isHidden(); }));
    EXPECT_EQ(offer->text(), "Take one closed area, too");
    EXPECT_FALSE(cuts()[0].key()->everywhere);
    offer->click();
    EXPECT_TRUE(cuts()[0].key()->everywhere);
    EXPECT_TRUE(comesTrue([&] { return offer->isHidden(); }));
    session().document().history().undo();
    EXPECT_FALSE(cuts()[0].key()->everywhere) << "one step takes it back";
}

// A wall as a camera takes it goes with one click; what stands alone there is told, and a higher
// tolerance takes it.
TEST_F(EdgesTest, AWallGoesWithItsLightAndItsSpotsAreTold) {
    const Straight8 wall = test::spottedWall(2);
    const Kit kit = test::withPicture(test::kitWith("free-frame", {320, 200}), wall,
                                      {0, 0, 320, 200}, "wall.png");
    session().files().openValue(kit, folder / "wall.zlkit");
    session().choice().choosePiece("p");
    session().choice().chooseLayer(1);
    child<QPushButton>("addKey")->click();
    ASSERT_EQ(cuts().size(), 1u);
    auto* note = child<QLabel>("cutNote-0");
    EXPECT_TRUE(comesTrue([&] { return note->text().contains("2 spots of nearly"); }))
        << note->text().toStdString();
    EXPECT_EQ(alphaOf(pixel(150, 100)), 255);
    EXPECT_EQ(alphaOf(pixel(80, 60)), 0) << "where a lamp lights the wall";
    EXPECT_EQ(alphaOf(pixel(60, 30)), 255);
    child<QSlider>("cutToleranceSlider-0")->setValue(24);
    EXPECT_TRUE(comesTrue([&] { return !note->text().contains("spots"); }))
        << note->text().toStdString();
    EXPECT_EQ(alphaOf(pixel(60, 30)), 0);
    EXPECT_EQ(alphaOf(pixel(150, 100)), 255);
}

// The wheel over the bench scrolls; a list or a slider that it passes keeps its value.
TEST_F(EdgesTest, TheWheelChangesNoValueInPassing) {
    openDisc();
    child<QPushButton>("addKey")->click();
    ASSERT_EQ(cuts().size(), 1u);
    const Kit before = session().kit();
    for (const char* name : {"cutReach-0", "cutShadow-0", "cutToleranceSlider-0"}) {
        auto* widget = child<QWidget>(name);
        const QPointF at(widget->width() / 2.0, widget->height() / 2.0);
        for (const int turn : {-120, 120}) {
            QWheelEvent wheel(at, widget->mapToGlobal(at), {}, {0, turn}, Qt::NoButton,
                              Qt::NoModifier, Qt::NoScrollPhase, false);
            QApplication::sendEvent(widget, &wheel);
        }
        EXPECT_EQ(session().kit(), before) << name;
        EXPECT_EQ(child<QComboBox>("cutReach-0")->currentIndex(), 0);
        EXPECT_EQ(child<QComboBox>("cutShadow-0")->currentIndex(), 0);
    }
}

TEST_F(EdgesTest, TheBrushPaintsStrokesThatStayEditable) {
    openDisc();
    click("addKey");
    type("cut-0-brush", "20");
    child<QAbstractButton>("cutRestore-0")->click();
    dragOnCanvas({20, 20}, {60, 20});
    ASSERT_EQ(cuts()[0].key()->strokes.size(), 1u);
    EXPECT_NEAR(cuts()[0].key()->strokes[0].radius, 10, 1e-9);
    EXPECT_EQ(pixel(40, 20), 0xFFFFFFFFu) << "white again, as it was";
    QTest::keyClick(&window->canvas(), Qt::Key_Return);
    child<QAbstractButton>("cutRemove-0")->click();
    dragOnCanvas({100, 80}, {110, 80});
    EXPECT_EQ(alphaOf(pixel(104, 80)), 0);
    QTest::keyClick(&window->canvas(), Qt::Key_Escape);
    // What is done by hand ends with its layer.
    child<QAbstractButton>("cutRestore-0")->click();
    EXPECT_TRUE(notice().contains("Paint over"));
    session().choice().chooseLayer(0);
    EXPECT_FALSE(window->canvas().tool().begun());
    EXPECT_TRUE(notice().isEmpty());
    session().choice().chooseLayer(1);
    child<QAbstractButton>("cutStrokes-0")->click();
    EXPECT_EQ(cuts()[0].key()->strokes.size(), 1u);
    EXPECT_EQ(alphaOf(pixel(104, 80)), 255);
}

TEST_F(EdgesTest, TheBrushAndThePickGoByKeysAlone) {
    openDisc();
    click("addKey");
    Canvas& canvas = window->canvas();
    const auto press = [&](int key, int times = 1, Qt::KeyboardModifiers with = Qt::NoModifier) {
        for (int i = 0; i < times; ++i) QTest::keyClick(&canvas, static_cast<Qt::Key>(key), with);
    };
    type("cut-0-brush", "20");
    child<QAbstractButton>("cutRemove-0")->click();
    canvas.setFocus();
    const RealPoint middle = session().layer()->picture()->crop.centre();
    press(Qt::Key_Space);  // from the middle of the picture
    press(Qt::Key_Right, 3, Qt::ShiftModifier);
    press(Qt::Key_Down, 4);
    press(Qt::Key_Space);
    ASSERT_EQ(cuts()[0].key()->strokes.size(), 1u);
    const Stroke& stroke = cuts()[0].key()->strokes[0];
    EXPECT_FALSE(stroke.restores);
    EXPECT_NEAR(stroke.points.front().x, middle.x, 1e-6);
    EXPECT_NEAR(stroke.points.back().x, middle.x + 30, 1e-6);
    EXPECT_EQ(alphaOf(pixel(static_cast<int>(middle.x) + 15, static_cast<int>(middle.y))), 0);
    press(Qt::Key_Return);
    EXPECT_FALSE(canvas.tool().begun());
    // The ground is picked where the arrows end, and never past the picture's rim.
    child<QAbstractButton>("cutPick-0")->click();
    canvas.setFocus();
    press(Qt::Key_Left, 30, Qt::ShiftModifier);
    press(Qt::Key_Up, 30, Qt::ShiftModifier);
    press(Qt::Key_Space);
    ASSERT_TRUE(comesTrue([&] { return cuts()[0].key()->colour.has_value(); }));
    EXPECT_EQ(*cuts()[0].key()->colour, (Colour{255, 255, 255, 255}));
    press(Qt::Key_Space);  // without a tool it does nothing
    EXPECT_EQ(cuts()[0].key()->strokes.size(), 1u);
}

TEST_F(EdgesTest, ShapesAreTypedPlacedAndThePictureMovesInside) {
    openDisc();
    pick("addCircleCut");
    ASSERT_EQ(cuts().size(), 1u);
    EXPECT_EQ(cuts()[0].shape()->box, (RealRect{20, 0, 160, 160})) << "the largest in the middle";
    type("cut-0-width", "100");
    EXPECT_EQ(cuts()[0].shape()->box.height, 100) << "held round";
    child<QCheckBox>("cutHeld-0")->click();
    type("cut-0-width", "120");
    EXPECT_EQ(cuts()[0].shape()->box.height, 100);
    type("cut-0-feather", "6");
    EXPECT_EQ(cuts()[0].shape()->feather, 6);
    child<QCheckBox>("cutInverted-0")->click();
    EXPECT_TRUE(cuts()[0].shape()->inverted);
    child<QCheckBox>("cutInverted-0")->click();
    // By hand: the box moves, its corner scales.
    child<QAbstractButton>("cutPlace-0")->click();
    const RealRect typed = cuts()[0].shape()->box;
    dragOnCanvas({typed.centre().x, typed.centre().y},
                 {typed.centre().x + 30, typed.centre().y + 10});
    EXPECT_NEAR(cuts()[0].shape()->box.x, typed.x + 30, 1.01);
    EXPECT_NEAR(cuts()[0].shape()->box.y, typed.y + 10, 1.01);
    const RealRect now = cuts()[0].shape()->box;
    dragOnCanvas({now.right(), now.bottom()}, {now.right() - 40, now.bottom() - 30});
    EXPECT_NEAR(cuts()[0].shape()->box.width, now.width - 40, 1.5);
    EXPECT_NEAR(cuts()[0].shape()->box.height, now.height - 30, 1.5);
    QTest::keyClick(&window->canvas(), Qt::Key_Left, Qt::ShiftModifier);
    EXPECT_NEAR(cuts()[0].shape()->box.x, now.x - 10, 1e-9) << "by the arrows, too";
    QTest::keyClick(&window->canvas(), Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyClick(&window->canvas(), Qt::Key_Return);
    // The picture moves inside the cut, which stands still in the frame.
    const RealRect stood = cuts()[0].shape()->box;
    child<QAbstractButton>("moveInside")->click();
    dragOnCanvas(stood.centre(), {stood.centre().x + 24, stood.centre().y + 12});
    const PictureLayer& moved = *session().piece()->layer(1)->picture();
    EXPECT_NEAR(moved.place.x, 24, 8) << "snapping may hold it";
    const RealPoint corner =
        inFrame(moved, {moved.cuts[0].shape()->box.x, moved.cuts[0].shape()->box.y});
    EXPECT_NEAR(corner.x, stood.x, 1e-6);
    EXPECT_NEAR(corner.y, stood.y, 1e-6);
}

TEST_F(EdgesTest, RoundedCornersInBothUnitsAndPolygonsByHand) {
    openDisc();
    pick("addRoundedCut");
    EXPECT_TRUE(cuts()[0].shape()->radiiAreShares);
    type("cut-0-radius", "25");
    EXPECT_EQ(cuts()[0].shape()->radii, (std::array<double, 4>{25, 25, 25, 25}));
    Q_EMIT child<QComboBox>("cutUnit-0")->activated(0);
    EXPECT_EQ(cuts()[0].shape()->radii[0], 40) << "25 % of 160 px";
    type("cut-0-radius2", "0");
    EXPECT_EQ(alphaOf(pixel(199, 159)), 255) << "the lower right corner is square";
    EXPECT_EQ(alphaOf(pixel(0, 0)), 0);
    pick("addPolygonCut");
    ASSERT_EQ(cuts().size(), 2u);
    child<QAbstractButton>("cutPlace-1")->click();
    EXPECT_EQ(cuts()[1].shape()->points.size(), 4u);
    dragOnCanvas({100, 0}, {100, 30});
    EXPECT_NEAR(cuts()[1].shape()->points[0].y, 30, 1);
    QTest::mouseDClick(&window->canvas(), Qt::LeftButton, {},
                       window->canvas().toWidget({150, 55}).toPoint());
    EXPECT_EQ(cuts()[1].shape()->points.size(), 5u);
    QTest::mouseClick(&window->canvas(), Qt::RightButton, {},
                      window->canvas().toWidget({150, 55}).toPoint());
    EXPECT_EQ(cuts()[1].shape()->points.size(), 4u);
}

TEST_F(EdgesTest, AHiddenRegionIsPlacedByHand) {
    openDisc();
    pick("veilCoarse");
    const auto& veils = session().piece()->layer(1)->picture()->veils;
    ASSERT_EQ(veils.size(), 1u);
    const RealRect before = veils[0].region;
    ASSERT_TRUE(comesTrue([&] { return window->findChild<QAbstractButton*>("veil-0-place"); }));
    child<QAbstractButton>("veil-0-place")->click();
    dragOnCanvas(before.centre(), {before.centre().x - 20, before.centre().y + 15});
    const RealRect after = session().piece()->layer(1)->picture()->veils[0].region;
    EXPECT_NEAR(after.x, before.x - 20, 1.01);
    EXPECT_NEAR(after.y, before.y + 15, 1.01);
    EXPECT_EQ(after.width, before.width);
}

TEST_F(EdgesTest, WhatIsTypedCountsWhenTheWindowCloses) {
    openDisc();
    auto* field = child<QLineEdit>("left");
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, "12");
    unsaved = {Unsaved::discard};
    window->close();
    EXPECT_TRUE(comesTrue([&] { return !asked.empty(); }))
        << "an edit that was only typed is an edit";
    EXPECT_NEAR(session().piece()->layer(1)->picture()->place.x, 12, 1e-9);
}

}  // namespace
}  // namespace zl::app
