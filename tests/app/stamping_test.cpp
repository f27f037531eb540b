// SPDX-License-Identifier: GPL-3.0-or-later
// Stamping through the real window: photographs brought in, a stamp made and kept, a run and what
// comes of it.
#include "stamping/stamping_view.h"

#include <QComboBox>
#include <QMenu>
#include <QPlainTextEdit>
#include <QProgressBar>

#include "base/json.h"
#include "store/kit_file.h"
#include "store/stamp_shelf.h"
#include "window.h"

namespace zl::app {
namespace {

namespace fs = std::filesystem;

class StampingTest : public WindowTest {
  protected:
    StampingTest() {
        fs::create_directories(folder / "photos/deep");
        photo("photos/a-wide.png", {900, 500}, 0xFF303030u);
        photo("photos/b-upright.png", {500, 800}, 0xFFF0F0F0u);
        photo("photos/deep/c-square.jpg", {600, 600}, 0xFF607050u);
        QTest::keyClick(window.get(), Qt::Key_5, Qt::AltModifier);
        view = window->part<StampingView>();
        view->bench()->keeping().setShelf(folder / "shelf");
    }
    void photo(const std::string& name, PixelSize size, std::uint32_t ground) {
        const Straight8 picture = test::painted(size, [&](int x, int y) {
            return ground ^ (static_cast<std::uint32_t>((x * 7 + y * 3) % 8) * 0x010101u);
        });
        write(name, name.ends_with(".png") ? test::png(picture) : test::jpeg(picture, 95));
    }
    StampDesk& desk() { return view->desk(); }
    bool ready() {
        return comesTrue([this] { return !desk().photos().empty() && !desk().measuring(); },
                         20'000);
    }
    void addFolder() {
        answers.push_back(QString::fromStdString((folder / "photos").string()));
        click("stampFolderIn");
        ASSERT_TRUE(ready());
    }
    void choosePhoto(const std::string& name) {
        for (std::size_t i = 0; i < desk().photos().size(); ++i)
            if (desk().photos()[i].file.filename() == name) desk().choose(static_cast<int>(i));
    }
    void chooseIn(const char* box, int row) {
        auto* combo = child<QComboBox>(box);
        combo->setCurrentIndex(row);
        Q_EMIT combo->activated(row);
    }
    void item(const char* name) {
        auto* action = child<QPushButton>("stampMore")->menu()->findChild<QAction*>(name);
        ASSERT_TRUE(action->isEnabled()) << name;
        action->trigger();
    }
    // Until the preview shows what is asked for now.
    StampShown shownAfter(const std::function<void()>& how) {
        std::optional<StampShown> last;
        const auto link = QObject::connect(&desk(), &StampDesk::shown, window.get(),
                                           [&](const StampShown& seen) { last = seen; });
        how();
        EXPECT_TRUE(comesTrue([&] { return last.has_value(); }));
        EXPECT_TRUE(ready());
        EXPECT_TRUE(comesTrue([&] { return desk().isShown(); }));
        QObject::disconnect(link);
        return *last;
    }
    StampingView* view = nullptr;
};

TEST_F(StampingTest, ANameIsWrittenAsItIs) {
    write("photos/this & that <b>.png", test::png(test::textured({64, 48})));
    addFolder();
    choosePhoto("this & that <b>.png");
    QTextDocument seen;
    ASSERT_TRUE(comesTrue([&] {
        seen.setHtml(child<QLabel>("stampPhotoName")->text());
        return seen.toPlainText().startsWith("this & that <b>.png");
    })) << child<QLabel>("stampPhotoName")->text().toStdString();
}

// The guide's ten steps.
TEST_F(StampingTest, FromAnEmptyKitToAMarkedFolder) {
    EXPECT_TRUE(child<QLabel>("stampEmpty")->isVisible()) << "it says what to do first";
    EXPECT_FALSE(child("stampRun")->isEnabled());
    addFolder();
    ASSERT_EQ(desk().photos().size(), 3u);
    auto* text = child<QPlainTextEdit>("stampText");
    text->selectAll();
    QTest::keyClicks(text, "House {n}");
    auto* colour = view->bench()->findChild<QWidget*>("stampColour")->findChild<QLineEdit*>();
    colour->setFocus();
    colour->selectAll();
    QTest::keyClicks(colour, "#FFEECC");
    QTest::keyClick(colour, Qt::Key_Return);
    type("stampOutline", "8");
    const auto& light = std::get<StampText>(desk().stamp().what);
    EXPECT_EQ(light.letters.colour, (Colour{255, 238, 204, 255}));
    EXPECT_EQ(outerWidth(*outerOutline(light.finishes)), 8);
    ASSERT_TRUE(child<QAbstractButton>("stampTwin")->isChecked());
    EXPECT_EQ(std::get<StampText>(*desk().stamp().twin).letters.text, "House {n}");
    chooseIn("stampCorner", 2);
    EXPECT_EQ(desk().stamp().corners.size(), 4u);
    type("stampInsetX", "5");
    type("stampWidth", "50");
    ASSERT_TRUE(ready());
    EXPECT_GT(desk().sizes().size(), 1u);
    choosePhoto("b-upright.png");
    chooseIn("stampTone", 2);
    ASSERT_TRUE(ready());
    click("stampKeep");
    EXPECT_EQ(session().kit().stamps.size(), 1u);
    ASSERT_TRUE(ready());
    child<QLineEdit>("stampName")->setText("{n}-{name}");
    click("stampRun");
    ASSERT_TRUE(comesTrue([this] { return desk().outcome().has_value(); }));
    EXPECT_EQ(desk().outcome()->count(JobState::done), 3);
    // Byte for byte what the core makes of the same stamp.
    RunAsked again;
    again.inputs = {folder / "photos"};
    again.recursive = true;
    again.out = folder / "again";
    again.name = "{n}-{name}";
    again.choices[folder / "photos/b-upright.png"].twin = true;
    class Nobody : public RunHand {
        void done(const RunEntry&, std::size_t, std::size_t) override {}
    } nobody;
    good(run(desk().stamp(), {folder.path(), nullptr}, again, good(plannedRun(again)), nobody));
    for (const char* name : {"1-a-wide.png", "2-b-upright.png", "3-c-square.jpg"})
        EXPECT_EQ(fileNamed(std::string("marked/") + name),
                  fileNamed(std::string("again/") + name));
    EXPECT_TRUE(fs::exists(desk().outcome()->report));
    EXPECT_TRUE(child<QLabel>("stampRunWords")->text().contains("3"));
    click("stampUndo");
    ASSERT_TRUE(comesTrue([this] { return !fs::exists(folder / "marked/1-a-wide.png"); }));
    EXPECT_TRUE(fs::exists(folder / "photos/a-wide.png"));
}

TEST_F(StampingTest, WhatIsShownIsWhatIsWritten) {
    addFolder();
    choosePhoto("a-wide.png");
    const StampShown seen = shownAfter([this] { click("stampTruePixels"); });
    EXPECT_EQ(seen.scale, 1);
    click("stampRun");
    ASSERT_TRUE(comesTrue([this] { return desk().outcome().has_value(); }));
    const Picture file = good(decode(fileNamed("marked/a-wide-marked.png"), "marked"));
    int most = 0;
    for (int y = seen.part.top; y < seen.part.bottom; ++y)
        for (int x = seen.part.left; x < seen.part.right; ++x) {
            const QRgb shown = seen.picture.pixel(x - seen.part.left, y - seen.part.top);
            const std::uint32_t p = file.pixels->row(y)[x];
            most = std::max({most, std::abs(qRed(shown) - redOf(p)),
                             std::abs(qGreen(shown) - greenOf(p)),
                             std::abs(qBlue(shown) - blueOf(p))});
        }
    EXPECT_EQ(most, 0);
    EXPECT_FALSE(seen.mark.empty());
}

TEST_F(StampingTest, TheWorstStandsFirstAndEachHasItsVerdict) {
    write("photos/z-broken.jpg", test::bytesOf("no picture"));
    addFolder();
    ASSERT_EQ(desk().photos().size(), 4u);
    EXPECT_EQ(desk().photos().front().file.filename(), "z-broken.jpg");
    EXPECT_TRUE(desk().photos().front().bad);
    EXPECT_EQ(desk().photos()[1].verdict, Verdict::pass) << desk().photos()[1].says.toStdString();
    EXPECT_GT(desk().sizes().size(), 1u) << "shapes are seen side by side";
    // The light photograph has the dark twin, the dark one the light stamp.
    for (const StampPhoto& photo : desk().photos()) {
        EXPECT_EQ(photo.bad, photo.file.filename() == "z-broken.jpg");
        EXPECT_EQ(photo.mark.empty(), photo.bad);
    }
    click("stampRun");
    ASSERT_TRUE(comesTrue([this] { return desk().outcome().has_value(); }));
    EXPECT_EQ(desk().outcome()->count(JobState::failed), 1);
    EXPECT_TRUE(notice().contains("z-broken.jpg")) << notice().toStdString();
}

TEST_F(StampingTest, TheMarkIsDraggedAndNudged) {
    addFolder();
    choosePhoto("a-wide.png");
    shownAfter([this] { desk().change([](Stamp& s) { s.corners.clear(); }); });
    auto* preview = view->findChild<StampPreview*>();
    const QPoint from = preview->markOnScreen().center().toPoint(), to = from - QPoint(120, 90);
    const StampShown before = shownAfter([&] { desk().change([](Stamp& s) { s.opacity = 0.9; }); });
    const StampShown after = shownAfter([&] {
        QTest::mousePress(preview, Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, to, preview->mapToGlobal(to), Qt::NoButton,
                         Qt::LeftButton, {});
        QApplication::sendEvent(preview, &move);
        QTest::mouseRelease(preview, Qt::LeftButton, {}, to);
    });
    ASSERT_TRUE(desk().stamp().placing.centre);
    EXPECT_NEAR(before.mark.left - after.mark.left, 120 / before.scale, 2);
    EXPECT_NEAR(before.mark.top - after.mark.top, 90 / before.scale, 2);
    EXPECT_TRUE(child<QLabel>("stampPlaceNote")->isVisible());
    const StampShown nudged = shownAfter([&] { QTest::keyClick(preview, Qt::Key_Right); });
    EXPECT_EQ(nudged.mark.left, after.mark.left + 1);
    click("stampAt-top-left");
    EXPECT_FALSE(desk().stamp().placing.centre);
    EXPECT_EQ(desk().stamp().placing.at, StampAt::topLeft);
}

TEST_F(StampingTest, OnePhotographHasItsOwnWay) {
    addFolder();
    choosePhoto("b-upright.png");
    chooseIn("stampOfPhoto", 1);
    click("stampAt-top-left");
    EXPECT_EQ(desk().stamp().placing.at, StampAt::bottomRight) << "the stamp stays as it is";
    ASSERT_TRUE(ready());
    choosePhoto("c-square.jpg");
    chooseIn("stampOfPhoto", 2);
    ASSERT_TRUE(ready());
    click("stampRun");
    ASSERT_TRUE(comesTrue([this] { return desk().outcome().has_value(); }));
    EXPECT_EQ(desk().outcome()->count(JobState::leftOut), 1);
    EXPECT_FALSE(fs::exists(folder / "marked/c-square-marked.jpg"));
    EXPECT_EQ(desk().outcome()->entries[1].at, "top-left");
}

TEST_F(StampingTest, UprightOnesHaveAPlaceOfTheirOwn) {
    addFolder();
    choosePhoto("b-upright.png");
    child<QAbstractButton>("stampUpright")->click();
    ASSERT_TRUE(ready());
    click("stampAt-top");
    ASSERT_TRUE(desk().stamp().upright);
    EXPECT_EQ(desk().stamp().upright->at, StampAt::top);
    EXPECT_EQ(desk().stamp().placing.at, StampAt::bottomRight);
}

TEST_F(StampingTest, StampsAreKeptRenamedLeftAndDeleted) {
    const auto names = [this] {
        std::string all;
        for (const Stamp& stamp : session().kit().stamps) all += stamp.name + ";";
        return all;
    };
    click("stampKeep");
    EXPECT_EQ(names(), "Corner line;");
    EXPECT_FALSE(child("stampKeep")->isEnabled()) << "there is nothing to keep";
    type("stampOpacity", "40");
    EXPECT_TRUE(child<QLabel>("stampNote")->isVisible()) << "it says that it was changed";
    item("stampLeave");
    EXPECT_NEAR(desk().stamp().opacity, 0.85, 1e-9);
    answers.push_back("Second");
    item("stampKeepAs");
    EXPECT_EQ(names(), "Corner line;Second;");
    answers.push_back("Corner line");
    item("stampRename");
    EXPECT_EQ(names(), "Corner line;Second;") << "a name is taken once";
    answers.push_back("Proof");
    item("stampRename");
    EXPECT_EQ(names(), "Corner line;Proof;");
    item("stampDouble");
    EXPECT_EQ(names(), "Corner line;Proof;Proof 2;");
    answers.push_back("");
    item("stampDelete");
    EXPECT_EQ(names(), "Corner line;Proof;Proof 2;") << "it is asked first";
    answers.push_back("yes");
    item("stampDelete");
    EXPECT_EQ(names(), "Corner line;Proof;");
    trigger("undoAction");
    EXPECT_EQ(names(), "Corner line;Proof;Proof 2;");
    // The next ones over the same photograph.
    view->bench()->keeping().next(1);
    EXPECT_EQ(desk().stamp().name, "Corner line");
    view->bench()->keeping().next(-1);
    EXPECT_EQ(desk().stamp().name, "Proof 2");
    // Kept with the kit.
    EXPECT_EQ(
        good(unpackKit(good(packKit(session().kit())), good(schemaNamed("kit.schema.json")), "kit"))
            .stamps,
        session().kit().stamps);
}

TEST_F(StampingTest, StampsGoToTheShelfAndIntoFiles) {
    type("stampTurn", "-20");
    item("stampShelve");
    ASSERT_TRUE(comesTrue([this] { return stampsOnShelf(folder / "shelf").size() == 1; }));
    EXPECT_EQ(stampsOnShelf(folder / "shelf").front(), desk().stamp());
    answers.push_back(QString::fromStdString((folder / "mine.json").string()));
    item("stampExport");
    ASSERT_TRUE(comesTrue([this] { return fs::exists(folder / "mine.json"); }));
    const Stamp before = desk().stamp();
    type("stampTurn", "5");
    answers.push_back(QString::fromStdString((folder / "mine.json").string()));
    item("stampImport");
    EXPECT_TRUE(comesTrue([&] { return desk().stamp() == before; }));
    answers.push_back(write("bad.json", test::bytesOf("{\"format\": 9}")));
    item("stampImport");
    EXPECT_TRUE(comesTrue([this] { return notice().contains("bad.json"); }));
    EXPECT_EQ(desk().stamp(), before);
}

TEST_F(StampingTest, APieceOfTheKitIsAMarkAndTheStampGoesOntoAPiece) {
    openDemo("thumbnail");
    window->showView(MainWindow::stamping);
    EXPECT_EQ(desk().stamp().name, "Corner line") << "the kit's own stamp";
    addFolder();
    chooseIn("stampWhich", 1);
    EXPECT_EQ(desk().stamp().name, "Channel mark");
    ASSERT_TRUE(ready());
    EXPECT_EQ(desk().photos().front().verdict, Verdict::pass)
        << desk().photos().front().says.toStdString();
    const std::size_t layers = piece().layers.size();
    click("stampOnto");
    ASSERT_TRUE(comesTrue([&] { return piece().layers.size() > layers; }));
    EXPECT_EQ(window->view(), MainWindow::make);
    EXPECT_EQ(piece().layers.back().name, "Channel mark");
    trigger("undoAction");
    EXPECT_EQ(piece().layers.size(), layers);
}

TEST_F(StampingTest, ARunIsPausedStoppedAndGoesOn) {
    for (int i = 0; i < 40; ++i)
        photo("photos/p" + std::to_string(100 + i) + ".png", {700, 500}, 0xFF505050u);
    addFolder();
    click("stampRun");
    ASSERT_TRUE(comesTrue([this] { return child<QProgressBar>("stampProgress")->value() > 2; }));
    click("stampPause");
    QTest::qWait(600);  // those under way end
    const auto written = [this] {
        return std::distance(fs::directory_iterator(folder / "marked"), {});
    };
    const auto before = written();
    QTest::qWait(400);
    EXPECT_EQ(written(), before) << "nothing is marked while it waits";
    click("stampCancel");
    ASSERT_TRUE(comesTrue([this] { return !desk().running(); }));
    EXPECT_LT(written(), 43);
    ASSERT_TRUE(comesTrue([this] { return child("stampResume")->isVisible(); }));
    click("stampResume");
    ASSERT_TRUE(comesTrue([this] { return desk().outcome().has_value(); }));
    EXPECT_EQ(desk().outcome()->count(JobState::done), 43);
}

TEST_F(StampingTest, TheCopiesAreAsTheyAreAskedFor) {
    child<QAbstractButton>("stampDeep")->click();
    answers.push_back(QString::fromStdString((folder / "photos").string()));
    click("stampFolderIn");
    ASSERT_TRUE(ready());
    EXPECT_EQ(desk().photos().size(), 2u) << "what lies below the folder stays there";
    answers.push_back(QString::fromStdString((folder / "photos/deep/c-square.jpg").string()));
    click("stampFiles");
    ASSERT_TRUE(comesTrue([this] { return desk().photos().size() == 3; }));
    ASSERT_TRUE(ready());
    auto* left = child<QLabel>("stampLeft");
    EXPECT_TRUE(left->isVisible() && left->text().contains("1 JPEG"))
        << "the window says what is not encoded again";
    type("stampQuality", "40");
    EXPECT_FALSE(left->isVisible());
    type("stampLimit", "20");
    child<QAbstractButton>("stampClean")->click();
    chooseIn("stampFormat", 1);
    click("stampRun");
    ASSERT_TRUE(comesTrue([this] { return desk().outcome().has_value(); }));
    for (const char* name : {"a-wide-marked.jpg", "b-upright-marked.jpg", "c-square-marked.jpg"}) {
        const Bytes marked = fileNamed(std::string("marked/") + name),
                    clean = fileNamed(std::string("marked clean/") + name);
        EXPECT_LE(marked.size(), 20'000u) << name;
        EXPECT_EQ(sniff(clean), Content::jpeg) << name;
        EXPECT_NE(marked, clean) << name;
    }
}

TEST_F(StampingTest, TheNextStampIsTriedOverTheSamePhotograph) {
    openDemo("thumbnail");
    window->showView(MainWindow::stamping);
    addFolder();
    choosePhoto("a-wide.png");
    const StampShown line = shownAfter([this] { desk().change([](Stamp& s) { s.turn = 1; }); });
    const StampShown mark = shownAfter([this] { click("stampNext"); });
    EXPECT_EQ(desk().stamp().name, "Channel mark");
    EXPECT_EQ(mark.photo, line.photo);
    EXPECT_NE(mark.mark, line.mark);
    click("stampPrevious");
    EXPECT_EQ(desk().stamp().name, "Corner line");
    // The gallery wears it, too, and lets another be tried.
    window->showView(MainWindow::rehearse);
    click("rehearseGallery");
    auto& gallery = window->part<RehearseView>()->gallery();
    ASSERT_TRUE(comesTrue([&] { return gallery.shown().size() == 3; }));
    chooseIn("galleryStamp", 1);
    EXPECT_EQ(desk().stamp().name, "Channel mark");
    EXPECT_TRUE(child<QLabel>("galleryNote")->text().contains("clean"));
}

TEST_F(StampingTest, ThousandsOfPhotographsStayLight) {
    // 3,000 names of one photograph: the list is there at once, and only what is seen is drawn.
    const Bytes one = fileNamed("photos/deep/c-square.jpg");
    fs::create_directories(folder / "many");
    write("many/0000.jpg", one);
    for (int i = 1; i < 3000; ++i)
        fs::create_hard_link(folder / "many/0000.jpg",
                             folder / ("many/" + std::to_string(10'000 + i) + ".jpg"));
    answers.push_back(QString::fromStdString((folder / "many").string()));
    click("stampFolderIn");
    ASSERT_TRUE(comesTrue([this] { return desk().photos().size() == 3000; }));
    ASSERT_TRUE(comesTrue([this] { return desk().measuredCount() > 20; }));
    auto* grid = view->findChild<PhotoGrid*>();
    grid->scrollToBottom();
    QTest::qWait(50);
    EXPECT_FALSE(grid->indexAt(grid->viewport()->rect().center()).row() < 2000);
    desk().removeAll();
    EXPECT_TRUE(desk().photos().empty());
}

TEST_F(StampingTest, FilesAndFoldersAreDropped) {
    QMimeData files;
    files.setUrls(
        {QUrl::fromLocalFile(QString::fromStdString((folder / "photos").string())),
         QUrl::fromLocalFile(QString::fromStdString((folder / "photos/a-wide.png").string()))});
    QDragEnterEvent enter(QPoint(40, 200), Qt::CopyAction, &files, Qt::LeftButton, {});
    QApplication::sendEvent(view, &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop(QPointF(40, 200), Qt::CopyAction, &files, Qt::LeftButton, {});
    QApplication::sendEvent(view, &drop);
    ASSERT_TRUE(ready());
    EXPECT_EQ(desk().photos().size(), 3u) << "one that is named twice is there once";
    click("stampClear");
    EXPECT_TRUE(child<QLabel>("stampEmpty")->isVisible());
    EXPECT_TRUE(fs::exists(folder / "photos/a-wide.png"));
}

TEST_F(StampingTest, ByKeyboardAlone) {
    write("mine.json", test::bytesOf("{}"));
    answers.push_back(QString::fromStdString((folder / "photos/a-wide.png").string()));
    auto* files = child("stampFiles");
    files->setFocus(Qt::TabFocusReason);
    QTest::keyClick(files, Qt::Key_Space);
    ASSERT_TRUE(ready());
    auto* preview = view->findChild<StampPreview*>();
    ASSERT_TRUE(comesTrue([&] { return desk().isShown() && !preview->markOnScreen().isEmpty(); }));
    preview->setFocus(Qt::TabFocusReason);
    const StampShown seen = shownAfter([&] { QTest::keyClick(preview, Qt::Key_Up); });
    EXPECT_TRUE(desk().stamp().placing.centre);
    EXPECT_FALSE(seen.mark.empty());
    QWidget* run = child("stampRun");
    run->setFocus(Qt::TabFocusReason);
    QTest::keyClick(run, Qt::Key_Space);
    ASSERT_TRUE(comesTrue([this] { return fs::exists(folder / "marked/a-wide-marked.png"); }));
    // Every control is reached by Tab.
    std::set<QString> reached;
    QWidget* at = files;
    for (int i = 0; i < 200; ++i) {
        at = at->nextInFocusChain();
        if (at->focusPolicy() & Qt::TabFocus) reached.insert(at->objectName());
    }
    for (const char* name :
         {"photoGrid", "stampPreview", "stampText", "stampAt-top", "stampWidth", "stampOpacity",
          "stampTiled", "stampAuthor", "stampFolder", "stampRun"})
        EXPECT_TRUE(reached.contains(name)) << name;
}

}  // namespace
}  // namespace zl::app
