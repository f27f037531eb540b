// SPDX-License-Identifier: GPL-3.0-or-later
// Kits: new, open, save, unsaved changes, files that are no kits. And work aside: the newest wins.
#include <QCloseEvent>
#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>

#include "store/kit_file.h"
#include "window.h"
#include "work/jobs.h"

namespace zl::app {
namespace {

class KitTest : public WindowTest {
  protected:
    void change() {
        Piece next = piece();
        next.title += "!";
        ASSERT_TRUE(session().apply(withChangedPiece(session().kit(), next), "change"));
    }
};

TEST_F(KitTest, OpensWhatWasSavedAndNothingElse) {
    openDemo();
    answers = {QString::fromStdString((folder / "demo.zlkit").string())};
    trigger("saveKitAs");
    ASSERT_TRUE(comesTrue([this] {
        return std::filesystem::exists(folder / "demo.zlkit") && !session().files().busy();
    }));
    const Kit kit = session().kit();
    trigger("newKit");
    EXPECT_TRUE(session().kit().pieces.empty());

    for (const auto& [name, bytes] :
         {std::pair<std::string, Bytes>{"garbage.zlkit", test::bytesOf("PK not really")},
          {"empty.zlkit", {}}}) {
        answers = {write(name, bytes)};
        told.clear();
        trigger("openKit");
        ASSERT_TRUE(comesTrue([this] { return !told.empty(); }));
        EXPECT_TRUE(told.back().contains(QString::fromStdString(name)))
            << told.back().toStdString();
        EXPECT_TRUE(session().kit().pieces.empty()) << "what is open stays open";
    }
    answers = {QString::fromStdString((folder / "demo.zlkit").string())};
    trigger("openKit");
    ASSERT_TRUE(comesTrue([&] { return session().kit() == kit; }));
    EXPECT_EQ(KitFiles::lastKit(), QString::fromStdString((folder / "demo.zlkit").string()));
    std::filesystem::remove(folder / "demo.zlkit");
    EXPECT_EQ(KitFiles::lastKit(), "") << "a kit that is gone is not asked for";
}

// The dialog of the program itself: a name gets the ending of what is written, and no other.
TEST_F(KitTest, ANameWithoutAnEndingGetsTheOneOfItsKind) {
    openDemo();
    const QString home = QString::fromStdString(folder.path().string());
    const std::pair<const char*, const char*> kinds[] = {
        {"links-report.html", "Pages (*.html)"},
        {"film-marked.mkv", "Videos (*.mp4 *.mkv)"},
        {"kit.zlkit", "Kits (*.zlkit)"}};
    for (const auto& [suggested, filter] : kinds) {
        QString given;
        realDialogs().saveFile(window.get(), "Write", home + "/" + suggested, filter,
                               [&](const QString& file) { given = file; });
        auto* dialog = window->findChild<QFileDialog*>();
        ASSERT_TRUE(dialog);
        EXPECT_EQ(dialog->directory().path(), home);
        dialog->findChild<QLineEdit*>("fileNameEdit")->setText("mine");
        static_cast<QDialog*>(dialog)->accept();
        EXPECT_EQ(given, home + "/mine." + QFileInfo(suggested).suffix());
        delete dialog;
    }
}

TEST_F(KitTest, UnsavedChangesAreAskedAbout) {
    openDemo();
    window->close();
    EXPECT_FALSE(window->isVisible()) << "nothing changed, nothing asked";
    EXPECT_TRUE(asked.empty());
    window->show();
    change();
    EXPECT_TRUE(window->windowTitle().startsWith("•"));
    unsaved = {Unsaved::cancel};
    window->close();
    EXPECT_TRUE(window->isVisible());
    EXPECT_EQ(asked, (std::vector<std::string>{"unsaved"}));
    unsaved = {Unsaved::save};
    window->close();
    ASSERT_TRUE(comesTrue([this] { return !window->isVisible(); }));
    EXPECT_EQ(good(openKit(folder / "demo.zlkit")), session().kit());
}

TEST_F(KitTest, LeavingUnsavedLeavesTheFileAlone) {
    openDemo();
    ASSERT_TRUE(saveKit(session().kit(), folder / "demo.zlkit", Replace::no));
    const Bytes before = fileNamed("demo.zlkit");
    change();
    unsaved = {Unsaved::discard};
    trigger("newKit");
    EXPECT_TRUE(session().kit().pieces.empty());
    EXPECT_EQ(fileNamed("demo.zlkit"), before);
}

TEST_F(KitTest, ASaveThatFailsIsSaidAndTheKitStaysUnsaved) {
    openDemo();
    change();
    answers = {QString::fromStdString((folder / "no/such/folder/x.zlkit").string())};
    trigger("saveKitAs");
    ASSERT_TRUE(comesTrue([this] { return !told.empty(); }));
    EXPECT_TRUE(told.back().contains("cannot be written"));
    EXPECT_TRUE(session().document().changed());
    EXPECT_EQ(*session().files().path(), folder / "demo.zlkit") << "its own file is still its own";
}

// A line keeps what is typed until Enter or until it is left. A save, and another piece chosen,
// come before that where the hand stays in the line.
TEST_F(KitTest, WhatIsBeingTypedCountsForThePieceItWasTypedFor) {
    openDemo();
    session().choice().chooseLayer(0);
    auto* title = child<QLineEdit>("pieceTitle");
    const auto typed = [&](QLineEdit* line, const char* text) {
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
    };
    typed(title, "Typed");
    trigger("saveKit");
    ASSERT_TRUE(comesTrue([this] { return !session().files().busy(); }));
    EXPECT_EQ(good(openKit(folder / "demo.zlkit")).pieces[0].title, "Typed");
    EXPECT_FALSE(session().document().changed());
    EXPECT_TRUE(title->hasFocus()) << "the hand stays where it was";
    const std::string first = session().kit().pieces[0].id, second = session().kit().pieces[1].id,
                      there = session().kit().pieces[1].title;
    typed(title, "Typed on");
    QTest::mouseClick(child<QWidget>(("piece-" + second).c_str()), Qt::LeftButton);
    ASSERT_EQ(session().piece()->id, second);
    EXPECT_EQ(session().kit().piece(first)->title, "Typed on");
    EXPECT_EQ(title->text().toStdString(), there);
    // What cannot be is given up with the piece.
    auto* width = child<QLineEdit>("frameWidth");
    typed(width, "wide");
    trigger("previousPiece");
    ASSERT_EQ(session().piece()->id, first);
    EXPECT_EQ(width->text().toInt(), session().piece()->frame.width);
    title->setFocus();
    EXPECT_EQ(session().kit().piece(first)->title, "Typed on");
    EXPECT_EQ(session().kit().piece(second)->title, there);
}

TEST_F(KitTest, WhatIsDroppedComesInWhateverIsOnShow) {
    openDemo();
    ASSERT_TRUE(saveKit(test::kitWith("video-thumbnail", {1280, 720}), folder / "other.zlkit",
                        Replace::no));
    const QUrl kit = QUrl::fromLocalFile(QString::fromStdString((folder / "other.zlkit").string())),
               picture = QUrl::fromLocalFile(write("in.png", test::png(test::textured({40, 30}))));
    window->showView(MainWindow::gauge);
    const std::size_t layers = piece().layers.size();
    dropFiles({picture});
    ASSERT_TRUE(comesTrue([&] { return piece().layers.size() == layers + 1; }));
    EXPECT_TRUE(window->canvas().isVisible()) << "where it can be seen and placed";
    dropFiles({kit, picture});
    ASSERT_FALSE(told.empty());
    EXPECT_TRUE(told.back().contains("by itself"));
    dropFiles({QUrl("https://example.org/a.png")});
    EXPECT_TRUE(told.back().contains("of this machine"));
    EXPECT_EQ(piece().layers.size(), layers + 1);
    // A kit is opened, once what is unsaved is safe.
    unsaved = {Unsaved::cancel};
    dropFiles({kit});
    EXPECT_EQ(session().kit().pieces.size(), test::madeDemo().kit.pieces.size());
    unsaved = {Unsaved::discard};
    dropFiles({kit});
    EXPECT_TRUE(comesTrue([this] { return session().kit().pieces.size() == 1; }));
}

// A drag that goes on while the kit is written adds to its last step, not a step of its own.
TEST_F(KitTest, WhatIsDraggedWhileItIsSavedStaysUnsaved) {
    openDemo();
    const auto drag = [this](const std::string& to) {
        Piece next = piece();
        next.title = to;
        ASSERT_TRUE(session().apply(withChangedPiece(session().kit(), next), "drag", "drag"));
    };
    drag("a");
    trigger("saveKit");
    ASSERT_TRUE(session().files().busy());
    const int steps = session().document().history().index();
    drag("b");
    ASSERT_EQ(session().document().history().index(), steps);
    ASSERT_TRUE(comesTrue([this] { return !session().files().busy(); }));
    EXPECT_EQ(good(openKit(folder / "demo.zlkit")).pieces[0].title, "a");
    EXPECT_TRUE(session().document().changed());
    trigger("saveKit");
    ASSERT_TRUE(comesTrue([this] { return !session().document().changed(); }));
    EXPECT_EQ(good(openKit(folder / "demo.zlkit")).pieces[0].title, "b");
}

TEST_F(KitTest, AnEditWhileAnotherKitIsReadIsNotThrownAway) {
    openDemo();
    const Path other = folder / "other.zlkit";
    ASSERT_TRUE(saveKit(test::kitWith("video-thumbnail", {1280, 720}), other, Replace::no));
    session().files().open(other);
    ASSERT_TRUE(session().files().busy());
    change();
    const Kit edited = session().kit();
    ASSERT_TRUE(comesTrue([this] { return !session().files().busy(); }));
    EXPECT_EQ(session().kit(), edited);
    ASSERT_FALSE(told.empty());
    EXPECT_TRUE(told.back().contains("edited meanwhile")) << told.back().toStdString();
}

// "Episode 1.5" has an ending of its own; the dialog asks about a file of that name.
TEST_F(KitTest, AFileThatNobodyAskedAboutIsNotReplaced) {
    openDemo();
    change();
    const Bytes mine = test::bytesOf("do not lose me");
    write("episode 1.5.zlkit", mine);
    answers = {QString::fromStdString((folder / "episode 1.5").string())};
    trigger("saveKitAs");
    ASSERT_TRUE(comesTrue([this] { return !told.empty(); }));
    EXPECT_TRUE(told.back().contains("stands there already")) << told.back().toStdString();
    EXPECT_EQ(fileNamed("episode 1.5.zlkit"), mine);
    EXPECT_TRUE(session().document().changed());
}

TEST_F(KitTest, SteppingBackToTheSavedStateIsSaved) {
    openDemo();
    change();
    EXPECT_TRUE(session().document().changed());
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(session().document().changed());
}

TEST_F(KitTest, PiecesAreRemovedAndStepsTakeThemBack) {
    openDemo("corner-mark");
    trigger("removePiece");
    EXPECT_EQ(session().kit().pieces.size(), 16u);
    EXPECT_FALSE(window->findChild<QWidget*>("piece-corner-mark") &&
                 child<QWidget>("piece-corner-mark")->isVisible() &&
                 session().kit().piece("corner-mark"));
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(session().kit().piece("corner-mark"));
    trigger("nextPiece");
    trigger("previousPiece");
    EXPECT_TRUE(session().piece());
}

TEST_F(KitTest, AKitIsOpenInOneWindowAtATime) {
    openDemo();
    answers = {QString::fromStdString((folder / "shared.zlkit").string())};
    trigger("saveKitAs");
    ASSERT_TRUE(comesTrue([this] {
        return std::filesystem::exists(folder / "shared.zlkit") && !session().files().busy();
    }));
    // Another window, as another start of the program would make it.
    MainWindow other(good(loadBriefs(good(dataFolder()), folder / "nobody")),
                     viewRows(folder / "host"), {});
    std::vector<QString> said;
    QObject::connect(&other.session(), &Session::told, &other,
                     [&](const QString& sentence, bool) { said.push_back(sentence); });
    other.session().files().open(folder / "shared.zlkit");
    ASSERT_TRUE(comesTrue([&] { return !said.empty(); }));
    EXPECT_TRUE(said.back().contains("open in another window"));
    EXPECT_TRUE(other.session().kit().pieces.empty());
    said.clear();
    other.session().files().save(folder / "shared.zlkit", Replace::yes);
    ASSERT_FALSE(said.empty());
    EXPECT_TRUE(said.back().contains("save under another name"))
        << "the one that is open is not written over";
    trigger("newKit");
    other.session().files().open(folder / "shared.zlkit");
    EXPECT_TRUE(comesTrue([&] { return other.session().kit().pieces.size() == 17; }))
        << "once it is let go";
}

TEST_F(KitTest, RecentKitsAreOfferedNewestFirst) {
    openDemo();
    for (const char* name : {"one.zlkit", "two.zlkit"}) {
        answers = {QString::fromStdString((folder / name).string())};
        trigger("saveKitAs");
        ASSERT_TRUE(comesTrue(
            [&] { return std::filesystem::exists(folder / name) && !session().files().busy(); }));
    }
    const QStringList recent = recentFiles("recentKits");
    ASSERT_EQ(recent.size(), 2);
    EXPECT_TRUE(recent[0].endsWith("two.zlkit"));
    QMenu* menu = nullptr;
    for (QMenu* one : window->findChildren<QMenu*>())
        if (one->title() == "Open recent") menu = one;
    ASSERT_TRUE(menu);
    Q_EMIT menu->aboutToShow();
    ASSERT_EQ(menu->actions().size(), 2);
    menu->actions()[1]->trigger();
    EXPECT_TRUE(comesTrue([this] { return session().files().path() == folder / "one.zlkit"; }));
}

TEST_F(KitTest, AFontFileComesInByADropAndTravelsInTheKit) {
    openDemo();
    session().choice().chooseLayer(4);
    const Bytes font = good(readFile(good(dataFolder()) / "fonts/ZincSans-Medium.otf"));
    dropFiles({QUrl::fromLocalFile(write("mine.otf", font)),
               QUrl::fromLocalFile(write("no.otf", test::bytesOf("no font")))});
    ASSERT_TRUE(
        comesTrue([this] { return session().kit().fonts.size() == 1 && told.size() >= 2; }));
    EXPECT_EQ(session().kit().fonts[0], sha256(font));
    bool refused = false;
    for (const QString& one : told) refused = refused || one.contains("no.otf is not a font");
    EXPECT_TRUE(refused);
    QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(comesTrue([this] { return !session().document().changed(); }));
    const Kit back = good(openKit(folder / "demo.zlkit"));
    EXPECT_EQ(back.fonts, session().kit().fonts);
    EXPECT_EQ(*back.asset(back.fonts[0])->bytes, font);
}

// Closing asks every job to stop. The time is printed; what is asserted is that none is waited for
// to its end, which would take seconds.
TEST_F(KitTest, ClosingWaitsForNoJobThatCanStop) {
    const auto& demo = test::madeDemo();
    session().files().openValue(demo.kit, folder / "demo.zlkit");
    window->showView(MainWindow::rehearse);
    click("rehearseWall");
    std::atomic<bool> stopped{false};
    aside(
        session().jobs(), window.get(),
        [&stopped](const std::stop_token& stop) {
            while (!stop.stop_requested()) std::this_thread::yield();
            stopped = true;
            return 0;
        },
        [](int) {});
    QTest::qWait(50);
    QElapsedTimer timer;
    timer.start();
    window.reset();
    std::printf("[ closing  ] %lld ms\n", static_cast<long long>(timer.elapsed()));
    EXPECT_TRUE(stopped);
    EXPECT_LT(timer.elapsed(), 2000);
}

TEST(Jobs, TheNewestWinsAndWhatWaitsIsReplaced) {
    std::atomic<int> done{0}, last{0};
    std::mutex gate;
    {
        LatestJob job(false);
        std::unique_lock hold(gate);
        std::atomic<bool> started{false};
        job.post([&](const std::stop_token&) {
            started = true;
            const std::scoped_lock wait(gate);
            ++done;
        });
        while (!started) std::this_thread::yield();
        for (int i = 1; i <= 5; ++i)
            job.post([&, i](const std::stop_token&) {
                ++done;
                last = i;
            });
        hold.unlock();
        while (last == 0) std::this_thread::yield();
    }
    EXPECT_EQ(last, 5);
    EXPECT_EQ(done, 2) << "the first, and the newest";
}

TEST(Jobs, ANewerOneStopsWhatRunsWhenItShould) {
    std::atomic<bool> stopped{false}, second{false}, started{false};
    LatestJob job(true);
    job.post([&](const std::stop_token& stop) {
        started = true;
        while (!stop.stop_requested()) std::this_thread::yield();
        stopped = true;
    });
    while (!started) std::this_thread::yield();
    job.post([&](const std::stop_token&) { second = true; });
    while (!second) std::this_thread::yield();
    EXPECT_TRUE(stopped);
}

}  // namespace
}  // namespace zl::app
