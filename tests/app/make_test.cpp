// SPDX-License-Identifier: GPL-3.0-or-later
// Make: picking, dragging, scaling, nudging, fields, letters, the stack of layers, pictures coming
// in.
#include <QClipboard>
#include <QComboBox>
#include <QListWidget>
#include <QPlainTextEdit>

#include "picture/shrink.h"
#include "store/kit_file.h"
#include "window.h"

namespace zl::app {
namespace {

class Make : public WindowTest {
  protected:
    // Types a name for the chosen row, without ending it.
    static QLineEdit* typeName(QListWidget* list, const QString& name) {
        list->setFocus();
        QTest::keyClick(list, Qt::Key_F2);
        auto* editor = list->findChild<QLineEdit*>();
        if (!editor) return nullptr;
        editor->selectAll();
        QTest::keyClicks(editor, name);
        return editor;
    }
    // A grey ground and a 200 x 100 picture at (400, 300), both kept as inks once they were shown.
    void openTwoLayers() {
        Kit kit = test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                    Straight8::cleared({1280, 720}, packed(90, 90, 90, 255)),
                                    {0, 0, 1280, 720}, "ground.png");
        kit = test::withPicture(kit, test::textured({200, 100}), {400, 300, 200, 100}, "mark.png");
        session().files().openValue(kit, folder / "two.zlkit");
        ASSERT_TRUE(measured());
    }
    RealRect place() { return layer().picture()->place; }
    void key(int which, Qt::KeyboardModifiers keys = Qt::NoModifier) {
        QTest::keyClick(&window->canvas(), static_cast<Qt::Key>(which), keys);
    }
    int steps() { return session().document().history().count(); }
};

TEST_F(Make, AClickPicksWhatItHits) {
    openTwoLayers();
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, {}, at(450, 350));
    EXPECT_EQ(layer().name, "mark");
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, {}, at(100, 100));
    EXPECT_EQ(layer().name, "ground");
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, {}, QPoint(3, 3));
    EXPECT_FALSE(session().layer()) << "beside the frame nothing is picked";
    key(Qt::Key_PageUp);
    key(Qt::Key_PageUp);
    EXPECT_EQ(layer().name, "mark") << "by the keyboard alone";
    key(Qt::Key_Escape);
    EXPECT_FALSE(session().layer());
}

TEST_F(Make, ADragMovesAndIsOneStep) {
    openTwoLayers();
    const double scale = window->canvas().shownScale();
    const QPoint from = at(450, 350), to = from + QPoint(60, -30);
    drag(from, to);
    EXPECT_NEAR(place().x, 400 + 60 / scale, 1 + 6 / scale) << "but for what snapping takes";
    EXPECT_NEAR(place().y, 300 - 30 / scale, 1 + 6 / scale);
    EXPECT_EQ(place().x, std::round(place().x)) << "whole px stay sharp";
    EXPECT_EQ(steps(), 1);
    drag(at(place().x + 50, place().y + 50), at(place().x + 50, place().y + 50) + QPoint(2, 0));
    EXPECT_EQ(steps(), 1) << "a trembling click is no drag";
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(place(), (RealRect{400, 300, 200, 100}));
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_NE(place(), (RealRect{400, 300, 200, 100}));
}

TEST_F(Make, ADragThatComesBackLeavesNoStep) {
    openTwoLayers();
    QWidget* canvas = &window->canvas();
    const QPoint from = at(450, 350);
    QTest::mousePress(canvas, Qt::LeftButton, {}, from);
    for (const QPoint by : {QPoint(20, 0), QPoint(0, 0)}) {
        QMouseEvent move(QEvent::MouseMove, from + by, canvas->mapToGlobal(from + by), Qt::NoButton,
                         Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(canvas, &move);
    }
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, from);
    EXPECT_EQ(steps(), 0);
    EXPECT_FALSE(session().document().changed());
}

TEST_F(Make, CornersHoldTheShapeUnlessCtrlFreesIt) {
    openTwoLayers();
    session().choice().chooseLayer(2);
    const QPoint corner = at(600, 400);
    drag(corner, corner + QPoint(60, 5));
    EXPECT_NEAR(place().width / place().height, 2, 1e-9);
    EXPECT_GT(place().width, 240);
    EXPECT_EQ(place().x, 400) << "the opposite corner stands";
    EXPECT_EQ(place().y, 300);
    const QPoint next = at(place().right(), place().bottom());
    drag(next, next + QPoint(0, 50), Qt::ControlModifier);
    EXPECT_LT(place().width / place().height, 1.9);
    const RealRect before = place();
    drag(at(before.x, before.y), at(before.x, before.y) + QPoint(-20, -20));
    EXPECT_NEAR(place().right(), before.right(), 1e-9)
        << "the top left corner scales about the bottom right";
    EXPECT_NEAR(place().bottom(), before.bottom(), 1e-9);
}

