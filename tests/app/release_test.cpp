// SPDX-License-Identifier: GPL-3.0-or-later
// Release and Rehearse: files that stand there, limits, mattes, refusals with their reasons.
#include <QComboBox>

#include "picture/decode.h"
#include "window.h"

namespace zl::app {
namespace {

class ReleaseTest : public WindowTest {
  protected:
    void go(const std::string& pieceId) {
        openDemo(pieceId);
        ASSERT_TRUE(measured());
        window->showView(MainWindow::release);
    }
    void choose(const char* combo, int index) {
        auto* box = child<QComboBox>(combo);
        box->setFocus();
        while (box->currentIndex() != index)
            QTest::keyClick(box, box->currentIndex() < index ? Qt::Key_Down : Qt::Key_Up);
    }
    bool released() { return child<QWidget>("handOverNext")->isEnabled(); }
    QString refusal() {
        for (QLabel* label : window->findChildren<QLabel*>("refusal"))
            if (label->isVisible()) return label->text();
        return {};
    }
};

TEST_F(ReleaseTest, AFileThatStandsThereIsReplacedOnlyWhenAskedAgain) {
    go("corner-mark");
    const Bytes mine = test::bytesOf("do not lose me");
    write("mossgate-corner-mark.png", mine);
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return refusal().contains("stands there already"); }));
    EXPECT_EQ(fileNamed("mossgate-corner-mark.png"), mine);
    EXPECT_TRUE(child<QAbstractButton>("releaseNow")->text().contains("Replace"));
    // It was said of this piece's file alone.
    session().choice().choosePiece("overlay");
    EXPECT_FALSE(child<QAbstractButton>("releaseNow")->text().contains("Replace"));
    EXPECT_EQ(refusal(), "");
    session().choice().choosePiece("corner-mark");
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return refusal().contains("stands there already"); }));
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return released(); }));
    EXPECT_EQ(good(decode(fileNamed("mossgate-corner-mark.png"), "x")).facts.size,
              (PixelSize{150, 150}));
}

TEST_F(ReleaseTest, AReceiptIsOfItsPieceAndItsKit) {
    go("corner-mark");
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return released(); }));
    const auto edited = [this] {
        return child<QLabel>("receipt")->text().contains("was edited since");
    };
    EXPECT_FALSE(edited());
    type("releaseName", "another-name");
    EXPECT_TRUE(edited());
    trigger("undoAction");
    EXPECT_FALSE(edited());
    // Another kit with a piece of the same id has released nothing.
    Kit other = session().kit();
    other.title = "Another channel";
    session().files().openValue(other, folder / "other.zlkit");
    session().choice().choosePiece("corner-mark");
    EXPECT_FALSE(released());
    EXPECT_TRUE(child<QLabel>("receipt")->text().contains("Nothing released"));
}

TEST_F(ReleaseTest, WhatIsOverItsLimitIsNotWritten) {
    go("thumbnail-first-try");
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return refusal().contains("over the limit"); }));
    EXPECT_FALSE(released());
    EXPECT_FALSE(std::filesystem::exists(folder / "thumbnail-first-try.png"));
    choose("releaseFormat", 0);
    ASSERT_TRUE(measured());
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return released(); }));
    EXPECT_LE(fileNamed("thumbnail-first-try.jpg").size(), 2'000'000u);
}

TEST_F(ReleaseTest, AFolderThatIsNotThereIsSaid) {
    go("corner-mark");
    type("releaseFolder", QString::fromStdString((folder / "nowhere").string()));
    click("releaseNow");
    EXPECT_TRUE(comesTrue([this] { return refusal().contains("is not there"); }));
    answers = {QString::fromStdString(folder.path().string())};
    click("chooseFolder");
    EXPECT_EQ(child<QLineEdit>("releaseFolder")->text(),
              QString::fromStdString(folder.path().string()));
    click("releaseNow");
    EXPECT_TRUE(comesTrue([this] { return released(); }));
}

TEST_F(ReleaseTest, ASeeThroughPieceAsAJpegWantsAMatteAndSaysSo) {
    go("corner-mark");
    choose("releaseFormat", 2);
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("weight").verdict, Verdict::fail)
        << "it cannot be encoded without losing alpha";
    type("releaseQuality", "80");
    auto* matte = child<ColourField>("releaseMatte")->text();
    ASSERT_TRUE(matte->isVisible());
    matte->setFocus();
    matte->selectAll();
    QTest::keyClicks(matte, "#204060");
    QTest::keyClick(matte, Qt::Key_Return);
    ASSERT_TRUE(measured());
    EXPECT_EQ(reading("weight").verdict, Verdict::pass);
    EXPECT_EQ(reading("format").verdict, Verdict::fail) << "the brief wants alpha";
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return released(); }));
    const Picture picture = good(decode(fileNamed("mossgate-corner-mark.jpg"), "x"));
    EXPECT_NEAR(blueOf(picture.pixels->row(2)[2]), 0x60, 3) << "the corner shows the matte";
    EXPECT_TRUE(child<QLabel>("receipt")->text().contains("laid on the matte"));
    type("releaseQuality", "best");
    EXPECT_EQ(piece().release.quality, 0);
    EXPECT_EQ(child<QLineEdit>("releaseQuality")->text(), "best");
}

