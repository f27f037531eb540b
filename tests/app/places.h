// SPDX-License-Identifier: GPL-3.0-or-later
// What the tests of places share: the whole way to the stand-in host, a data folder of one's own.
#pragma once

#include <QComboBox>
#include <QMenu>
#include <QToolButton>

#include "window.h"

namespace zl::app {

class PlacesTest : public WindowTest {
  protected:
    PlacesTest() {
        qputenv("XDG_DATA_HOME", QByteArray::fromStdString((folder / "mine").string()));
    }
    ~PlacesTest() override { qunsetenv("XDG_DATA_HOME"); }

    void open(const std::string& pieceId) {
        openDemo(pieceId);
        ASSERT_TRUE(measured());
    }
    void setCombo(const char* name, int index) {
        auto* box = child<QComboBox>(name);
        box->setFocus();
        while (box->currentIndex() != index)
            QTest::keyClick(box, box->currentIndex() < index ? Qt::Key_Down : Qt::Key_Up);
    }
    // The whole way: released, handed over.
    void handOver(const std::string& pieceId) {
        open(pieceId);
        window->showView(MainWindow::release);
        child<QAbstractButton>("releaseNow")->click();
        ASSERT_TRUE(comesTrue([this] { return child<QWidget>("handOverNext")->isEnabled(); }));
        window->showView(MainWindow::rehearse);
        child<QAbstractButton>("handOver")->click();
    }
    bool stateSays(const QString& words) {
        return comesTrue([&] { return child<QLabel>("hostState")->text().contains(words); });
    }
    QImage grabbed(const char* name) { return child<QWidget>(name)->grab().toImage(); }
    QAction* inMenu(const char* button, const char* action) {
        QMenu* menu = child<QToolButton>(button)->menu();
        Q_EMIT menu->aboutToShow();
        for (QAction* one : menu->actions())
            if (one->objectName() == action) return one;
        throw std::runtime_error(std::string("no action ") + action);
    }
};

}  // namespace zl::app
