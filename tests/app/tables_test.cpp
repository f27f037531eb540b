// SPDX-License-Identifier: GPL-3.0-or-later
// The window's tables: a view that is added to the rows is there with all that a view has; every
// action has its words, and no key is given twice.
#include <QMenuBar>
#include <set>

#include "widgets/view_tab.h"
#include "window.h"

namespace zl::app {
namespace {

TEST_F(WindowTest, AViewThatIsAddedHasItsTabItsKeyItsMenuAndItsBench) {
    int shown = 0, left = 0;
    std::vector<ViewRow> rows = viewRows(folder / "host");
    rows.push_back(
        {"made-up", "Made up", "Alt+9", [&](MainWindow&) {
             auto* view = new QLabel("in the middle");
             view->setObjectName("madeUpView");
             auto* bench = new QLabel("on the right");
             bench->setObjectName("madeUpBench");
             return ViewParts{
                 .view = view, .bench = bench, .shown = [&] { ++shown; }, .left = [&] { ++left; }};
         }});
    const int tabs = static_cast<int>(window->findChildren<ViewTab*>().size());
    window = std::make_unique<MainWindow>(good(loadBriefs(good(dataFolder()), folder / "nobody")),
                                          rows, Dialogs{});
    window->resize(1280, 800);
    window->show();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
    EXPECT_EQ(window->view(), MainWindow::make);
    EXPECT_EQ(window->findChildren<ViewTab*>().size(), tabs + 1);
    QTest::keyClick(window.get(), Qt::Key_9, Qt::AltModifier);
    EXPECT_EQ(window->view(), "made-up");
    EXPECT_TRUE(child<QLabel>("madeUpView")->isVisible());
    EXPECT_TRUE(child<QLabel>("madeUpBench")->isVisible());
    EXPECT_EQ(shown, 1);
    trigger(MainWindow::gauge);
    EXPECT_FALSE(child<QLabel>("madeUpView")->isVisible());
    EXPECT_GE(left, 1);
    trigger("made-up");
    EXPECT_EQ(shown, 2);
    // A finding of a view that shows no places leads back to where the piece is made.
    Finding finding;
    finding.rect = PixelRect{1, 2, 30, 40};
    window->goTo(finding);
    EXPECT_EQ(window->view(), MainWindow::make);
}

TEST_F(WindowTest, EveryActionHasItsWordsAndItsOwnKey) {
    std::set<std::string> ids;
    std::map<QString, std::string> keys;
    std::size_t count = 0;
    for (const MenuRow& menu : menuRows(*window)) {
        EXPECT_FALSE(menu.title.isEmpty());
        for (const ActionRow& row : menu.rows) {
            if (!row.id) continue;
            ++count;
            EXPECT_TRUE(ids.insert(row.id).second) << row.id << " stands there twice";
            EXPECT_FALSE(row.words.isEmpty()) << row.id;
            EXPECT_NE(static_cast<bool>(row.run), static_cast<bool>(row.fill)) << row.id;
            const QString key = row.key.toString();
            if (key.isEmpty()) continue;
            EXPECT_TRUE(keys.emplace(key, row.id).second)
                << row.id << " and " << keys[key] << " have the key " << key.toStdString();
            EXPECT_EQ(window->actions().keyOf(row.id), row.key.toString(QKeySequence::NativeText));
        }
    }
    EXPECT_GE(count, 50u);
}

// Without a piece, what needs one is off; with a layer that is no picture, what needs one of those.
TEST_F(WindowTest, ActionsAreOffWithoutWhatTheyNeed) {
    session().files().newKit();
    const auto isOn = [this](const char* id) {
        return window->findChild<QAction*>(id)->isEnabled();
    };
    EXPECT_TRUE(isOn("openKit"));
    EXPECT_FALSE(isOn("removePiece"));
    EXPECT_FALSE(isOn("copyLayers"));
    const Kit kit = test::kitWith("video-thumbnail", {1280, 720});
    session().files().openValue(kit, folder / "one.zlkit");
    EXPECT_TRUE(isOn("removePiece"));
    EXPECT_FALSE(isOn("copyLayers"));
    trigger("addBarAction");
    EXPECT_TRUE(isOn("copyLayers"));
    EXPECT_FALSE(isOn("referenceAction"));
}

}  // namespace
}  // namespace zl::app