// The field shows the chosen piece's matte, none where there is none; black is a matte, too.
TEST_F(ReleaseTest, AMatteIsOfItsPieceAndCanBeTakenBack) {
    go("corner-mark");
    auto* matte = child<ColourField>("releaseMatte")->text();
    const auto typed = [&](const QString& text) {
        matte->setFocus();
        matte->selectAll();
        QTest::keyClick(matte, Qt::Key_Delete);
        QTest::keyClicks(matte, text);
        QTest::keyClick(matte, Qt::Key_Return);
    };
    EXPECT_EQ(matte->text(), "");
    EXPECT_EQ(matte->placeholderText(), "none");
    typed("#000000");
    EXPECT_EQ(piece().release.matte, (Colour{0, 0, 0, 255}));
    typed("no colour");
    EXPECT_TRUE(refusal().contains("not a colour"));
    EXPECT_EQ(piece().release.matte, (Colour{0, 0, 0, 255}));
    session().choice().choosePiece("overlay");
    ASSERT_TRUE(measured());
    EXPECT_EQ(matte->text(), "");
    session().choice().choosePiece("corner-mark");
    ASSERT_TRUE(measured());
    EXPECT_EQ(matte->text(), "#000000");
    typed("");
    EXPECT_FALSE(piece().release.matte);
    EXPECT_EQ(refusal(), "");
}

// Where the application was started from is nobody's folder.
TEST_F(ReleaseTest, AFolderWithoutARootBeginsAtHome) {
    openDemo();
    window->showView(MainWindow::release);
    for (const auto& [typed, whole] :
         {std::pair{"Releases/new", "/Releases/new"}, {"~/Out/", "/Out"}, {"~", ""}}) {
        type("releaseFolder", typed);
        EXPECT_EQ(child<QLineEdit>("releaseFolder")->text(), QDir::homePath() + whole);
    }
    type("releaseFolder", "");
    EXPECT_TRUE(QDir(child<QLineEdit>("releaseFolder")->text()).isAbsolute());
}

TEST_F(ReleaseTest, WithoutAPieceItSaysSo) {
    for (const char* view : {MainWindow::gauge, MainWindow::rehearse, MainWindow::release}) {
        window->showView(view);
        QTest::qWait(20);
    }
    EXPECT_FALSE(child<QWidget>("releaseNow")->isEnabled());
    EXPECT_EQ(child<ReleaseTable>("releaseTable")->rowCount(), 0);
    EXPECT_TRUE(child<QLabel>("receipt")->text().contains("Start a piece"));
}

// Another piece's formats do not stand under a piece, not under one that cannot be drawn either.
TEST_F(ReleaseTest, TheTableIsOfThePieceThatIsChosen) {
    go("thumbnail");
    auto* table = child<ReleaseTable>("releaseTable");
    ASSERT_TRUE(comesTrue([&] { return table->rowCount() > 0; }));
    const Asset broken = makeAsset(Bytes{1, 2, 3}, "broken.png");
    Kit kit = withAsset(test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                                          test::textured({64, 36}), {0, 0, 1280, 720}),
                        broken);
    Layer layer = kit.piece("p")->layers[0];
    layer.picture()->source = broken.sha256;
    session().files().openValue(good(withChangedLayer(kit, "p", layer)), folder / "bad.zlkit");
    ASSERT_TRUE(measured());
    EXPECT_FALSE(window->readings().state("p")->refusal.isEmpty());
    EXPECT_EQ(table->rowCount(), 0);
}

TEST_F(ReleaseTest, ALongReleaseCanBeCancelled) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {3000, 2400}),
                                test::noisy({3000, 2400}), {0, 0, 3000, 2400});
    session().files().openValue(kit, folder / "big.zlkit");
    window->showView(MainWindow::release);
    click("releaseNow");
    ASSERT_TRUE(child<QWidget>("releaseCancel")->isVisible());
    click("releaseCancel");
    ASSERT_TRUE(comesTrue([this] { return refusal().contains("nothing was written"); }));
    EXPECT_FALSE(std::filesystem::exists(folder / "made-for-a-test.png"));
    EXPECT_TRUE(child<QWidget>("releaseNow")->isVisible());
}

