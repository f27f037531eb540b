// SPDX-License-Identifier: GPL-3.0-or-later
// A still from a video, in the real window: opened, stepped through by mouse and by keys, taken in
// the piece's picture's place, gone back to. The clips are made by FFmpeg's own program.
#include <QCheckBox>
#include <QDialog>
#include <QToolButton>

#include "edit/edits.h"
#include "film/film_view.h"
#include "picture/decode.h"
#include "render/render.h"
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

// A frame goes into the piece that is chosen, so that is what the proposals show; what begins on
// the canvas brings it back, and another kit closes the film.
TEST_F(FilmTest, ItFollowsThePieceThatIsChosen) {
    Kit kit = test::kitWith("video-thumbnail", {1280, 720});
    kit = test::withLetters(kit, "THE LEVER", 220, {60, 420});
    Piece square = *kit.piece("p");
    square.id = "square";
    square.title = "Square";
    square.frame = {600, 600};
    kit = good(withPiece(kit, square));
    session().files().openValue(kit, folder / "one.zlkit");
    session().choice().choosePiece("p");
    answers = {clip()};
    trigger("addStillAction");
    ASSERT_TRUE(standsAt(20));
    const auto shape = [this] {
        const auto* card = window->findChild<QToolButton*>("pieceAsItIs");
        return card ? card->icon().actualSize({336, 336}) : QSize();
    };
    ASSERT_TRUE(comesTrue([&] { return shape().width() > shape().height(); }));
    session().choice().choosePiece("square");
    EXPECT_TRUE(
        comesTrue([&] { return !shape().isEmpty() && shape().width() == shape().height(); }));
    EXPECT_TRUE(film().isVisible());
    click("takeStill");
    ASSERT_TRUE(comesTrue([this] { return session().kit().piece("square")->layers.size() == 2; }));
    EXPECT_EQ(session().kit().piece("p")->layers.size(), 1u);
    EXPECT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    // A crop, which is made on the canvas.
    answers = {clip()};
    trigger("addStillAction");
    ASSERT_TRUE(comesTrue([this] { return film().isVisible() && film().now(); }));
    session().choice().chooseLayer(session().kit().piece("square")->layers.front().id);
    trigger("cropAction");
    EXPECT_TRUE(window->canvas().cropping());
    EXPECT_TRUE(window->canvas().isVisible());
    EXPECT_FALSE(film().desk().facts());
    answers = {clip()};
    trigger("addStillAction");
    ASSERT_TRUE(comesTrue([this] { return film().isVisible() && film().now(); }));
    session().files().openValue(test::kitWith("video-thumbnail", {1280, 720}),
                                folder / "two.zlkit");
    EXPECT_TRUE(window->canvas().isVisible());
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

// A clip of three shots: 25 frames a second, cuts at 50 and 90, 130 frames, and a tone.
QString shotsIn(const test::Folder& folder, const char* more = "") {
    const std::string file = (folder / "shots.mp4").string();
    const std::string made =
        "ffmpeg -v error -y -f lavfi -i testsrc2=s=640x360:r=25 -f lavfi -i "
        "mandelbrot=s=640x360:r=25 -f lavfi -i smptehdbars=s=640x360:r=25 -f lavfi -i sine=d=5.2 "
        "-filter_complex '[0]trim=duration=2[a];[1]trim=duration=1.6[b];[2]trim=duration=1.6[c];"
        "[a][b][c]concat=n=3" +
        std::string(more) + "' -map 3:a -t 5.2 -c:v libx264 -g 40 -pix_fmt yuv420p -c:a aac " +
        file;
    EXPECT_EQ(std::system(made.c_str()), 0);
    return QString::fromStdString(file);
}

// From nothing but a video to the thumbnail on the disk, with the mouse.
TEST_F(FilmTest, TheWholeWayByMouse) {
    const QString video = shotsIn(folder);
    answers = {video};
    trigger("startFromVideoAction");
    auto* dialog = window->findChild<QDialog*>("newPieceDialog");
    ASSERT_TRUE(dialog);
    QTest::mouseClick(dialog->findChild<QPushButton*>("startPiece"), Qt::LeftButton);
    ASSERT_TRUE(standsAt(43)) << "the first third of 130 frames";
    EXPECT_TRUE(child<QLabel>("filmFacts")->text().contains("only 0.5 times the frame"));
    EXPECT_EQ(child<QLabel>("filmWhich")->text(), "exact");
    // Along the strip: near while the hand holds it, exact when it lets go.
    auto* strip = child<QWidget>("filmStrip");
    const auto at = [strip](double share) {
        return QPoint(static_cast<int>(share * strip->width()), 40);
    };
    QTest::mousePress(strip, Qt::LeftButton, {}, at(0.2));
    QTest::mouseMove(strip, at(0.5));
    ASSERT_TRUE(
        comesTrue([this] { return child<QLabel>("filmWhich")->text().startsWith("near"); }));
    EXPECT_FALSE(child<QWidget>("takeStill")->isEnabled()) << "a near picture is not taken";
    QTest::mouseRelease(strip, Qt::LeftButton, {}, at(0.5));
    ASSERT_TRUE(standsAt(65));
    EXPECT_EQ(child<QLabel>("filmWhich")->text(), "exact");
    // By cut, once the video is looked through.
    ASSERT_TRUE(comesTrue([this] { return film().desk().cuts().size() == 2; }));
    click("filmCutOn");
    ASSERT_TRUE(standsAt(90));
    click("filmCutBack");
    ASSERT_TRUE(standsAt(50));
    click("filmCutBack");
    ASSERT_TRUE(standsAt(0));
    click("filmSecondOn");
    ASSERT_TRUE(standsAt(25));
    click("filmFrameOn");
    ASSERT_TRUE(standsAt(26));
    // A part; what is proposed comes from it.
    type("filmClock", "#52");
    ASSERT_TRUE(standsAt(52));
    click("filmIn");
    type("filmClock", "#88");
    ASSERT_TRUE(standsAt(88));
    click("filmOut");
    ASSERT_TRUE(comesTrue([this] {
        const auto* first = window->findChild<QToolButton*>("proposal-0");
        return first && first->text().startsWith("0:02.5");
    }));
    EXPECT_TRUE(child<QLabel>("filmPart")->text().contains("0:02.080 to 0:03.520"));
    click("filmAll");
    EXPECT_EQ(film().part(), (Span{0, film().desk().facts()->duration}));
    ASSERT_TRUE(comesTrue([this] {
        const auto* second = window->findChild<QToolButton*>("proposal-1");
        return second && second->text().startsWith("0:02.6");
    }));
    click("proposal-1");
    ASSERT_TRUE(standsAt(65));
    click("takeStill");
    ASSERT_TRUE(comesTrue([this] { return !session().piece()->layers.empty(); }));
    ASSERT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    EXPECT_EQ(session().layer()->id, session().piece()->layers[0].id) << "it is chosen";
    // It goes with that video now: Rehearse knows its length, the ledge where it is from.
    ASSERT_TRUE(session().piece()->video);
    EXPECT_NEAR(session().piece()->video->length, 5.2, 0.05);
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("from-video").verdict, Verdict::pass);
    window->showView(MainWindow::rehearse);
    EXPECT_EQ(child<QLineEdit>("videoLength")->text(), "0:05");
    window->showView(MainWindow::release);
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("releaseNow")->isEnabled(); }));
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    const Path released = *window->part<ReleaseView>()->released(session().piece()->id);
    const Picture file = good(decode(good(readFile(released)), released.string()));
    InkStore store;
    const Straight8 wanted = good(render({*session().piece(), session().kit()}, store));
    ASSERT_EQ(file.pixels->size(), wanted.size());
    // The frame is what another program finds at that place.
    Video again = good(Video::open(video.toStdString()));
    const VideoFrame frame = good(again.frame(65));
    const Asset* still = session().kit().asset(session().piece()->layers[0].picture()->source);
    EXPECT_TRUE(std::ranges::equal(good(decode(*still->bytes, "still")).pixels->pixels(),
                                   frame.pixels.pixels()));
}