TEST_F(Make, ArrowsNudgeOnePxAndTenWithShift) {
    openTwoLayers();
    session().choice().chooseLayer(2);
    window->canvas().setFocus();
    key(Qt::Key_Right);
    key(Qt::Key_Down, Qt::ShiftModifier);
    key(Qt::Key_Left, Qt::ShiftModifier);
    key(Qt::Key_Up);
    EXPECT_EQ(place(), (RealRect{391, 309, 200, 100}));
    EXPECT_EQ(steps(), 1) << "nudges in a row are one step";
}

TEST_F(Make, FieldsTakeArithmeticAndNeverChangeWhatWasTyped) {
    openTwoLayers();
    session().choice().chooseLayer(2);
    type("left", "1280/2-(200/2)");
    EXPECT_EQ(place().x, 540);
    type("width", "150*2");
    EXPECT_EQ(place(), (RealRect{540, 300, 300, 150})) << "the shape is held";
    click("keepShape");
    type("height", "100");
    EXPECT_EQ(place(), (RealRect{540, 300, 300, 100}));
    const int before = steps();
    type("left", "540");
    EXPECT_EQ(steps(), before) << "an equal value pushes nothing";

    auto* left = child<NumberField>("left");
    for (const char* bad : {"12*", "abc", "1/0", "999999999"}) {
        type("left", bad);
        EXPECT_EQ(left->text(), bad) << "it stays as it was typed";
        EXPECT_TRUE(left->property("bad").toBool());
        EXPECT_FALSE(left->refusal().isEmpty()) << "and the reason is said";
    }
    EXPECT_EQ(place().x, 540);
    QTest::keyClick(left, Qt::Key_Escape);
    EXPECT_EQ(left->text(), "540");
    EXPECT_FALSE(left->property("bad").toBool());
    QTest::keyClick(left, Qt::Key_Up);
    EXPECT_EQ(place().x, 541);
    QTest::keyClick(left, Qt::Key_Down, Qt::ShiftModifier);
    EXPECT_EQ(place().x, 531);
    type("opacity", "40");
    EXPECT_DOUBLE_EQ(layer().opacity, 0.4);
    type("opacity", "140");
    EXPECT_DOUBLE_EQ(layer().opacity, 0.4);
    QTest::keyClick(child<QLineEdit>("opacity"), Qt::Key_Escape);
    click("fillFrame");
    EXPECT_NEAR(place().width / place().height, 2, 1e-9);
    EXPECT_GE(place().width, 1280);
    EXPECT_GE(place().height, 720);
}

TEST_F(Make, LettersAreSetInTheBench) {
    openDemo();
    session().choice().chooseLayer(4);
    ASSERT_TRUE(comesTrue([this] { return child<QComboBox>("family")->count() > 1; }))
        << "fonts are listed aside";
    const auto letters = [this] { return *layer().lettering(); };
    auto* family = child<QComboBox>("family");
    family->setFocus();
    QTest::keyClick(family, Qt::Key_Down);
    EXPECT_EQ(letters().family, "Zinc Sans");
    EXPECT_EQ(letters().style, "SemiBold") << "a style that the family has";
    auto* style = child<QComboBox>("style");
    style->setFocus();
    QTest::keyClick(style, Qt::Key_Up);
    EXPECT_EQ(letters().style, "Medium");
    type("leading", "1.25");
    EXPECT_EQ(letters().leading, 1.25);
    click("alignRight");
    EXPECT_EQ(letters().align, Align::right);
    type("finish-0-px", "4+3");
    EXPECT_EQ(layer().finishes.at(0).value("px"), 7);
    type("finish-0-colourText", "0b7a75");
    EXPECT_EQ(nameOf(layer().finishes.at(0).colour), "#0B7A75");
    type("colourText", "mauve");
    EXPECT_EQ(child<QLineEdit>("colourText")->text(), "mauve");
    EXPECT_EQ(nameOf(letters().colour), "#FFC653") << "no colour, no change";
    auto* text = child<QPlainTextEdit>("text");
    const int before = steps();
    text->setFocus();
    text->selectAll();
    QInputMethodEvent composed;  // as a dead key or an input method sends it
    composed.setCommitString("É");
    QApplication::sendEvent(text, &composed);
    typeLines(text, "CHO\nvif");
    EXPECT_EQ(letters().text, "ÉCHO\nvif");
    EXPECT_EQ(steps(), before + 1) << "typing in a row is one step";
    QTest::mouseDClick(&window->canvas(), Qt::LeftButton, {},
                       at(letters().at.x + 20, letters().at.y + 60));
    EXPECT_TRUE(text->hasFocus()) << "a double click wants the text";
}

