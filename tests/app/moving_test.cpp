// SPDX-License-Identifier: GPL-3.0-or-later
// Moving pieces in the real window: a clip brought in, its clock, its showing times, played,
// released; and a piece laid over a video of one's own, measured and burned in.
#include <QAction>
#include <QCheckBox>
#include <QRadioButton>
#include <QToolButton>

#include "ask/over_video_dialog.h"
#include "edit/edits.h"
#include "film/film_view.h"
#include "kit/moving.h"
#include "make/time_strip.h"
#include "support/clips.h"
#include "widgets/surface_picture.h"
#include "window.h"

namespace zl::app {
namespace {

class MovingTest : public WindowTest {
  protected:
    // Two seconds of 25 frames, each darker than the one before; light on the left.
    QString clip(const char* name = "clip.mp4") {
        const Path file = folder / name;
        test::clipOf(file, {320, 180}, 50, [](int n) {
            return test::painted({320, 180}, [n](int x, int) {
                const int v = 240 - 4 * n;
                return x < 160 ? packed(v, v, v, 255) : packed(20, 30, 50, 255);
            });
        });
        return QString::fromStdString(file.string());
    }
    void start(const char* brief = "moving-card", PixelSize frame = {1280, 720}) {
        session().files().openValue(test::kitWith(brief, frame), folder / "one.zlkit");
    }
    void startWithClip(PixelSize frame = {320, 180}) {
        start("free-frame", frame);
        answers = {clip()};
        trigger("addClipAction");
        ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 1; }));
        ASSERT_TRUE(comesTrue([this] { return session().clock().runs(); }));
    }
    // The canvas shows this grey in the middle of the light half.
    bool seesGrey(int grey) {
        return comesTrue([&] {
            const QPointF at = window->canvas().toWidget({80, 90});
            const QColor seen = QColor(window->canvas().grab().toImage().pixel(at.toPoint()));
            return std::abs(seen.red() - grey) <= 6;
        });
    }
};

TEST_F(MovingTest, OfManyBarsThoseRoundTheChosenLayerAreShownAndItSaysSo) {
    Kit kit = test::kitWith("moving-card", {320, 180});
    for (int i = 0; i < 9; ++i) {
        kit = test::withLetters(kit, "word " + std::to_string(i), 20, {0, 20});
        Layer layer = kit.pieces[0].layers.back();
        layer.shows = ShowTime{.from = 0.5, .to = 1.5};
        kit = good(withChangedLayer(kit, "p", layer));
    }
    Piece piece = kit.pieces[0];
    piece.length = 2;
    session().files().openValue(good(withChangedPiece(kit, piece)), folder / "many.zlkit");
    auto* line = window->findChild<TimeLine*>("timeLine");
    ASSERT_TRUE(line->isVisible());
    const auto ids = [&] {
        std::vector<int> all;
        for (const Layer* layer : line->rows()) all.push_back(layer->id);
        return all;
    };
    for (const auto& [chosen, top] : {std::pair{9, 9}, {5, 8}, {1, 6}}) {
        session().choice().chooseLayer(chosen);
        EXPECT_EQ(ids(), (std::vector{top, top - 1, top - 2, top - 3, top - 4, top - 5}));
    }
    EXPECT_EQ(child<QLabel>("pieceTold")->text(),
              "6 of 9 layers shown, those round the chosen one");
}

TEST_F(MovingTest, AClipIsInTheMenuOfWhatCanBeAdded) {
    start("upright-clip", {108, 192});
    answers = {clip()};
    auto* add = window->findChild<QAction*>("addClip");
    ASSERT_TRUE(add);
    add->trigger();
    ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 1; }));
    EXPECT_TRUE(session().piece()->layers[0].picture()->clip);
}

TEST_F(MovingTest, AClipComesInAndItsClockMovesThePiece) {
    start("free-frame", {320, 180});
    EXPECT_FALSE(child<QWidget>("timeStrip")->isVisible()) << "a still piece has no clock";
    startWithClip();
    EXPECT_TRUE(child<QWidget>("timeStrip")->isVisible());
    EXPECT_TRUE(session().layer() && session().layer()->picture()->clip);
    EXPECT_TRUE(seesGrey(240));
    type("pieceClock", "0:01");
    EXPECT_DOUBLE_EQ(*session().clock().moment(), 1);
    EXPECT_TRUE(seesGrey(140)) << "frame 25";
    click("pieceFrameOn");
    EXPECT_NEAR(*session().clock().moment(), 1.04, 1e-9);
    auto* line = child<TimeLine>("timeLine");
    QTest::mouseClick(line, Qt::LeftButton, {}, QPoint(static_cast<int>(line->xOf(0.4)), 8));
    EXPECT_NEAR(*session().clock().moment(), 0.4, 0.02);
    line->setFocus();
    QTest::keyClick(line, Qt::Key_Right);
    QTest::keyClick(line, Qt::Key_End);
    EXPECT_DOUBLE_EQ(*session().clock().moment(), 2);
    QTest::keyClick(line, Qt::Key_Home);
    EXPECT_DOUBLE_EQ(*session().clock().moment(), 0);
    type("pieceClock", "nine");
    EXPECT_TRUE(told.back().contains("no moment"));
    session().document().history().undo();
    EXPECT_FALSE(child<QWidget>("timeStrip")->isVisible());
}

