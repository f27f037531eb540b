// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of docs/guide/README.md, "From an empty kit to a thumbnail", one by one and in their
// order, with the numbers that stand there. What comes out is the demo kit's thumbnail, pixel by
// pixel.
#include <QInputDialog>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QToolButton>

#include "ask/new_piece_dialog.h"
#include "base/json.h"
#include "film/film_view.h"
#include "picture/decode.h"
#include "window.h"

namespace zl::app {
namespace {

class Guide : public WindowTest {
  protected:
    // The guide and this walk have the same steps; a step here is found there, word for word,
    // however its lines are broken.
    void step(int number, const std::string& words) {
        static const std::string guide =
            QString::fromStdString(test::textOf(test::good(readFile(Path(test::sourceFolder()) /
                                                                    "docs/guide/README.md"))))
                .replace(QRegularExpression("\n +"), " ")
                .toStdString();
        const std::string line = std::to_string(number) + ". " + words;
        EXPECT_NE(guide.find("\n" + line), std::string::npos) << line;
        EXPECT_EQ(guide.find("\n26. "), std::string::npos) << "at most 25 steps";
    }
    void pick(const char* action) {
        auto* found = window->findChild<QAction*>(action);
        ASSERT_TRUE(found && found->isEnabled()) << action;
        found->trigger();
    }
    QString medium(const std::string& name) {
        for (const demo::Medium& medium : made().media)
            if (medium.name == name) return write(name, medium.bytes);
        return {};
    }
    static const demo::DemoKit& made() { return test::madeDemo(); }
    void bring(const std::string& name) {
        const std::size_t before = piece().layers.size();
        answers = {medium(name)};
        QTest::keyClick(window.get(), Qt::Key_I, Qt::ControlModifier);
        ASSERT_TRUE(comesTrue([&] { return piece().layers.size() == before + 1; }));
    }
    void shadow(int index, const char* dx, const char* dy, const char* blur, const char* strength) {
        pick("add-shadow");
        const auto field = [index](const char* name) {
            return QString("finish-%1-%2").arg(index).arg(name).toUtf8();
        };
        type(field("dx"), dx);
        type(field("dy"), dy);
        type(field("blur"), blur);
        type(field("opacity"), strength);
    }
};

TEST_F(Guide, FromAnEmptyKitToTheDemoThumbnail) {
    step(1,
         "Press Ctrl+Shift+I and choose `the-lever-that-stuck.mp4`. Leave **Video thumbnail** "
         "chosen, type the title `Thumbnail, ep. 12`, press Enter.");
    answers = {medium("the-lever-that-stuck.mp4")};
    QTest::keyClick(window.get(), Qt::Key_I, Qt::ControlModifier | Qt::ShiftModifier);
    auto* dialog = window->findChild<NewPieceDialog*>();
    ASSERT_TRUE(dialog);
    auto* title = dialog->findChild<QLineEdit*>("newTitle");
    title->selectAll();
    QTest::keyClicks(title, "Thumbnail, ep. 12");
    auto* places = dialog->findChild<QListWidget*>("briefs");
    const int thumbnail = places->currentRow();
    places->setCurrentRow(thumbnail + 1);
    places->setCurrentRow(thumbnail);
    EXPECT_EQ(title->text(), "Thumbnail, ep. 12") << "what was typed outlives a look at others";
    QTest::keyClick(title, Qt::Key_Return);
    ASSERT_TRUE(session().piece());
    activate();
    step(2,
         "Type `#25` into the clock under the video and press Enter; press Enter again: that frame "
         "fills the piece.");
    auto* film = window->part<FilmView>();
    ASSERT_TRUE(comesTrue([film] { return film->now().has_value(); }));
    type("filmClock", "#25");
    ASSERT_TRUE(comesTrue([film] { return film->now() && film->now()->number == 25; }));
    QTest::keyClick(film, Qt::Key_Return);
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 1; }));
    ASSERT_TRUE(comesTrue([this] { return window->canvas().isVisible(); }));
    step(3, "Under **Tone** set Brightness to 4, Contrast to 8, Saturation to 10.");
    type("brightness", "4");
    type("contrast", "8");
    type("saturation", "10");
    step(4, "Press Ctrl+I and choose `signal-arm.png`.");
    bring("signal-arm.png");
    step(5, "Under **Place** set the width to 232; the height follows.");
    type("width", "232");
    EXPECT_EQ(boxOf(layer()).height, 290);
    step(6, "Set Left to 300 and Top to 392, or drag it there.");
    type("left", "300");
    type("top", "392");
    step(7, "Under **Finish** press **+ Finish ▸ Outline**: 5 px, `#FFF6E3`.");
    pick("add-outline");
    type("finish-0-px", "5");
    type("finish-0-colourText", "#FFF6E3");
    step(8, "**+ Finish ▸ Shadow**: 4 right, 6 down, blur 14, strength 60.");
    shadow(1, "4", "6", "14", "60");
    step(9, "Press Ctrl+T and type `THE LEVER`.");
    QTest::keyClick(window.get(), Qt::Key_T, Qt::ControlModifier);
    QTest::keyClicks(child<QPlainTextEdit>("text"), "THE LEVER");
    step(10, "Set the letters' size to 160, Left to 54, Top to 30.");
    type("size", "160");
    type("left", "54");
    type("top", "30");
    step(11, "Set the outline, which new lettering has, to 11 px.");
    type("finish-0-px", "11");
    step(12, "**+ Finish ▸ Shadow**: 0 right, 5 down, blur 8, strength 55.");
    shadow(1, "0", "5", "8", "55");
    step(13, "**Looks ▸ Save as a look of the kit …**, name it `Episode title`.");
    Q_EMIT child<QToolButton>("looks")->menu()->aboutToShow();
    pick("saveLook");
    auto* name = window->findChild<QInputDialog*>("lookName");
    ASSERT_TRUE(name);
    name->setTextValue("Episode title");
    name->accept();
    activate();
    step(14, "Press Ctrl+D for a second line; type `THAT STUCK`.");
    QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
    auto* text = child<QPlainTextEdit>("text");
    text->setFocus();
    text->selectAll();
    QTest::keyClicks(text, "THAT STUCK");
    step(15, "Set its colour to `#FFC653`, Left to 54, Top to 164.");
    type("colourText", "#FFC653");
    type("left", "54");
    type("top", "164");
    step(16, "Look at the ledge: every reading passes, and each layer is called by what it is.");
    ASSERT_TRUE(measured());
    for (const Reading& one : window->readings().state(piece().id)->readings)
        EXPECT_LE(one.verdict, Verdict::pass) << one.id;
    EXPECT_EQ(piece().layers[2].name, "THE LEVER");
    EXPECT_EQ(layer().name, "THAT STUCK");
    step(17, "Press Ctrl+S and save the kit.");
    answers = {QString::fromStdString((folder / "mine.zlkit").string())};
    QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(comesTrue([this] { return !session().document().changed(); }));
    step(18, "Press Ctrl+R: the piece is released, with its receipt.");
    QTest::keyClick(window.get(), Qt::Key_R, Qt::ControlModifier);
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));

    InkStore store;
    const Straight8 wanted = good(render({*made().kit.piece("thumbnail"), made().kit}, store));
    std::string released;
    for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
        if (entry.path().extension() == ".json")
            released = test::good(parseJson(test::good(readFile(entry.path())), "receipt"))["file"];
    ASSERT_FALSE(released.empty());
    const auto got = test::good(decode(fileNamed(released), released)).pixels;
    ASSERT_EQ(got->size(), wanted.size());
    EXPECT_TRUE(std::equal(got->pixels().begin(), got->pixels().end(), wanted.pixels().begin()))
        << "pixel by pixel";
}

}  // namespace
}  // namespace zl::app
