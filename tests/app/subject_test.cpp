// SPDX-License-Identifier: GPL-3.0-or-later
// A subject cut out in the window: by mouse once, by keyboard once, each to the file written.
#include <QComboBox>
#include <QMenu>
#include <QToolButton>

#include "cut/subject/subject.h"
#include "demo/cat.h"
#include "make/canvas/canvas.h"
#include "picture/decode.h"
#include "window.h"

namespace zl::app {
namespace {

class SubjectTest : public WindowTest {
  protected:
    // The demo's cat, whole, in a thumbnail of its own.
    void openPhotograph() {
        openDemo("cat-first-try");
        session().choice().chooseLayer(1);
        Layer layer = *session().layer();
        layer.picture()->cuts.clear();
        ASSERT_TRUE(session().apply(withChangedLayer(session().kit(), session().piece()->id, layer),
                                    "whole"));
        ASSERT_TRUE(comesTrue([this] { return child<QWidget>("addSubject")->isVisible(); }));
    }
    const SubjectCut* cut() {
        const PictureLayer* picture = session().picture();
        return picture && !picture->cuts.empty() ? picture->cuts.front().subject() : nullptr;
    }
    bool ready() {
        return comesTrue([this] {
            const SubjectState* state = session().subject().state();
            return state && cut() && state->of == *cut() && state->report &&
                   !session().subject().working();
        });
    }
    bool kept(double x, double y) {  // px of the original
        const SubjectState* state = session().subject().state();
        const double scale = static_cast<double>(state->matte.width()) / state->start->size.width;
        return qGray(state->matte.pixel(static_cast<int>(x * scale), static_cast<int>(y * scale))) >
               200;
    }
    // Where px of the original are on the canvas.
    QPoint there(double x, double y) {
        const RealPoint p = inFrame(*session().picture(), {x, y});
        return at(p.x, p.y);
    }
    Picture released(const std::string& name) {
        EXPECT_TRUE(measured());
        window->showView(MainWindow::release);
        child<QAbstractButton>("releaseNow")->click();
        std::string file;
        EXPECT_TRUE(comesTrue([&] {
            for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
                if (entry.path().stem() == name && entry.path().extension() != ".json")
                    file = entry.path().filename().string();
            return !file.empty();
        }));
        return good(decode(fileNamed(file), file));
    }
    const RealPoint chest{852, 415}, leaves{130, 80};
};

TEST_F(SubjectTest, ByMouseAPhotographBecomesAThumbnailWithItsSubjectBeforeTheTitle) {
    openPhotograph();
    click("addSubject");
    ASSERT_TRUE(ready());
    EXPECT_TRUE(session().subject().state()->report->trusted());
    EXPECT_TRUE(child<QLabel>("subjectTrust")->text().contains("likely right"));
    EXPECT_TRUE(comesTrue([this] { return child<QToolButton>("subjectGuess-0")->isEnabled(); }));
    EXPECT_TRUE(kept(chest.x, chest.y));
    EXPECT_FALSE(kept(leaves.x, leaves.y));
    // A hole, and back again.
    child<QAbstractButton>("subjectDrop")->click();
    drag(there(chest.x, chest.y - 20), there(chest.x, chest.y + 20));
    ASSERT_EQ(cut()->strokes.size(), 1U);
    EXPECT_FALSE(cut()->strokes.front().restores);
    ASSERT_TRUE(ready());
    EXPECT_FALSE(kept(chest.x, chest.y));
    // The strokes can be seen: the canvas is another picture while the brush is in the hand.
    const QImage with = window->canvas().grab().toImage();
    QTest::keyClick(&window->canvas(), Qt::Key_Return);
    EXPECT_NE(window->canvas().grab().toImage(), with);
    child<QAbstractButton>("subjectStrokeOut")->click();
    EXPECT_TRUE(cut()->strokes.empty());
    ASSERT_TRUE(ready());
    EXPECT_TRUE(kept(chest.x, chest.y));
    // The title between ground and subject, in one step.
    for (QAction* action : child<QToolButton>("subjectGround")->menu()->actions())
        if (action->objectName() == "groundLetters") action->trigger();
    ASSERT_EQ(session().piece()->layers.size(), 3U);
    EXPECT_TRUE(session().piece()->layers[1].lettering());
    EXPECT_EQ(session().piece()->layers[0].name, "Cat on the boards · ground");
    const Picture file = released("cat-cut");
    EXPECT_EQ(file.facts.size, (PixelSize{1280, 720}));
    EXPECT_TRUE(file.opaque);
}

TEST_F(SubjectTest, ByKeyboardABoxAndAStrokeCutItOut) {
    openPhotograph();
    child<QWidget>("addSubject")->setFocus();
    QTest::keyClick(child<QWidget>("addSubject"), Qt::Key_Space);
    ASSERT_TRUE(ready());
    child<QWidget>("subjectBox")->setFocus();
    QTest::keyClick(child<QWidget>("subjectBox"), Qt::Key_Space);
    QWidget* canvas = &window->canvas();
    ASSERT_TRUE(comesTrue([&] { return canvas->hasFocus(); }));
    const auto press = [&](Qt::Key key, int times, Qt::KeyboardModifiers keys = Qt::NoModifier) {
        for (int i = 0; i < times; ++i) QTest::keyClick(canvas, key, keys);
    };
    // From the middle of the picture, in steps of 10 px, to the box's corners.
    const RealRect box = demo::catBox({1280, 720});
    press(Qt::Key_Right, static_cast<int>((box.x - 640) / 10), Qt::ShiftModifier);
    press(Qt::Key_Up, static_cast<int>((360 - box.y) / 10) + 1, Qt::ShiftModifier);
    press(Qt::Key_Space, 1);
    press(Qt::Key_Right, static_cast<int>(box.width / 10) + 2, Qt::ShiftModifier);
    press(Qt::Key_Down, static_cast<int>(box.height / 10) + 2, Qt::ShiftModifier);
    press(Qt::Key_Space, 1);
    ASSERT_TRUE(cut()->box.has_value());
    EXPECT_NEAR(cut()->box->x, box.x, 14);
    EXPECT_NEAR(cut()->box->bottom(), box.bottom(), 24);
    ASSERT_TRUE(ready());
    EXPECT_TRUE(kept(chest.x, chest.y));
    EXPECT_FALSE(kept(leaves.x, leaves.y));
    // A keep stroke, wider by a key; K and D change sides.
    child<QWidget>("subjectKeep")->setFocus();
    QTest::keyClick(child<QWidget>("subjectKeep"), Qt::Key_Space);
    ASSERT_TRUE(comesTrue([&] { return canvas->hasFocus(); }));
    press(Qt::Key_BracketRight, 3);
    press(Qt::Key_Space, 1);
    press(Qt::Key_Right, 2, Qt::ShiftModifier);
    press(Qt::Key_Space, 1);
    press(Qt::Key_D, 1);
    press(Qt::Key_Space, 2);
    ASSERT_EQ(cut()->strokes.size(), 2U);
    EXPECT_TRUE(cut()->strokes[0].restores);
    EXPECT_FALSE(cut()->strokes[1].restores);
    EXPECT_GT(cut()->strokes[0].radius, 10);
    press(Qt::Key_N, 1);  // an unsure place, where there is one
    press(Qt::Key_Return, 1);
    ASSERT_TRUE(ready());
    const Picture file = released("cat-cut");
    EXPECT_FALSE(file.opaque);
}

TEST_F(SubjectTest, IsSeenAsMatteAndAsTheOriginalDimmed) {
    openDemo("cat-first-try");
    session().choice().chooseLayer(1);
    ASSERT_TRUE(ready());
    EXPECT_TRUE(child<QWidget>("subjectAgain")->isVisible());
    EXPECT_EQ(child<QComboBox>("subjectEdge")->currentText(), "Tighter");
    const auto seenAt = [&](double x, double y) {
        return window->canvas().grab().toImage().pixelColor(there(x, y));
    };
    const auto show = [&](SubjectLook look) {
        auto* box = child<QComboBox>("subjectLook");
        box->setCurrentIndex(box->findData(static_cast<int>(look)));
        Q_EMIT box->activated(box->currentIndex());
    };
    show(SubjectLook::matte);
    EXPECT_TRUE(comesTrue([&] { return seenAt(leaves.x, leaves.y) == QColor(0, 0, 0); }, 10'000));
    EXPECT_EQ(seenAt(chest.x, chest.y), QColor(255, 255, 255));
    show(SubjectLook::original);
    const QColor dim = seenAt(leaves.x, leaves.y);
    EXPECT_LT(dim.lightness(), 60);
    EXPECT_GT(seenAt(chest.x, chest.y).lightness(), 100);
    show(SubjectLook::cutOut);
    // Another layer's choice leaves nothing of it behind.
    session().choice().choosePiece("thumbnail");
    EXPECT_TRUE(comesTrue([this] { return session().subject().state() == nullptr; }));
}

TEST_F(SubjectTest, GuessAgainFindsTheWholeCatAndUndoBringsTheBoxBack) {
    openDemo("cat-first-try");
    session().choice().chooseLayer(1);
    ASSERT_TRUE(ready());
    const RealPoint tail{1216, 336};
    EXPECT_FALSE(kept(tail.x, tail.y));
    child<QAbstractButton>("subjectAgain")->click();
    ASSERT_TRUE(ready());
    EXPECT_FALSE(cut()->box.has_value());
    EXPECT_TRUE(kept(tail.x, tail.y));
    session().document().history().undo();
    ASSERT_TRUE(ready());
    EXPECT_TRUE(cut()->box.has_value());
}

TEST_F(SubjectTest, AFlatGroundIsLeftToTheColourKey) {
    openDemo("corner-mark-on-white");
    session().choice().chooseLayer(1);
    click("addSubject");
    ASSERT_TRUE(ready());
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("subjectKey")->isVisible(); }));
    EXPECT_TRUE(child<QLabel>("subjectSays")->text().contains("colour key"));
    child<QAbstractButton>("subjectKey")->click();
    ASSERT_EQ(session().picture()->cuts.size(), 1U);
    EXPECT_TRUE(session().picture()->cuts.front().key());
}

}  // namespace
}  // namespace zl::app
