// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing is lost: the journal of a window that was killed is offered back, saves keep the version
// before.
#include <QAbstractButton>
#include <QElapsedTimer>
#include <QMessageBox>
#include <QProcess>
#include <csignal>
#include <cstdio>

#include "store/kit_file.h"
#include "store/recovery.h"
#include "window.h"

namespace zl::app {
namespace {

class Recovery : public WindowTest {
  protected:
    Path journals() const { return folder / "journals"; }
    // Whether a journal is whole.
    std::optional<Kit> journaled() {
        std::error_code none;
        for (const auto& entry : std::filesystem::directory_iterator(journals(), none))
            if (entry.is_directory())
                if (auto read = readRecovery(entry.path())) return read->kit;
        return {};
    }
    QAbstractButton* question(const char* button) {
        auto* box = window->findChild<QMessageBox*>("recoveryQuestion");
        return box ? box->findChild<QAbstractButton*>(button) : nullptr;
    }
};

TEST_F(Recovery, EditsAreInTheJournalWithinTwoSecondsAndLeaveItWhenTheyAreSaved) {
    session().journal().keepIn(journals());
    const Path file = folder / "kit.zlkit";
    ASSERT_TRUE(saveKit(
        test::withLetters(test::kitWith("video-thumbnail", {1280, 720}), "HELLO", 90, {100, 100}),
        file, Replace::no));
    session().files().open(file);
    ASSERT_TRUE(comesTrue([this] { return session().piece() != nullptr; }));
    EXPECT_FALSE(journaled());
    session().choice().chooseLayer(1);
    type("left", "300");
    QElapsedTimer since;
    since.start();
    ASSERT_TRUE(comesTrue([this] { return journaled().has_value(); }));
    RecordProperty("ms_to_the_journal", std::to_string(since.elapsed()));
    EXPECT_EQ(journaled()->pieces[0].layers[0].lettering()->at.x, 300);
    EXPECT_EQ(good(openKit(file)).pieces[0].layers[0].lettering()->at.x, 100)
        << "the saved kit is not touched";
    trigger("saveKit");
    ASSERT_TRUE(comesTrue([this] { return !session().document().changed() && !journaled(); }));
    EXPECT_EQ(good(openKit(file)).pieces[0].layers[0].lettering()->at.x, 300);
    EXPECT_EQ(good(openKit(previousOf(file))).pieces[0].layers[0].lettering()->at.x, 100)
        << "the version before is kept";
    // Undone to the saved state, there is nothing to keep either.
    type("left", "400");
    ASSERT_TRUE(comesTrue([this] { return journaled().has_value(); }));
    session().document().history().undo();
    EXPECT_TRUE(comesTrue([this] { return !journaled(); }));
}

// A window that ended between its save and the end of its journal.
TEST_F(Recovery, AJournalOfWhatIsSavedIsForgotten) {
    const Path file = folder / "kit.zlkit", journal = journals() / "1-1";
    const Kit kit =
        test::withLetters(test::kitWith("video-thumbnail", {1280, 720}), "HELLO", 90, {100, 100});
    ASSERT_TRUE(saveKit(kit, file, Replace::no));
    std::set<std::string> there;
    ASSERT_TRUE(writeRecovery(journal, kit, file, there));
    ASSERT_TRUE(journaled());
    session().journal().keepIn(journals());
    session().files().recover(journal);
    ASSERT_TRUE(comesTrue([this] { return !told.empty(); }));
    EXPECT_TRUE(told.back().contains("nothing was lost")) << told.back().toStdString();
    EXPECT_EQ(session().kit(), kit);
    EXPECT_FALSE(session().document().changed());
    EXPECT_FALSE(std::filesystem::exists(journal));
}

TEST_F(Recovery, AWindowKilledInMidEditLosesTwoSecondsAtMost) {
    const Path file = folder / "kit.zlkit";
    ASSERT_TRUE(saveKit(
        test::withLetters(test::kitWith("video-thumbnail", {1280, 720}), "HELLO", 90, {100, 100}),
        file, Replace::no));
    const Bytes saved = fileNamed("kit.zlkit");
    QProcess other;
    other.start(QCoreApplication::applicationFilePath(),
                {"--edit-without-end", QString::fromStdString(folder.path().string())});
    // What it had reached, and when it said so.
    std::vector<std::pair<qint64, int>> reached;
    QElapsedTimer clock;
    clock.start();
    std::optional<Kit> kept;
    while (clock.elapsed() < 60'000 &&
           (!kept || reached.empty() || clock.elapsed() < reached.front().first + 3500)) {
        other.waitForReadyRead(50);
        while (other.canReadLine())
            if (const QByteArray line = other.readLine(); line.startsWith("at "))
                reached.emplace_back(clock.elapsed(), line.mid(3).trimmed().toInt());
        kept = journaled();
    }
    ASSERT_TRUE(kept) << other.readAllStandardError().toStdString();
    ::kill(static_cast<pid_t>(other.processId()), SIGKILL);
    const qint64 killed = clock.elapsed();
    other.waitForFinished();
    EXPECT_EQ(fileNamed("kit.zlkit"), saved) << "the saved kit is whole and as it was";

    session().journal().keepIn(journals());
    window->offerRecovery();
    ASSERT_TRUE(comesTrue([this] { return question("recover") != nullptr; }));
    const auto* box = window->findChild<QMessageBox*>("recoveryQuestion");
    EXPECT_TRUE(box->text().contains("kit.zlkit")) << "which kit";
    EXPECT_TRUE(box->text().contains(QString::number(QDate::currentDate().year()).right(2)))
        << "and from when";
    QTest::mouseClick(question("recover"), Qt::LeftButton);
    ASSERT_TRUE(comesTrue([this] { return session().piece() != nullptr; }));
    const int back = static_cast<int>(piece().layers[0].lettering()->at.x);
    int twoSecondsBefore = 100;
    for (const auto& [when, x] : reached)
        if (when <= killed - 2000) twoSecondsBefore = x;
    EXPECT_GE(back, twoSecondsBefore);
    EXPECT_GT(back, 100);
    EXPECT_TRUE(session().document().changed()) << "not saved yet";
    ASSERT_TRUE(session().files().path());
    EXPECT_EQ(session().files().path()->filename(), "kit.zlkit");
    session().document().history().undo();
    EXPECT_EQ(piece().layers[0].lettering()->at.x, 100) << "back to what is saved";
    EXPECT_EQ(fileNamed("kit.zlkit"), saved);
}

TEST_F(Recovery, WhatIsLostCanBeThrownAwayOrLeftForLater) {
    std::set<std::string> written;
    ASSERT_TRUE(writeRecovery(journals() / "gone", test::kitWith("video-thumbnail", {64, 36}), {},
                              written));
    session().journal().keepIn(journals());
    window->offerRecovery();
    ASSERT_TRUE(comesTrue([this] { return question("recoverLater") != nullptr; }));
    QTest::mouseClick(question("recoverLater"), Qt::LeftButton);
    activate();
    EXPECT_EQ(Journal::lostIn(session().journal().folder()).size(), 1u);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    window->offerRecovery();
    ASSERT_TRUE(comesTrue([this] { return question("throwAway") != nullptr; }));
    QTest::mouseClick(question("throwAway"), Qt::LeftButton);
    activate();
    EXPECT_TRUE(Journal::lostIn(session().journal().folder()).empty());
    // A journal that is broken says so and changes nothing.
    std::filesystem::create_directories(journals() / "broken");
    ASSERT_TRUE(
        writeFile(journals() / "broken" / "journal.json", test::bytesOf("{"), Replace::yes));
    session().files().recover(journals() / "broken");
    EXPECT_TRUE(comesTrue([this] { return !told.empty(); }));
    EXPECT_FALSE(session().piece());
}

}  // namespace
}  // namespace zl::app
