// SPDX-License-Identifier: GPL-3.0-or-later
// The real window for a test: its own folder and settings, dialogs that are answered from a list,
// keys and clicks on widgets found by object name, asserts that try again instead of sleeping.
#pragma once

#include <QAbstractButton>
#include <QAction>
#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QSettings>
#include <QtTest>
#include <deque>

#include "demo/demo_kit.h"
#include "gauge/gauge_view.h"
#include "make/bench.h"
#include "rehearse/rehearse_view.h"
#include "rehearse/wall_view.h"
#include "release/release_view.h"
#include "shell/main_window.h"
#include "support/demo_files.h"
#include "support/support.h"

namespace zl::app {

// How much longer everything may take.
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
inline constexpr int slower = 10;
#else
inline constexpr int slower = 1;
#endif

class WindowTest : public ::testing::Test {
  protected:
    WindowTest() {
        QSettings::setPath(QSettings::IniFormat, QSettings::UserScope,
                           QString::fromStdString((folder / "settings").string()));
        QSettings().setValue("releaseFolder", QString::fromStdString(folder.path().string()));
        Dialogs dialogs;
        dialogs.openFile = [this](QWidget*, const QString& title, const QString&,
                                  std::function<void(QString)> done) { answer(title, done); };
        dialogs.saveFile = [this](QWidget*, const QString& title, const QString&, const QString&,
                                  std::function<void(QString)> done) { answer(title, done); };
        dialogs.chooseFolder = [this](QWidget*, const QString& title, const QString&,
                                      std::function<void(QString)> done) { answer(title, done); };
        dialogs.unsaved = [this](QWidget*, const QString&, std::function<void(Unsaved)> done) {
            asked.push_back("unsaved");
            if (!unsaved.empty()) {
                const Unsaved given = unsaved.front();
                unsaved.pop_front();
                done(given);
            }
        };
        dialogs.openFiles = [this](QWidget*, const QString& title, const QString&,
                                   std::function<void(QStringList)> done) {
            answer(title, [&](const QString& files) { done(files.split('\n')); });
        };
        dialogs.askText = [this](QWidget*, const QString& title, const QString&, const QString&,
                                 std::function<void(QString)> done) { answer(title, done); };
        dialogs.confirm = [this](QWidget*, const QString&, const QString& action,
                                 std::function<void()> done) {
            answer(action, [&](const QString& given) {
                if (given == "yes") done();
            });
        };
        QSettings().setValue("stampFolder", QString::fromStdString((folder / "marked").string()));
        window =
            std::make_unique<MainWindow>(good(loadBriefs(good(dataFolder()), folder / "nobody")),
                                         viewRows(folder / "host"), dialogs);
        QObject::connect(&window->session(), &Session::told, window.get(),
                         [this](const QString& sentence, bool) { told.push_back(sentence); });
        window->resize(1280, 800);
        window->show();
        EXPECT_TRUE(QTest::qWaitForWindowActive(window.get()));
    }