// The same by keyboard alone.
TEST_F(FilmTest, TheWholeWayByKeyboard) {
    answers = {shotsIn(folder)};
    QTest::keyClick(window.get(), Qt::Key_I, Qt::ControlModifier | Qt::ShiftModifier);
    auto* dialog = window->findChild<QDialog*>("newPieceDialog");
    ASSERT_TRUE(dialog);
    QTest::keyClick(dialog->findChild<QLineEdit*>("newTitle"), Qt::Key_Return);
    ASSERT_TRUE(standsAt(43));
    ASSERT_TRUE(comesTrue([this] { return film().desk().cuts().size() == 2; }));
    activate();
    const auto key = [this](Qt::Key which, Qt::KeyboardModifiers with = {}) {
        QTest::keyClick(&film(), which, with);
    };
    key(Qt::Key_Home);
    ASSERT_TRUE(standsAt(0));
    key(Qt::Key_Down);
    ASSERT_TRUE(standsAt(50));
    key(Qt::Key_End);
    ASSERT_TRUE(standsAt(129));
    key(Qt::Key_Up);
    ASSERT_TRUE(standsAt(90));
    key(Qt::Key_Left, Qt::ShiftModifier);
    ASSERT_TRUE(standsAt(65));
    key(Qt::Key_Right);
    ASSERT_TRUE(standsAt(66));
    // J, K, L: twice the same way is twice as fast; K stops at an exact frame.
    key(Qt::Key_L);
    EXPECT_EQ(film().shuttle().speed(), 1);
    key(Qt::Key_L);
    EXPECT_EQ(film().shuttle().speed(), 2);
    key(Qt::Key_L);
    key(Qt::Key_L);
    key(Qt::Key_L);
    EXPECT_EQ(film().shuttle().speed(), 8);
    EXPECT_EQ(child<QLabel>("filmWhich")->text(), "8 × on");
    EXPECT_FALSE(film().now());
    key(Qt::Key_J);
    EXPECT_EQ(film().shuttle().speed(), -1);
    EXPECT_EQ(child<QLabel>("filmWhich")->text(), "1 × back");
    key(Qt::Key_K);
    EXPECT_EQ(film().shuttle().speed(), 0);
    ASSERT_TRUE(comesTrue([this] { return film().now().has_value(); }));
    EXPECT_EQ(child<QLabel>("filmWhich")->text(), "exact");
    // In and out; 1 goes to the first proposal of the part.
    type("filmClock", "0:02.4");
    ASSERT_TRUE(standsAt(60));
    key(Qt::Key_I);
    type("filmClock", "0:03.2");
    ASSERT_TRUE(standsAt(80));
    key(Qt::Key_O);
    EXPECT_NEAR(film().part().from, 2.4, 1e-6);
    EXPECT_NEAR(film().part().to, 3.2, 1e-6);
    ASSERT_TRUE(comesTrue([this] {
        const auto* first = window->findChild<QToolButton*>("proposal-0");
        return first && first->text().startsWith("0:02.640");
    }));
    key(Qt::Key_1);
    ASSERT_TRUE(standsAt(66));
    key(Qt::Key_Return);
    ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 1; }));
    ASSERT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    ASSERT_TRUE(measured());
    QTest::keyClick(window.get(), Qt::Key_R, Qt::ControlModifier);
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    EXPECT_TRUE(
        std::filesystem::exists(*window->part<ReleaseView>()->released(session().piece()->id)));
}