TEST_F(Make, AMissingFontIsSaidBesideTheField) {
    Kit kit =
        test::withLetters(test::kitWith("video-thumbnail", {1280, 720}), "Hello", 100, {100, 100});
    Layer layer = kit.pieces[0].layers[0];
    layer.lettering()->family = "No Such Font";
    session().files().openValue(good(withChangedLayer(kit, "p", layer)), folder / "x.zlkit");
    session().choice().chooseLayer(1);
    EXPECT_TRUE(comesTrue([this] {
        for (QLabel* label : window->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains("“No Such Font” is not here"))
                return true;
        return false;
    }));
    EXPECT_EQ(session().layer()->lettering()->family, "No Such Font")
        << "nothing is changed by looking";
}

// Ids of layers count in their piece alone: what was begun in one is not ended in another.
TEST_F(Make, WhatIsBegunInAPieceIsItsOwn) {
    openDemo();
    auto* list = child<QListWidget>("layers");
    list->setCurrentRow(3);
    ASSERT_TRUE(typeName(list, "Evening sky"));
    trigger("nextPiece");
    ASSERT_TRUE(
        comesTrue([this] { return session().kit().pieces[0].layers[0].name == "Evening sky"; }));
    EXPECT_EQ(session().kit().pieces[1].layers, test::madeDemo().kit.pieces[1].layers);
    EXPECT_EQ(list->count(), static_cast<int>(piece().layers.size()));
    EXPECT_EQ(list->item(0)->text().toStdString(), piece().layers.back().name);
    // A drag that the hand goes on with.
    trigger("previousPiece");
    Canvas& canvas = window->canvas();
    const QPoint from = canvas.toWidget({640, 60}).toPoint();
    const Kit before = session().kit();
    QTest::mousePress(&canvas, Qt::LeftButton, Qt::ControlModifier, from);
    QTest::mouseMove(&canvas, from + QPoint(20, 10));
    const Kit dragged = session().kit();
    ASSERT_NE(dragged, before);
    trigger("nextPiece");
    QTest::mouseMove(&canvas, from + QPoint(60, 40));
    QTest::mouseRelease(&canvas, Qt::LeftButton, Qt::ControlModifier, from + QPoint(60, 40));
    EXPECT_EQ(session().kit().pieces[1].layers, dragged.pieces[1].layers);
    EXPECT_EQ(session().kit(), dragged);
}

TEST_F(Make, ALayersNameThatIsBeingTypedIsSavedAndAskedForWhenTheWindowCloses) {
    openTwoLayers();
    session().choice().chooseLayer(1);
    auto* list = child<QListWidget>("layers");
    ASSERT_TRUE(typeName(list, "Typed"));
    trigger("saveKit");
    ASSERT_TRUE(comesTrue([this] { return !session().files().busy(); }));
    EXPECT_EQ(good(openKit(folder / "two.zlkit")).pieces[0].layers[0].name, "Typed");
    EXPECT_FALSE(session().document().changed());
    QTest::qWait(20);
    ASSERT_TRUE(typeName(list, "Typed on"));
    unsaved = {Unsaved::cancel};
    window->close();
    EXPECT_EQ(asked, std::vector<std::string>{"unsaved"});
    EXPECT_EQ(piece().layers[0].name, "Typed on");
    QTest::qWait(20);
    EXPECT_EQ(list->item(1)->text(), "Typed on");
}

