// SPDX-License-Identifier: GPL-3.0-or-later
// A still from a video, in the real window: opened, stepped through by mouse and by keys, taken in
// the piece's picture's place, gone back to. The clips are made by FFmpeg's own program.
#include <QComboBox>
#include <QToolButton>

#include "film/film_view.h"
#include "store/kit_file.h"
#include "window.h"

namespace zl::app {
namespace {

class FilmTest : public WindowTest {
  protected:
    // Two seconds at 30 frames a second, each frame another one.
    QString clip() {
        const std::string file = (folder / "clip.mp4").string();
        const std::string made =
            "ffmpeg -v error -y -f lavfi -i testsrc2=s=480x270:r=30:d=2 -c:v libx264 -bf 3 -g 30 "
            "-pix_fmt yuv420p " +
            file;
        EXPECT_EQ(std::system(made.c_str()), 0);
        return QString::fromStdString(file);
    }
    void start() {
        session().files().openValue(test::kitWith("video-thumbnail", {1280, 720}),
                                    folder / "one.zlkit");
    }
    FilmView& film() { return *window->part<FilmView>(); }
    bool standsAt(long long number) {
        return comesTrue([&] { return film().now() && film().now()->number == number; });
    }
};

TEST_F(FilmTest, AStillIsFoundAndTakenAndGoneBackTo) {
    start();
    answers = {clip()};
    trigger("addStillAction");
    ASSERT_TRUE(standsAt(20)) << "the first third of 60 frames";
    EXPECT_TRUE(film().isVisible());
    EXPECT_FALSE(window->canvas().isVisible());
    EXPECT_TRUE(child<QLabel>("filmFacts")->text().contains("480 × 270"));
    EXPECT_TRUE(child<QLabel>("filmFacts")->text().contains("guessed"));
    QTest::keyClick(&film(), Qt::Key_Right);
    ASSERT_TRUE(standsAt(21));
    QTest::keyClick(&film(), Qt::Key_Right, Qt::ShiftModifier);
    ASSERT_TRUE(standsAt(51));
    click("filmFrameBack");
    ASSERT_TRUE(standsAt(50));
    type("filmClock", "#33");
    ASSERT_TRUE(standsAt(33));
    type("filmClock", "0:01.5");
    ASSERT_TRUE(standsAt(45));
    type("filmClock", "nine");
    EXPECT_TRUE(told.back().contains("no moment"));
    click("takeStill");
    ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 1; }));
    EXPECT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    const PictureLayer first = *session().piece()->layers[0].picture();
    ASSERT_TRUE(first.still);
    EXPECT_EQ(first.still->frame, 45);
    EXPECT_DOUBLE_EQ(first.still->time, 1.5);
    EXPECT_EQ(session().piece()->layers[0].name, "clip 1.500");
    // The next frame instead: tone and crop stay.
    Layer toned = session().piece()->layers[0];
    toned.picture()->tone.contrast = 20;
    toned.picture()->crop = {40, 20, 320, 180};
    session().apply(withChangedLayer(session().kit(), "p", toned), "tone");
    session().choice().chooseLayer(session().piece()->layers[0].id);
    trigger("anotherStillAction");
    ASSERT_TRUE(standsAt(45)) << "where it was left";
    QTest::keyClick(&film(), Qt::Key_Right);
    ASSERT_TRUE(standsAt(46));
    QTest::keyClick(&film(), Qt::Key_Return);
    ASSERT_TRUE(
        comesTrue([this] { return session().piece()->layers[0].picture()->still->frame == 46; }));
    const PictureLayer second = *session().piece()->layers[0].picture();
    EXPECT_EQ(second.tone.contrast, 20);
    EXPECT_EQ(second.crop, (RealRect{40, 20, 320, 180}));
    EXPECT_NE(second.source, first.source);
    // The kit keeps both the frame and where it comes from.
    ASSERT_TRUE(saveKit(session().kit(), folder / "kept.zlkit", Replace::no));
    EXPECT_EQ(good(openKit(folder / "kept.zlkit")).pieces, session().kit().pieces);
    session().document().history().undo();
    EXPECT_EQ(session().piece()->layers[0].picture()->still->frame, 45);
}

TEST_F(FilmTest, ProposalsComeWithTheirReasonsAndOneClickGoesThere) {
    start();
    session().files().openValue(test::withLetters(session().kit(), "THE LEVER", 220, {60, 420}),
                                folder / "one.zlkit");
    answers = {clip()};
    trigger("addStillAction");
    ASSERT_TRUE(
        comesTrue([this] { return window->findChild<QToolButton*>("proposal-2") != nullptr; }));
    EXPECT_TRUE(child<QToolButton>("proposal-0")->text().contains("first third"));
    EXPECT_TRUE(child<QToolButton>("proposal-1")->text().contains("middle"));
    EXPECT_TRUE(child<QToolButton>("proposal-2")->text().contains("last third"));
    // With the piece's lettering on them, which nothing of the clip is as light as.
    EXPECT_TRUE(comesTrue([this] {
        const QImage seen = child<QToolButton>("proposal-1")->icon().pixmap(168, 96).toImage();
        int light = 0;
        for (int y = 0; y < seen.height(); ++y)
            for (int x = 0; x < seen.width(); ++x)
                light += qMin(qMin(qRed(seen.pixel(x, y)), qGreen(seen.pixel(x, y))),
                              qBlue(seen.pixel(x, y))) > 200;
        return light > 300;
    })) << (told.empty() ? "nothing was told" : qPrintable(told.back()))
        << film().isVisible();
    click("proposal-1");
    ASSERT_TRUE(standsAt(30));
    QTest::mouseClick(child<QWidget>("filmStrip"), Qt::LeftButton, {},
                      {child<QWidget>("filmStrip")->width() / 4, 40});
    ASSERT_TRUE(
        comesTrue([this] { return film().now() && std::abs(film().now()->time - 0.5) < 0.05; }));
}

TEST_F(FilmTest, WhatIsNoVideoIsToldAndTheCanvasComesBack) {
    start();
    const Path text = folder / "words.mp4";
    ASSERT_TRUE(writeFile(text, test::bytesOf("this is no video"), Replace::no));
    const Kit before = session().kit();
    answers = {QString::fromStdString(text.string())};
    trigger("addStillAction");
    ASSERT_TRUE(comesTrue([this] { return !told.empty(); }));
    EXPECT_TRUE(told.back().contains("cannot be read as a video"));
    EXPECT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    EXPECT_EQ(session().kit(), before);
    answers = {clip()};
    trigger("addStillAction");
    ASSERT_TRUE(standsAt(20));
    QTest::keyClick(&film(), Qt::Key_Escape);
    EXPECT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    EXPECT_EQ(session().kit(), before);
}

}  // namespace
}  // namespace zl::app