TEST_F(FilmTest, ItPlaysAndStopsAtTheEndOfThePart) {
    start();
    answers = {shotsIn(folder)};
    trigger("addStillAction");
    ASSERT_TRUE(standsAt(43));
    type("filmClock", "#60");
    ASSERT_TRUE(standsAt(60));
    click("filmIn");
    type("filmClock", "#75");
    ASSERT_TRUE(standsAt(75));
    click("filmOut");
    click("filmPlay");
    EXPECT_EQ(child<QToolButton>("filmPlay")->text(), "Pause");
    EXPECT_EQ(child<QLabel>("filmWhich")->text(), "playing");
    // From the beginning of the part, since it stood at its end; it ends there again by itself.
    ASSERT_TRUE(comesTrue([this] { return film().shuttle().speed() == 0; }));
    EXPECT_EQ(child<QToolButton>("filmPlay")->text(), "Play");
    ASSERT_TRUE(standsAt(75));
    // The arrows step on from there.
    QTest::keyClick(&film(), Qt::Key_Right);
    ASSERT_TRUE(standsAt(76));
    // Leaving stops it.
    click("filmPlay");
    click("filmBack");
    EXPECT_EQ(film().shuttle().speed(), 0);
    EXPECT_TRUE(window->canvas().isVisible());
}