TEST_F(ReleaseTest, TheTableSaysWhatEachFormatWouldGiveAndARowIsChosen) {
    go("thumbnail");
    auto* table = window->findChild<ReleaseTable*>();
    ASSERT_TRUE(comesTrue(
        [&] { return table->rowCount() == 6 && !table->running() && table->bestRow() == 0; }));
    for (int i = 0; i < table->rowCount(); ++i) EXPECT_TRUE(table->row(i)->file) << i;
    QTest::mouseClick(table, Qt::LeftButton, {}, table->rowRect(4).center());
    EXPECT_EQ(piece().release.format, FormatChoice::jpeg);
    EXPECT_EQ(piece().release.chroma, ChromaChoice::half);
    EXPECT_EQ(piece().release.quality, 95);
    ASSERT_TRUE(measured());
    EXPECT_EQ(window->readings().state("thumbnail")->bytes, table->row(4)->bytes)
        << "the reading counts what the row promised";
    table->setFocus();
    QTest::keyClick(table, Qt::Key_Up);
    EXPECT_EQ(piece().release.chroma, ChromaChoice::full);
    for (int i = 0; i < 3; ++i) QTest::keyClick(table, Qt::Key_Up);
    EXPECT_EQ(piece().release.format, FormatChoice::best) << "the best row is the best choice";
    QTest::mouseClick(table, Qt::LeftButton, {}, table->rowRect(1).center());
    EXPECT_EQ(piece().release.format, FormatChoice::palette);
    ASSERT_TRUE(measured());
    click("releaseNow");
    ASSERT_TRUE(comesTrue([this] { return released(); }));
    EXPECT_EQ(static_cast<long long>(fileNamed("the-lever-that-stuck.png").size()),
              table->row(1)->bytes);
}

TEST_F(ReleaseTest, AllReadyPiecesAreReleasedAtOnce) {
    go("thumbnail");
    ASSERT_TRUE(comesTrue(
        [this] {
            for (const Piece& one : session().kit().pieces)
                if (!window->readings().isCurrent(one.id)) return false;
            return true;
        },
        120'000));
    EXPECT_EQ(child<QLabel>("readyWords")->text(), "10 ready, 7 need a look");
    write("mossgate-overlay.png", test::bytesOf("mine"));
    click("releaseReady");
    ASSERT_TRUE(
        comesTrue([this] { return !told.empty() && told.back().contains("released"); }, 120'000));
    EXPECT_EQ(told.back(), "7 released, 3 left as they were.");
    EXPECT_TRUE(std::filesystem::exists(folder / "the-lever-that-stuck.receipt.json"));
    EXPECT_TRUE(std::filesystem::exists(folder / "mossgate-corner-mark.png"));
    EXPECT_EQ(fileNamed("mossgate-overlay.png"), test::bytesOf("mine"));
    EXPECT_FALSE(std::filesystem::exists(folder / "thumbnail-first-try.png"));
}

TEST_F(ReleaseTest, TheHostRefusesWithItsReasonsAndKeepsWhatItHad) {
    openDemo();
    window->showView(MainWindow::rehearse);
    EXPECT_TRUE(child<QLabel>("rehearseEmpty")->text().contains("Nothing to rehearse yet"));
    EXPECT_FALSE(child<QWidget>("handOver")->isEnabled());
    EXPECT_FALSE(child<QWidget>("handOver")->toolTip().isEmpty()) << "why it is off";
    answers = {write("tiny.png", test::png(test::textured({320, 180})))};
    click("handOverOther");
    ASSERT_TRUE(
        comesTrue([this] { return child<QLabel>("hostState")->text().contains("Refused"); }));
    EXPECT_TRUE(child<QLabel>("hostSaid")->text().contains("is smaller than"));
    EXPECT_FALSE(std::filesystem::exists(folder / "host/mossgate-signals/thumbnail/draft.png"));
    answers = {write("notes.txt", test::bytesOf("not a picture"))};
    click("handOverOther");
    ASSERT_TRUE(
        comesTrue([this] { return child<QLabel>("hostSaid")->text().contains("not a picture"); }));
    answers = {write("good.txt", test::png(test::textured({1280, 720})))};
    click("handOverOther");
    ASSERT_TRUE(comesTrue([this] {
        return child<QLabel>("hostState")->text().contains("Accepted");
    })) << "a name is no reason; the bytes count";
    click("piece-corner-mark");
    EXPECT_TRUE(child<QLabel>("hostHeadline")->text().contains("nothing handed over yet"));
    click("piece-thumbnail");
    EXPECT_TRUE(comesTrue([&] { return child<QWidget>("surface-feed-card-light")->isVisible(); }))
        << "each piece keeps its own";
}

}  // namespace
}  // namespace zl::app
