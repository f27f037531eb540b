// SPDX-License-Identifier: GPL-3.0-or-later
// The whole way, in the real window: from an empty kit to the released file's bytes and the host's
// answer; and the faulty first try, mended by clicking.
#include <QListWidget>
#include <QPlainTextEdit>

#include "ask/new_piece_dialog.h"
#include "base/json.h"
#include "picture/decode.h"
#include "store/kit_file.h"
#include "window.h"

namespace zl::app {
namespace {

class Story : public WindowTest {};

TEST_F(Story, FromAnEmptyKitToAnAcceptedThumbnail) {
    EXPECT_FALSE(session().piece());

    // A piece for a video's thumbnail.
    click("newPiece");
    auto* dialog = window->findChild<NewPieceDialog*>();
    ASSERT_TRUE(dialog);
    auto* list = dialog->findChild<QListWidget*>("briefs");
    EXPECT_EQ(list->count(), 20);
    list->setFocus();
    QTest::keyClick(list, Qt::Key_Down);
    EXPECT_EQ(list->currentItem()->text(), "Corner mark");
    QTest::keyClick(list, Qt::Key_Up);
    auto* title = dialog->findChild<QLineEdit*>("newTitle");
    title->selectAll();
    QTest::keyClicks(title, "The lever, ep. 12");
    QTest::mouseClick(dialog->findChild<QAbstractButton*>("startPiece"), Qt::LeftButton);
    ASSERT_TRUE(session().piece());
    activate();
    EXPECT_EQ(piece().id, "the-lever-ep-12");
    EXPECT_EQ(piece().frame, (PixelSize{1280, 720}));

    // Starting a piece is a step that can be taken back, and that one alone.
    const auto isOn = [&](const char* id) { return window->findChild<QAction*>(id)->isEnabled(); };
    EXPECT_TRUE(isOn("undoAction"));
    EXPECT_FALSE(isOn("redoAction"));
    trigger("undoAction");
    EXPECT_FALSE(isOn("undoAction"));
    trigger("redoAction");
    EXPECT_TRUE(isOn("undoAction"));
    EXPECT_FALSE(isOn("redoAction"));

    // A picture of another shape fills the frame without stretching.
    answers = {write("dusk.png", test::png(test::textured({900, 900})))};
    trigger("addPictureAction");
    ASSERT_TRUE(comesTrue([this] { return piece().layers.size() == 1; }));
    EXPECT_EQ(asked.back(), "Bring in a picture");
    EXPECT_EQ(layer().picture()->place, (RealRect{0, -280, 1280, 1280}));
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("stretch").verdict, Verdict::pass);
    EXPECT_EQ(reading("enlargement").verdict, Verdict::watch) << "900 px for 1280";

    // Letters on it.
    trigger("addLetteringAction");
    auto* text = child<QPlainTextEdit>("text");
    EXPECT_TRUE(text->hasFocus());
    typeLines(text, "THE LEVER\nTHAT STUCK");
    EXPECT_EQ(layer().lettering()->text, "THE LEVER\nTHAT STUCK");
    type("size", "720/5");
    EXPECT_EQ(layer().lettering()->size, 144);
    type("finish-0-px", "9");
    type("left", "60");
    type("top", "1280/16");
    type("colourText", "#ffc653");
    EXPECT_EQ(nameOf(layer().lettering()->colour), "#FFC653");
    ASSERT_TRUE(measured());
    for (const char* id : {"frame", "weight", "format", "stretch", "black-bars"})
        EXPECT_EQ(reading(id).verdict, Verdict::pass) << id;

    // Saved, then released.
    const QString kitFile = QString::fromStdString((folder / "mossgate").string());
    answers = {kitFile};
    QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(comesTrue([this] { return !session().document().changed(); }));
    EXPECT_EQ(*session().files().path(), folder / "mossgate.zlkit");

    QTest::keyClick(window.get(), Qt::Key_4, Qt::AltModifier);
    EXPECT_EQ(window->view(), MainWindow::release);
    type("releaseName", "the-lever-that-stuck");
    ASSERT_TRUE(measured());
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
    const Bytes bytes = fileNamed("the-lever-that-stuck.png");
    EXPECT_LE(bytes.size(), 2'000'000u);
    const Picture picture = good(decode(bytes, "released"));
    InkStore store;
    const Straight8 shown = good(releaseFrame({piece(), session().kit()}, store));
    EXPECT_TRUE(
        std::equal(shown.pixels().begin(), shown.pixels().end(), picture.pixels->pixels().begin()))
        << "what was shown is what is released";
    const Json receipt = good(parseJson(fileNamed("the-lever-that-stuck.receipt.json"), "receipt"));
    EXPECT_EQ(receipt["sha256"], sha256(bytes));
    EXPECT_EQ(receipt["brief"], "video-thumbnail");
    EXPECT_TRUE(child<QLabel>("receipt")->text().contains(
        QString::fromStdString(sha256(bytes).substr(0, 16))));
    // It counts as the file does: what could not be measured is no fault.
    std::map<std::string, int> verdicts;
    for (const Json& reading : receipt["readings"]) ++verdicts[reading["verdict"]];
    EXPECT_GT(verdicts["n/a"], 0);
    const QString counted = QString("%1 pass, %2 watch, %3 fail")
                                .arg(verdicts["pass"])
                                .arg(verdicts["watch"])
                                .arg(verdicts["fail"]);
    EXPECT_TRUE(child<QLabel>("receipt")->text().contains(counted))
        << child<QLabel>("receipt")->text().toStdString();