TEST_F(Make, TheStackReordersRenamesHidesDuplicatesDeletes) {
    openDemo();
    auto* list = child<QListWidget>("layers");
    ASSERT_EQ(list->count(), 4);
    EXPECT_EQ(list->item(0)->text(), "Title, second line") << "top first";
    list->setCurrentRow(3);
    EXPECT_EQ(layer().name, "Dusk at the box");
    click("raiseLayer");
    EXPECT_EQ(piece().layers[1].name, "Dusk at the box");
    click("lowerLayer");
    EXPECT_EQ(piece().layers[0].name, "Dusk at the box");

    QLineEdit* editor = typeName(list, "Evening sky");
    ASSERT_TRUE(editor);
    QTest::keyClick(editor, Qt::Key_Return);
    ASSERT_TRUE(comesTrue([this] { return piece().layers[0].name == "Evening sky"; }));

    QTest::keyClick(list, Qt::Key_Space);
    EXPECT_TRUE(piece().layers[0].hidden);
    QTest::mouseClick(
        list->viewport(), Qt::LeftButton, {},
        window->findChild<LayerList*>()->eyeRect(list->model()->index(3, 0)).center());
    EXPECT_FALSE(piece().layers[0].hidden) << "the eye shows it again";

    click("doubleLayer");
    ASSERT_EQ(piece().layers.size(), 5u);
    EXPECT_EQ(layer().name, "Evening sky copy");
    QTest::keyClick(list, Qt::Key_Delete);
    EXPECT_EQ(piece().layers.size(), 4u);
    for (int i = 0; i < 7; ++i) session().document().history().undo();
    EXPECT_EQ(piece(), test::madeDemo().kit.pieces[0]) << "every edit goes back";
}

TEST_F(Make, PicturesComeInByDropAndPaste) {
    openTwoLayers();
    const QString one = write("first.png", test::png(test::textured({64, 36}))),
                  two = write("second.jpg", test::jpeg(test::textured({64, 64}))),
                  bad = write("broken.png", test::bytesOf("\x89PNG\r\n\x1a\n and then nothing"));
    dropFiles({QUrl::fromLocalFile(one), QUrl::fromLocalFile(two), QUrl::fromLocalFile(bad)});
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 4 && !told.empty(); }))
        << "two of the three";
    EXPECT_TRUE(told.back().contains("broken.png cannot be read"));
    EXPECT_TRUE(child<QLabel>("noticeText")->isVisible());

    QImage image(40, 20, QImage::Format_ARGB32);
    image.fill(QColor(10, 20, 200, 128));
    QApplication::clipboard()->setImage(image);
    trigger("paste");
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 5; }));
    EXPECT_EQ(piece().layers.back().name, "Pasted picture");
    const Asset* asset = session().kit().asset(piece().layers.back().picture()->source);
    EXPECT_EQ(good(decode(*asset->bytes, "pasted")).pixels->row(3)[3], packed(10, 20, 200, 128))
        << "alpha and all";
    QApplication::clipboard()->setText("words");
    trigger("paste");
    EXPECT_TRUE(notice().contains("no picture to paste"));
}

TEST_F(Make, TheCanvasShowsWhatTheCoreRenders) {
    openTwoLayers();
    click("backdropBlack");
    click("zones");
    click("zoom100");
    session().choice().chooseLayer(0);
    Canvas& canvas = window->canvas();
    InkStore store;
    const Straight8 frame = good(render({piece(), session().kit()}, store));
    // Around the picture, well inside the viewport.
    const auto same = [&] {
        const QImage grabbed = canvas.grab().toImage();
        for (int y = 280; y < 420; ++y)
            for (int x = 380; x < 620; ++x) {
                const QPoint p = canvas.toWidget({x + 0.5, y + 0.5}).toPoint();
                const std::uint32_t wanted = frame.row(y)[x];
                const QRgb got = grabbed.pixel(
                    static_cast<int>(std::floor(canvas.toWidget({x + 0.5, y + 0.5}).x())),
                    static_cast<int>(std::floor(canvas.toWidget({x + 0.5, y + 0.5}).y())));
                if (!canvas.rect().contains(p) || qRed(got) != redOf(wanted) ||
                    qGreen(got) != greenOf(wanted) || qBlue(got) != blueOf(wanted))
                    return false;
            }
        return true;
    };
    EXPECT_TRUE(comesTrue(same, 5000));
    session().choice().chooseLayer(2);
    drag(at(450, 350), at(450, 350) + QPoint(33, 21));
    session().choice().chooseLayer(0);
    const Straight8 moved = good(render({piece(), session().kit()}, store));
    EXPECT_TRUE(comesTrue(
        [&] {
            const QImage grabbed = canvas.grab().toImage();
            for (int y = 280; y < 440; y += 3)
                for (int x = 380; x < 640; x += 3) {
                    const QPointF p = canvas.toWidget({x + 0.5, y + 0.5});
                    const QRgb got = grabbed.pixel(static_cast<int>(std::floor(p.x())),
                                                   static_cast<int>(std::floor(p.y())));
                    if (qRed(got) != redOf(moved.row(y)[x]) ||
                        qBlue(got) != blueOf(moved.row(y)[x]))
                        return false;
                }
            return true;
        },
        5000))
        << "the patches of a drag add up";
}