TEST_F(MovingTest, TheBenchSetsWhichPartWhenAndHow) {
    startWithClip();
    type("clipIn", "0.4");
    type("clipOut", "1.6");
    type("clipBegins", "0.2");
    const Clip& clip = *session().picture()->clip;
    EXPECT_DOUBLE_EQ(clip.in, 0.4);
    EXPECT_DOUBLE_EQ(clip.out, 1.6);
    EXPECT_DOUBLE_EQ(clip.begins, 0.2);
    EXPECT_NEAR(session().clock().length(), 1.4, 1e-9);
    auto* after = child<QComboBox>("clipAfter");
    after->setCurrentIndex(2);
    Q_EMIT after->activated(2);
    EXPECT_TRUE(session().picture()->clip->loops);
    EXPECT_FALSE(child<QCheckBox>("clipMuted")->isEnabled()) << "the video has no sound";
    // A title that comes and goes.
    trigger("addLetteringAction");
    ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 2; }));
    auto* always = child<QCheckBox>("showsAlways");
    ASSERT_TRUE(always->isVisible());
    always->click();
    type("showsFrom", "0.5");
    type("showsTo", "1.2");
    type("showsFade", "0.1");
    const Layer& title = session().piece()->layers[1];
    ASSERT_TRUE(title.shows);
    EXPECT_EQ(*title.shows, (ShowTime{0.5, 1.2, 0.1}));
    type("clipIn", "7");
}

TEST_F(MovingTest, ItPlaysAndSaysWhatCameTooLate) {
    startWithClip();
    session().clock().goTo(0);
    click("piecePlay");
    EXPECT_TRUE(session().clock().playing());
    EXPECT_TRUE(comesTrue([this] { return *session().clock().moment() > 0.2; }));
    // Editing goes on meanwhile.
    session().editLayers({session().piece()->layers[0].id}, "fade", {},
                         [](Layer& layer) { layer.opacity = 0.9; });
    EXPECT_TRUE(comesTrue([this] { return !session().clock().playing(); })) << "it ends";
    EXPECT_DOUBLE_EQ(*session().clock().moment(), 2);
    EXPECT_EQ(child<QToolButton>("piecePlay")->text(), "Play");
    child<QToolButton>("pieceLoop")->click();
    click("piecePlay");
    EXPECT_TRUE(comesTrue([this] { return *session().clock().moment() > 1.5; }));
    EXPECT_TRUE(comesTrue([this] { return *session().clock().moment() < 0.5; })) << "again";
    click("piecePlay");
    EXPECT_FALSE(session().clock().playing());
}

TEST_F(MovingTest, AMovingPieceIsReleasedWithPosterAndReceipt) {
    startWithClip();
    ASSERT_TRUE(measured());
    session().clock().goTo(1);
    window->showView(MainWindow::release);
    ASSERT_TRUE(child<QWidget>("movingList")->isVisible());
    child<QRadioButton>("moving-webm")->click();
    EXPECT_EQ(session().piece()->release.moving, "webm");
    child<QRadioButton>("moving-mp4")->click();
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] {
        return std::filesystem::exists(folder / "made-for-a-test.mp4");
    })) << child<QLabel>("receipt")->text().toStdString();
    ASSERT_TRUE(comesTrue(
        [this] { return child<QLabel>("receipt")->text().contains("25 frames a second"); }));
    EXPECT_TRUE(std::filesystem::exists(folder / "made-for-a-test.receipt.json"));
    const Picture poster =
        good(decode(good(readFile(folder / "made-for-a-test-poster.jpg")), "poster"));
    EXPECT_NEAR(redOf(poster.pixels->row(90)[80]), 140, 6) << "the moment on the clock";
    EXPECT_EQ(good(Video::open(folder / "made-for-a-test.mp4")).facts().frames, 50);
    // A second release asks before it replaces.
    click("releaseNow");
    ASSERT_TRUE(
        comesTrue([this] { return child<QPushButton>("releaseNow")->text().contains("Replace"); }));
}