TEST_F(FilmTest, BlackBarsAreFoundAndLeftOut) {
    start();
    answers = {shotsIn(folder, ",pad=640:480:0:60:black")};
    trigger("addStillAction");
    ASSERT_TRUE(standsAt(43));
    ASSERT_TRUE(child<QAbstractButton>("filmWithoutBars")->isVisible());
    click("takeStill");
    ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 1; }));
    const RealRect crop = session().piece()->layers[0].picture()->crop;
    EXPECT_NEAR(crop.y, 60, 2);
    EXPECT_NEAR(crop.height, 360, 4);
    EXPECT_EQ(session().piece()->layers[0].picture()->still->size, (PixelSize{640, 480}))
        << "the whole frame is kept";
}

TEST_F(FilmTest, AVideoCanBeRememberedAndAStrangersPictureIsTold) {
    session().files().openValue(test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                                  test::textured({1280, 720}), {0, 0, 1280, 720}),
                                folder / "one.zlkit");
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("from-video").verdict, Verdict::notMeasured);
    answers = {shotsIn(folder)};
    trigger("addStillAction");
    ASSERT_TRUE(standsAt(43));
    ASSERT_TRUE(comesTrue([this] { return !film().desk().looking(); }));
    const auto before = session().piece()->layers;
    click("filmRemember");
    EXPECT_TRUE(window->canvas().isVisible());
    EXPECT_EQ(session().piece()->layers, before) << "its picture stays";
    ASSERT_TRUE(session().piece()->video);
    EXPECT_EQ(session().piece()->video->file, "shots.mp4") << "from the kit's folder on";
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("from-video").verdict, Verdict::watch);
    // Saved elsewhere, it is found there, too.
    std::filesystem::create_directory(folder / "elsewhere");
    session().files().save(folder / "elsewhere/one.zlkit", Replace::no);
    ASSERT_TRUE(comesTrue([this] { return !session().files().busy(); }));
    EXPECT_EQ(session().piece()->video->file, (folder / "shots.mp4").string());
    EXPECT_EQ(good(openKit(folder / "elsewhere/one.zlkit")).pieces, session().kit().pieces);
    EXPECT_FALSE(session().document().changed());
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("from-video").verdict, Verdict::watch);
    for (int i = 0; i < 2; ++i) session().document().history().undo();
    EXPECT_FALSE(session().piece()->video);
}

TEST_F(FilmTest, LookingThroughItCanBeStopped) {
    start();
    const std::string file = (folder / "long.mp4").string();
    ASSERT_EQ(std::system(("ffmpeg -v error -y -f lavfi -i testsrc2=s=1280x720:r=30:d=20 -c:v "
                           "libx264 -preset ultrafast -pix_fmt yuv420p " +
                           file)
                              .c_str()),
              0);
    answers = {QString::fromStdString(file)};
    trigger("addStillAction");
    ASSERT_TRUE(comesTrue([this] { return film().desk().looking(); }));
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("filmStopLooking")->isVisible(); }));
    click("filmStopLooking");
    EXPECT_FALSE(film().desk().looking());
    EXPECT_FALSE(child<QWidget>("filmStopLooking")->isVisible());
    ASSERT_TRUE(standsAt(200)) << "the rest works as before";
    EXPECT_TRUE(film().desk().cuts().empty());
}

}  // namespace
}  // namespace zl::app