    // Handed over, accepted, and seen where the audience meets it.
    click("handOverNext");
    EXPECT_EQ(window->view(), MainWindow::rehearse);
    ASSERT_TRUE(
        comesTrue([this] { return child<QLabel>("hostState")->text().contains("Accepted"); }));
    for (const char* surface : {"feed-card", "suggestion", "search", "phone", "blog-embed"})
        EXPECT_TRUE(comesTrue([&] {
            return child<QWidget>(("surface-" + std::string(surface) + "-light").c_str())
                ->isVisible();
        })) << surface;
    click("surfacesDark");
    EXPECT_TRUE(comesTrue([&] { return child<QWidget>("surface-feed-card-dark")->isVisible(); }));
    EXPECT_TRUE(
        comesTrue([&] { return child<QWidget>("surface-television-row-dark")->isVisible(); }));
    click("publishDraft");
    ASSERT_TRUE(
        comesTrue([this] { return child<QLabel>("hostState")->text().contains("published"); }));
    EXPECT_EQ(good(readFile(folder / "host/new-kit/the-lever-ep-12/published.png")), bytes);

    // The saved kit holds all of it.
    EXPECT_TRUE(session().document().changed()) << "the release name came after the save";
    QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(comesTrue([this] { return !session().document().changed(); }));
    EXPECT_EQ(good(openKit(folder / "mossgate.zlkit")), session().kit());
    EXPECT_EQ(KitFiles::lastKit(), kitFile + ".zlkit") << "it reopens at the next start";
}

TEST_F(Story, TheFaultyFirstTryIsMendedByClicking) {
    openDemo();
    ASSERT_TRUE(measured());
    click("piece-thumbnail-first-try");
    ASSERT_TRUE(measured());
    const Piece before = piece();
    EXPECT_EQ(reading("frame").verdict, Verdict::fail);
    EXPECT_EQ(reading("weight").verdict, Verdict::fail);
    EXPECT_EQ(reading("stretch").verdict, Verdict::fail);

    EXPECT_EQ(reading("enlargement").verdict, Verdict::fail);
    EXPECT_EQ(reading("lettering").verdict, Verdict::fail) << "dark letters on a dark hill";
    EXPECT_EQ(reading("zones").verdict, Verdict::fail) << "under the badge";

    const std::tuple<const char*, const char*, const char*> mends[] = {
        {"frame", "mend-crop-to-frame", "frame"},
        {"stretch", "mend-unstretch", "stretch"},
        {"naming", "mend-to-reference", "enlargement"},
        {"lettering", "mend-outline-contrast", "lettering"},
        {"zones", "mend-into-zone", "zones"},
        {"naming", "mend-rename", "naming"}};
    for (const auto& [cell, mend, id] : mends) {
        const std::string name = mend;
        window->openFindings(cell);
        ASSERT_TRUE(comesTrue([&] {
            return window->findChild<QWidget*>(name.c_str()) &&
                   child<QWidget>(name.c_str())->isVisible();
        })) << name;
        const int steps = session().document().history().count();
        click(mend);
        ASSERT_TRUE(comesTrue([&] { return session().document().history().count() > steps; }))
            << mend;
        ASSERT_TRUE(measured());
        EXPECT_EQ(reading(id).verdict, Verdict::pass) << id;
        window->findChild<Findings*>()->findChild<QAbstractButton*>("closeFindings")->click();
    }
    EXPECT_EQ(piece().frame, (PixelSize{1280, 720}));
    EXPECT_EQ(piece().layers[0].name, "dusk-at-the-box");
    EXPECT_EQ(reading("weight").verdict, Verdict::pass) << "a smaller frame is lighter, too";
    EXPECT_EQ(worstOf(window->readings().state(piece().id)->readings), Verdict::pass);

    for (int i = 0; i < 6; ++i) QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(piece(), before) << "each mend is one step back";
}

TEST_F(Story, TheWeightOfTheFirstTryIsMendedByItself) {
    openDemo("thumbnail-first-try");
    ASSERT_TRUE(measured());
    click("reading-weight");
    ASSERT_TRUE(comesTrue([this] { return child<QWidget>("mend-fit-limit")->isVisible(); }));
    EXPECT_TRUE(child<QLabel>("says-weight")->text().contains("over the limit of 2,000,000"));
    click("mend-fit-limit");
    ASSERT_TRUE(comesTrue([this] { return piece().release.format == FormatChoice::best; }));
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("weight").verdict, Verdict::pass);
    EXPECT_EQ(reading("frame").verdict, Verdict::fail) << "the rest is left alone";
}

}  // namespace
}  // namespace zl::app