    template <class T>
    static T good(Result<T> result) {
        return test::good(std::move(result));
    }
    template <class Widget = QWidget>
    Widget* child(const char* name) {
        for (Widget* found : window->findChildren<Widget*>(name))
            if (found->isVisible()) return found;
        auto* hidden = window->findChild<Widget*>(name);
        if (!hidden) throw std::runtime_error(std::string("no widget ") + name);
        return hidden;
    }
    void click(const char* name) {
        auto* button = child<QWidget>(name);
        ASSERT_TRUE(button->isVisible()) << name << " is not on show";
        ASSERT_TRUE(button->isEnabled()) << name << " is off";
        QCoreApplication::sendPostedEvents(
            nullptr, QEvent::LayoutRequest);  // nobody clicks before it stands where it belongs
        QTest::mouseClick(button, Qt::LeftButton);
    }
    void trigger(const char* name) {
        auto* action = window->findChild<QAction*>(name);
        ASSERT_TRUE(action && action->isEnabled()) << name;
        action->trigger();
    }
    // Replaces what a field holds, as a person does: choose all, type, Enter.
    void type(const char* name, const QString& text) {
        auto* field = child<QLineEdit>(name);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    // Several lines, as they are typed into a text.
    static void typeLines(QWidget* text, const QString& words) {
        const QStringList lines = words.split('\n');
        for (int i = 0; i < lines.size(); ++i) {
            if (i > 0) QTest::keyClick(text, Qt::Key_Return);
            QTest::keyClicks(text, lines[i]);
        }
    }
    static bool comesTrue(const std::function<bool()>& condition, int patience = 90'000) {
        QElapsedTimer timer;
        timer.start();
        while (!condition()) {
            if (timer.elapsed() > slower * patience) return false;
            QTest::qWait(5);
        }
        return true;
    }
    // What the notice over the ledge says.
    QString notice() {
        auto* text = window->findChild<QLabel*>("noticeText");
        return text->isVisible() ? text->text() : QString();
    }
    // What a window manager does when a dialog closes.
    void activate() {
        QTest::qWait(20);
        window->activateWindow();
        EXPECT_TRUE(QTest::qWaitForWindowActive(window.get()));
    }
    bool measured() {
        return comesTrue([this] {
            return session().piece() && window->readings().isCurrent(session().piece()->id);
        });
    }
    const Reading& reading(const std::string& id) {
        for (const Reading& one : window->readings().state(session().piece()->id)->readings)
            if (one.id == id) return one;
        throw std::runtime_error("no reading " + id);
    }
    Session& session() { return window->session(); }
    const Piece& piece() { return *session().piece(); }
    const Layer& layer() { return *session().layer(); }
    void openDemo(const std::string& pieceId = "thumbnail") {
        const Kit& kit = test::madeDemo().kit;
        session().files().openValue(kit, folder / "demo.zlkit");
        session().choice().choosePiece(pieceId);
        window->canvas().setFocus();
    }
    // Where a point of the frame is on the canvas.
    QPoint at(double x, double y) { return window->canvas().toWidget({x, y}).toPoint(); }
    void drag(QPoint from, QPoint to, Qt::KeyboardModifiers keys = Qt::NoModifier, int steps = 6) {
        QWidget* canvas = &window->canvas();
        QTest::mousePress(canvas, Qt::LeftButton, keys, from);
        for (int i = 1; i <= steps; ++i) {
            const QPoint here = from + (to - from) * i / steps;
            QMouseEvent move(QEvent::MouseMove, here, canvas->mapToGlobal(here), Qt::NoButton,
                             Qt::LeftButton, keys);
            QApplication::sendEvent(canvas, &move);
        }
        QTest::mouseRelease(canvas, Qt::LeftButton, keys, to);
    }
    // Files dropped on the window, as a file manager drops them.
    void dropFiles(const QList<QUrl>& urls) {
        QMimeData files;
        files.setUrls(urls);
        QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &files, Qt::LeftButton, {});
        QApplication::sendEvent(window.get(), &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &files, Qt::LeftButton, {});
        QApplication::sendEvent(window.get(), &drop);
    }
    QString write(const std::string& name, const Bytes& bytes) {
        EXPECT_TRUE(writeFile(folder / name, bytes, Replace::yes));
        return QString::fromStdString((folder / name).string());
    }
    Bytes fileNamed(const std::string& name) { return good(readFile(folder / name)); }

    test::Folder folder;
    std::deque<QString> answers;     // to file dialogs, in order; an empty one closes the dialog
    std::deque<Unsaved> unsaved;     // to the question about unsaved changes
    std::vector<std::string> asked;  // the titles of dialogs that came up
    std::vector<QString> told;
    std::unique_ptr<MainWindow> window;

  private:
    void answer(const QString& title, const std::function<void(QString)>& done) {
        asked.push_back(title.toStdString());
        if (answers.empty()) return;
        const QString given = answers.front();
        answers.pop_front();
        if (!given.isEmpty()) done(given);
    }
};

}  // namespace zl::app