TEST_F(Make, ACropIsTypedDraggedAndCentred) {
    openTwoLayers();
    session().choice().chooseLayer(2);
    const auto crop = [this] { return layer().picture()->crop; };
    type("cropWidth", "100");
    EXPECT_EQ(crop(), (RealRect{0, 0, 100, 50})) << "the shape is held";
    EXPECT_EQ(place(), (RealRect{400, 300, 200, 100})) << "and the picture stays where it is";
    type("cropLeft", "12.5");
    EXPECT_EQ(crop().x, 12.5) << "a box of real numbers";
    auto* top = child<NumberField>("cropTop");
    type("cropTop", "60");
    EXPECT_EQ(top->text(), "60") << "what was typed stays";
    EXPECT_TRUE(top->refusal().contains("reaches past the original"));
    EXPECT_EQ(crop().y, 0);
    QTest::keyClick(top, Qt::Key_Escape);

    click("cropOnPicture");
    EXPECT_TRUE(window->canvas().cropping());
    const QPoint inside = at(60, 25);
    drag(inside, at(80, 40));
    EXPECT_NEAR(crop().x, 32.5, 1.01);
    EXPECT_NEAR(crop().y, 15, 1.01);
    drag(at(crop().right(), crop().bottom()), at(crop().right() + 500, crop().bottom() + 500));
    EXPECT_LE(crop().right(), 200.001) << "the hand meets the original's edge";
    EXPECT_NEAR(crop().width / crop().height, 2, 1e-6);
    key(Qt::Key_Left);
    key(Qt::Key_Return);
    EXPECT_FALSE(window->canvas().cropping());
    QTest::keyClick(window.get(), Qt::Key_K, Qt::ControlModifier);
    EXPECT_TRUE(window->canvas().cropping()) << "by the keyboard";
    QTest::keyClick(&window->canvas(), Qt::Key_Escape);
    const RealRect before = crop();
    click("cropCentre");
    ASSERT_TRUE(comesTrue([&] { return !(crop() == before); }));
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(crop(), before) << "another crop is one undo away";
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("stretch").verdict, Verdict::pass);
}

TEST_F(Make, ADragSnapsAndCtrlLetsGo) {
    openTwoLayers();
    const double scale = window->canvas().shownScale();
    // 400 + 138 = 538: the centre, at 540, is 2 px away.
    const QPoint from = at(450, 350),
                 to = from + QPoint(static_cast<int>(std::lround(138 * scale)), 0);
    drag(from, to);
    EXPECT_EQ(place().centre().x, 640) << "drawn to the middle of the frame";
    session().document().history().undo();
    drag(from, to, Qt::ControlModifier);
    EXPECT_NE(place().centre().x, 640);
}

TEST_F(Make, ReferencesAreSaidOnTheirRowAndStayOutOfTheRelease) {
    openTwoLayers();
    answers = {write("template.png", test::png(test::textured({64, 36})))};
    trigger("addReferenceAction");
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 3; }));
    EXPECT_TRUE(layer().isReference());
    EXPECT_EQ(child<QListWidget>("layers")->item(0)->data(Qt::AccessibleDescriptionRole).toString(),
              "reference, not released");
    ASSERT_TRUE(measured());
    EXPECT_EQ(window->readings().state("p")->frame->row(100)[100], packed(90, 90, 90, 255))
        << "the ground, not the reference over it";
    trigger("referenceAction");
    EXPECT_FALSE(layer().isReference());
    trigger("essentialAction");
    EXPECT_EQ(layer().essential, true);
}

