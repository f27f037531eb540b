// SPDX-License-Identifier: GPL-3.0-or-later
// Several layers at once, in the real window: moved, grouped, ordered, lined up; and which piece's
// they are.
#include <QListWidget>

#include "craft.h"
#include "edit/stack.h"

namespace zl::app {
namespace {

class SeveralLayers : public CraftTest {};

TEST_F(SeveralLayers, MoveAsOneAndGroupsStayTogether) {
    threeBars();
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, {}, middleOf(piece().layers[0]));
    QTest::mouseClick(&window->canvas(), Qt::LeftButton, Qt::ShiftModifier,
                      middleOf(piece().layers[1]));
    EXPECT_EQ(session().chosenIds(), (std::set{1, 2}));
    drag(middleOf(piece().layers[0]), middleOf(piece().layers[0]) + QPoint(0, 40),
         Qt::ControlModifier);
    const double down = test::barOf(piece().layers[0])->place.y - 25;
    EXPECT_GT(down, 20);
    EXPECT_EQ(test::barOf(piece().layers[1])->place.y - 70, down) << "both, by the same way";
    EXPECT_EQ(test::barOf(piece().layers[2])->place.y, 145);
    trigger("groupAction");
    EXPECT_NE(piece().layers[0].group, 0);
    // One of the group is nudged, the other follows; hiding hides both.
    session().choice().chooseLayer(1);
    const double x = test::barOf(piece().layers[1])->place.x;
    QTest::keyClick(&window->canvas(), Qt::Key_Right, Qt::ShiftModifier);
    EXPECT_EQ(test::barOf(piece().layers[1])->place.x, x + 10);
    trigger("hideLayerAction");
    EXPECT_TRUE(piece().layers[0].hidden && piece().layers[1].hidden && !piece().layers[2].hidden);
    session().document().history().undo();
    trigger("ungroupAction");
    EXPECT_EQ(piece().layers[0].group, 0);
    trigger("chooseAllAction");
    EXPECT_EQ(session().chosenIds().size(), 3u);
    auto* list = child<QListWidget>("layers");
    EXPECT_EQ(list->selectedItems().size(), 3) << "the list shows the choice";
    QTest::keyClick(list, Qt::Key_Delete);
    EXPECT_TRUE(piece().layers.empty());
}

// What is done to the stack is done to all that are chosen, in one step.
TEST_F(SeveralLayers, AreRaisedHiddenDoubledAndDropped) {
    threeBars();
    const auto order = [this] {
        std::vector<int> ids;
        for (const Layer& one : piece().layers) ids.push_back(one.id);
        return ids;
    };
    session().choice().chooseLayers({1, 2}, 2);
    trigger("raiseAction");
    EXPECT_EQ(order(), (std::vector{3, 1, 2}));
    trigger("raiseAction");
    EXPECT_EQ(order(), (std::vector{3, 1, 2})) << "at the top already, and in their order";
    trigger("lowerAction");
    EXPECT_EQ(order(), (std::vector{1, 2, 3}));
    trigger("hideLayerAction");
    EXPECT_TRUE(piece().layers[0].hidden && piece().layers[1].hidden && !piece().layers[2].hidden);
    trigger("hideLayerAction");
    trigger("groupAction");
    trigger("doubleLayerAction");
    ASSERT_EQ(piece().layers.size(), 5u);
    EXPECT_EQ(order(), (std::vector{1, 4, 2, 5, 3}));
    EXPECT_EQ(session().chosenIds(), (std::set{4, 5}));
    EXPECT_EQ(session().layer()->id, 5) << "that of the one whose values were shown";
    EXPECT_EQ(piece().layer(4)->group, piece().layer(5)->group);
    EXPECT_NE(piece().layer(4)->group, piece().layer(1)->group)
        << "copies are a group of their own";
    EXPECT_EQ(test::barOf(*piece().layer(4))->place.y,
              test::barOf(*piece().layer(1))->place.y + 24);
    session().document().history().undo();
    EXPECT_EQ(order(), (std::vector{1, 2, 3}));
    // What a drop over the last row but one does.
    const Kit dropped = good(withLayersMoved(session().kit(), piece().id, {1, 2}, 1));
    EXPECT_EQ(dropped.pieces[0].layers.front().id, 3);
    EXPECT_EQ(dropped.pieces[0].layers.back().id, 2);
}

TEST_F(SeveralLayers, AreLinedUpAndTheirGapsMadeEqual) {
    threeBars();
    session().choice().chooseLayer(0);
    trigger("chooseAllAction");
    click("edgeTop");
    for (const Layer& one : piece().layers) EXPECT_EQ(test::barOf(one)->place.y, 0);
    click("gapsAcross");
    EXPECT_EQ(test::barOf(piece().layers[1])->place.x, 260)
        << "20 to 560 px, 180 taken: gaps of 180";
    choose("alignTo", 1);
    click("edgeRight");
    for (const Layer& one : piece().layers) EXPECT_EQ(test::barOf(one)->place.right(), 560);
    session().choice().chooseLayer(2);
    EXPECT_FALSE(child<QToolButton>("gapsAcross")->isEnabled());
    EXPECT_TRUE(child<QToolButton>("gapsAcross")->toolTip().contains("three layers"));
    type("width", "90");
    session().choice().chooseLayers({1, 2}, 2);
    click("matchSize");
    EXPECT_EQ(boxOf(piece().layers[0]).width, 90);
}

TEST_F(SeveralLayers, AreDrawnToEqualGaps) {
    threeBars();
    session().editLayers({1, 2, 3}, "row", {}, [](Layer& one) { test::barOf(one)->place.y = 100; });
    session().editLayers({2}, "row", {}, [](Layer& one) { test::barOf(one)->place.x = 120; });
    // 20..80 and 120..180 are 40 px apart: the next would stand at 220.
    session().choice().chooseLayer(3);
    drag(at(530, 120), at(530, 120) + (at(247, 121) - at(530, 120)));
    EXPECT_EQ(test::barOf(layer())->place.x, 220);
}

// Keys of layers do nothing where no layer is seen, and what comes in is seen.
TEST_F(SeveralLayers, AreEditedOnlyWhereTheyAreSeen) {
    threeBars();
    session().choice().chooseLayer(2);
    for (const char* view :
         {MainWindow::gauge, MainWindow::rehearse, MainWindow::release, MainWindow::stamping}) {
        window->showView(view);
        QTest::keyClick(window.get(), Qt::Key_Delete);
        QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
        QTest::keyClick(window.get(), Qt::Key_H, Qt::ControlModifier);
        EXPECT_EQ(piece().layers.size(), 3u) << view;
        EXPECT_FALSE(piece().layer(2)->hidden) << view;
    }
    QTest::keyClick(window.get(), Qt::Key_T, Qt::ControlModifier);
    EXPECT_EQ(piece().layers.size(), 4u);
    EXPECT_TRUE(window->canvas().isVisible());
    QTest::keyClick(&window->canvas(), Qt::Key_Delete);
    EXPECT_EQ(piece().layers.size(), 3u);
}

// Layers of two pieces have the same ids: nudging both is two steps back.
TEST_F(SeveralLayers, OfTwoPiecesAreTwoSteps) {
    threeBars();
    Piece second = piece();
    second.id = "second";
    session().apply(withPiece(session().kit(), second), "second");
    session().choice().chooseLayer(1);
    const auto nudge = [this] { QTest::keyClick(&window->canvas(), Qt::Key_Right); };
    const std::string first = piece().id;
    const double x = test::barOf(*piece().layer(1))->place.x;
    nudge();
    nudge();
    session().choice().choosePiece("second");
    session().choice().chooseLayer(1);
    nudge();
    const auto at = [&](const std::string& id) {
        return test::barOf(*session().kit().piece(id)->layer(1))->place.x - x;
    };
    EXPECT_EQ(at("second"), 1);
    session().document().history().undo();
    EXPECT_EQ(at("second"), 0);
    EXPECT_EQ(at(first), 2) << "the first one's is a step of its own";
    QCoreApplication::processEvents();
    EXPECT_EQ(piece().id, "second") << "what was taken back is on show";
    session().document().history().undo();
    EXPECT_EQ(at(first), 0) << "both nudges";
    EXPECT_TRUE(comesTrue([&] { return piece().id == first; })) << "and so is this";
    session().document().history().redo();
    session().document().history().redo();
    EXPECT_TRUE(comesTrue([&] { return piece().id == "second"; }));
}

}  // namespace
}  // namespace zl::app