TEST_F(MovingTest, FilmBringsAPartInAsAClip) {
    start("free-frame", {320, 180});
    answers = {clip()};
    trigger("addStillAction");
    FilmView& film = *window->part<FilmView>();
    ASSERT_TRUE(comesTrue([&] { return film.now().has_value(); }));
    type("filmClock", "0:00.4");
    ASSERT_TRUE(comesTrue([&] { return film.now() && film.now()->number == 10; }));
    click("filmIn");
    click("filmClip");
    ASSERT_TRUE(comesTrue([this] { return session().piece()->layers.size() == 1; }));
    const Clip& clip = *session().piece()->layers[0].picture()->clip;
    EXPECT_NEAR(clip.in, 0.4, 1e-6);
    EXPECT_EQ(clip.out, 0);
    EXPECT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
}

// A clip whose video was moved shows its poster, and is found again.
TEST_F(MovingTest, AVideoThatWasMovedIsFoundAgain) {
    startWithClip();
    EXPECT_FALSE(child<QWidget>("clipFind")->isVisible());
    std::filesystem::rename(folder / "clip.mp4", folder / "moved.mp4");
    session().clock().goTo(1);
    session().choice().chooseLayer(0);
    session().choice().chooseLayer(session().piece()->layers[0].id);
    ASSERT_TRUE(child<QWidget>("clipFind")->isVisible());
    EXPECT_TRUE(child<QLabel>("clipAbout")->text().contains("not there"));
    EXPECT_TRUE(seesGrey(220)) << "one frame of it stands for it: the fifth";
    answers = {QString::fromStdString((folder / "moved.mp4").string())};
    click("clipFind");
    ASSERT_TRUE(comesTrue([this] { return session().picture()->clip->file == "moved.mp4"; }));
    EXPECT_TRUE(told.back().contains("the same video"));
    EXPECT_TRUE(seesGrey(140));
}

// What a mark or an overlay meets in Rehearse is the person's own video, once it is known.
TEST_F(MovingTest, RehearsePlaysThePersonsOwnVideo) {
    session().files().openValue(
        test::withPicture(test::kitWith("corner-mark", {150, 150}),
                          test::painted({150, 150},
                                        [](int x, int y) {
                                            return std::hypot(x - 75, y - 75) < 60
                                                       ? packed(250, 60, 30, 255)
                                                       : 0u;
                                        }),
                          {0, 0, 150, 150}),
        folder / "one.zlkit");
    clip("own.mp4");
    session().apply(withPieceVideo(session().kit(), "p", PieceVideo{"own.mp4", 2}), "video");
    ASSERT_TRUE(measured());
    window->showView(MainWindow::release);
    click("releaseNow");
    ASSERT_TRUE(comesTrue(
        [this] { return std::filesystem::exists(folder / "made-for-a-test.receipt.json"); }));
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    click("handOverNext");
    const auto own = [this]() -> SurfacePicture* {
        for (auto* one : window->findChildren<SurfacePicture*>())
            if (one->objectName().startsWith("surface-player") &&
                one->objectName().contains("-own"))
                return one;
        return nullptr;
    };
    ASSERT_TRUE(comesTrue([&] { return own() != nullptr; })) << "the player shows the own video";
    // At a second of its two it is light on the left and dark on the right.
    const QImage seen = own()->grab().toImage();
    const auto redAt = [&](double across) {
        return qRed(seen.pixel(static_cast<int>(seen.width() * across), seen.height() / 3));
    };
    EXPECT_NEAR(redAt(0.25), 140, 50);
    EXPECT_LT(redAt(0.7), 60);
}