TEST_F(Make, TwiceTheFrameAndRecentThings) {
    openTwoLayers();
    trigger("twiceFrame");
    EXPECT_EQ(piece().frame, (PixelSize{2560, 1440}));
    EXPECT_EQ(piece().layers[1].picture()->place, (RealRect{800, 600, 400, 200}));
    const QString file = write("ink & light.png", test::png(test::textured({20, 20})));
    session().intake().bringIn(std::vector<Path>{file.toStdString()});
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 3; }));
    EXPECT_EQ(recentFiles("recentPictures"), QStringList{file});
    auto* recent = window->findChild<QMenu*>("recentPictures");
    Q_EMIT recent->aboutToShow();
    EXPECT_EQ(recent->actions().front()->text(), "ink && light.png") << "the name's own sign";
    std::filesystem::remove(file.toStdString());
    EXPECT_TRUE(recentFiles("recentPictures").isEmpty()) << "what is gone is not offered";
    auto* zones = child<QAbstractButton>("zones");
    EXPECT_TRUE(zones->isChecked());
    zones->click();
    EXPECT_FALSE(window->canvas().zonesShown());
}

TEST_F(Make, ZoomKeepsThePointUnderThePointer) {
    openTwoLayers();
    Canvas& canvas = window->canvas();
    const QPoint pointer(300, 200);
    const RealPoint before = canvas.toFrame(pointer);
    QWheelEvent wheel(pointer, canvas.mapToGlobal(pointer), {}, {0, 120}, Qt::NoButton,
                      Qt::ControlModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&canvas, &wheel);
    const RealPoint after = canvas.toFrame(pointer);
    EXPECT_NEAR(before.x, after.x, 1.5);
    EXPECT_NEAR(before.y, after.y, 1.5);
    trigger("zoom200Action");
    EXPECT_DOUBLE_EQ(canvas.shownScale(), 2);
    trigger("fitAction");
    EXPECT_LT(canvas.shownScale(), 1);
}

TEST_F(Make, PicturesThatComeTogetherLieInTheirOrder) {
    openTwoLayers();
    // The first takes the longest to be read and decoded.
    std::vector<Path> files;
    const std::pair<const char*, PixelSize> pictures[] = {
        {"ground.png", {1600, 1200}}, {"person.png", {300, 200}}, {"logo.png", {20, 20}}};
    for (const auto& [name, size] : pictures)
        files.emplace_back(write(name, test::png(test::noisy(size))).toStdString());
    files.insert(files.begin() + 1, folder / "gone.png");
    session().intake().bringIn(files);
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 5; }));
    EXPECT_EQ(piece().layers[2].name, "ground");
    EXPECT_EQ(piece().layers[3].name, "person");
    EXPECT_EQ(piece().layers[4].name, "logo");
    EXPECT_TRUE(told.back().contains("gone.png")) << "what cannot be read holds up nothing";
    // What is on its way when another kit is opened does not come into that.
    session().intake().bringIn(files);
    Kit other = session().kit();
    other.title = "Another channel";
    session().files().openValue(other, folder / "other.zlkit");
    QTest::qWait(400);
    EXPECT_EQ(piece().layers.size(), 5u);
}

TEST_F(Make, WithoutALayerTheBenchShowsThePiece) {
    openTwoLayers();
    session().choice().chooseLayer(0);
    type("frameWidth", "2560");
    type("frameHeight", "1440");
    EXPECT_EQ(piece().frame, (PixelSize{2560, 1440}));
    type("frameHeight", "0");
    EXPECT_EQ(piece().frame.height, 1440);
    type("pieceTitle", "Episode twelve");
    EXPECT_EQ(piece().title, "Episode twelve");
    EXPECT_TRUE(child<QLabel>("crumb")->text().contains("Episode twelve"));
    type("pieceTitle", "");
    EXPECT_EQ(piece().title, "Episode twelve") << "a piece needs a title";
    // What has no room in the head ends in "…" and is whole where the mouse rests.
    type("pieceTitle", "Episode twelve, the lever that stuck, and what we did about it");
    auto* crumb = child<QLabel>("crumb");
    EXPECT_TRUE(crumb->text().contains("…"));
    EXPECT_TRUE(crumb->toolTip().contains("what we did about it"));
    QTextDocument line;
    line.setDocumentMargin(0);
    line.setDefaultFont(crumb->font());
    line.setHtml(crumb->text());
    EXPECT_LE(line.idealWidth(), crumb->width());
}

}  // namespace
}  // namespace zl::app