// A white mark over a video that is light on one side.
TEST_F(MovingTest, APieceOverAVideoIsMeasuredMovedAndBurnedIn) {
    const Straight8 white = test::painted({64, 64}, [](int x, int y) {
        return std::hypot(x - 32, y - 32) < 26 ? packed(255, 255, 255, 255) : 0u;
    });
    session().files().openValue(
        test::withPicture(test::kitWith("corner-mark", {64, 64}), white, {0, 0, 64, 64}),
        folder / "one.zlkit");
    ASSERT_TRUE(measured());
    trigger("overVideoAction");
    auto* dialog = window->findChild<OverVideoDialog*>("overVideoDialog");
    ASSERT_TRUE(dialog);
    const auto field = [&](const char* name, const QString& text) {
        auto* edit = dialog->findChild<QLineEdit*>(name);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    };
    EXPECT_FALSE(dialog->findChild<QPushButton*>("overVideoBurn")->isEnabled());
    answers = {clip()};
    QTest::mouseClick(dialog->findChild<QPushButton*>("overVideoChoose"), Qt::LeftButton);
    auto* verdict = dialog->findChild<QLabel*>("overVideoVerdict");
    ASSERT_TRUE(comesTrue([&] { return verdict->text().startsWith("pass"); }))
        << "at the right the video is dark: " << verdict->text().toStdString();
    // On the light side it is lost, and another corner is proposed.
    auto* place = dialog->findChild<QComboBox*>("overVideoPlace");
    place->setCurrentIndex(6);
    Q_EMIT place->activated(6);
    ASSERT_TRUE(comesTrue([&] { return verdict->text().startsWith("fail"); }));
    ASSERT_TRUE(
        comesTrue([&] { return dialog->findChild<QPushButton*>("overVideoDo0") != nullptr; }));
    EXPECT_FALSE(dialog->findChild<QLabel*>("overVideoPicture")->pixmap().isNull());
    QTest::mouseClick(dialog->findChild<QPushButton*>("overVideoDo0"), Qt::LeftButton);
    ASSERT_TRUE(comesTrue([&] { return verdict->text().startsWith("pass"); }))
        << verdict->text().toStdString();
    EXPECT_TRUE(session().piece()->video) << "the ledge knows the video, too";
    field("overVideoFrom", "9");
    EXPECT_FALSE(dialog->findChild<QPushButton*>("overVideoBurn")->isEnabled());
    field("overVideoFrom", "0.4");
    answers = {QString::fromStdString((folder / "marked.mp4").string())};
    auto* burn = dialog->findChild<QPushButton*>("overVideoBurn");
    auto* refusal = dialog->findChild<QLabel*>("overVideoRefusal");
    QTest::mouseClick(burn, Qt::LeftButton);
    QTest::keyClick(dialog, Qt::Key_Escape);
    ASSERT_TRUE(comesTrue([&] { return refusal->text().startsWith("Cancelled"); }))
        << "Escape while it burns cancels that and keeps the dialog";
    EXPECT_TRUE(dialog->isVisible());
    EXPECT_FALSE(std::filesystem::exists(folder / "marked.mp4"));
    answers = {QString::fromStdString((folder / "marked.mp4").string())};
    QTest::mouseClick(burn, Qt::LeftButton);
    auto* outcome = dialog->findChild<QLabel*>("overVideoOutcome");
    ASSERT_TRUE(comesTrue([&] { return outcome->text().contains("40 of 50"); }))
        << dialog->findChild<QLabel*>("overVideoRefusal")->text().toStdString();
    EXPECT_EQ(good(Video::open(folder / "marked.mp4")).facts().frames, 50);
    QTest::mouseClick(dialog->findChild<QPushButton*>("overVideoCancel"), Qt::LeftButton);
}

// A mark that shows for the first half of each second is burned in as it moves.
TEST_F(MovingTest, APieceThatMovesIsBurnedInAsItMoves) {
    Layer bar;
    bar.name = "Bar";
    bar.what = BarLayer{};
    test::barOf(bar)->place = {0, 0, 64, 36};
    test::barOf(bar)->colour = {250, 250, 250, 255};
    bar.shows = ShowTime{0, 0.5, 0};
    Kit kit = good(withLayer(test::kitWith("overlay-loop", {64, 36}), "p", bar));
    Piece piece = kit.pieces.front();
    piece.length = 1;
    session().files().openValue(good(withChangedPiece(kit, std::move(piece))),
                                folder / "loop.zlkit");
    ASSERT_TRUE(measured());
    trigger("overVideoAction");
    auto* dialog = window->findChild<OverVideoDialog*>("overVideoDialog");
    ASSERT_TRUE(dialog);
    answers = {clip()};
    QTest::mouseClick(dialog->findChild<QPushButton*>("overVideoChoose"), Qt::LeftButton);
    auto* burn = dialog->findChild<QPushButton*>("overVideoBurn");
    ASSERT_TRUE(comesTrue([&] { return burn->isEnabled(); }));
    answers = {QString::fromStdString((folder / "looped.mp4").string())};
    QTest::mouseClick(burn, Qt::LeftButton);
    auto* outcome = dialog->findChild<QLabel*>("overVideoOutcome");
    ASSERT_TRUE(comesTrue([&] { return outcome->text().contains("50 of 50"); }))
        << dialog->findChild<QLabel*>("overVideoRefusal")->text().toStdString();
    Video video = good(Video::open(folder / "looped.mp4"));
    // An overlay fills the video.
    const auto light = [&](long long n) { return redOf(good(video.frame(n)).pixels.row(90)[160]); };
    EXPECT_GT(light(30), 220) << "1.2 s: shown again";
    EXPECT_LT(light(45), 120) << "1.8 s: away";
    QTest::mouseClick(dialog->findChild<QPushButton*>("overVideoCancel"), Qt::LeftButton);
}

}  // namespace
}  // namespace zl::app
