// SPDX-License-Identifier: GPL-3.0-or-later
// A restless hand: clicks, drags, keys, menus and typed words by chance, in a window that begins
// empty, with an empty piece or with the demo kit. Whatever it does, the window stands, and the kit
// it leaves is one that is read back as it was. TESTING.md tells how it is let go for longer.
#include <QAbstractItemView>
#include <QComboBox>
#include <QDialog>
#include <QMenu>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <random>

#include "film/clip_frames.h"
#include "stamping/stamping_view.h"
#include "store/kit_file.h"
#include "support/clips.h"
#include "window.h"

namespace zl::app {
namespace {

int numberIn(const char* name, int otherwise) {
    bool fine = false;
    const int given = qEnvironmentVariableIntValue(name, &fine);
    return fine ? given : otherwise;
}

// The person's folders are of the test's own, and what is typed without a root leads into them.
class OwnHome {
  protected:
    OwnHome() {
        for (const char* name : {"HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME"}) {
            before_[name] = qgetenv(name);
            qputenv(name, home_.path().string().c_str());
        }
        QDir::setCurrent(QString::fromStdString(home_.path().string()));
    }
    ~OwnHome() {
        for (const auto& [name, value] : before_)
            value.isNull() ? qunsetenv(name) : qputenv(name, value);
        QDir::setCurrent(was_);
    }

  private:
    const test::Folder home_;
    const QString was_ = QDir::currentPath();
    std::map<const char*, QByteArray> before_;
};

class Restless : private OwnHome, public WindowTest {
  private:
    int below(int n) { return static_cast<int>(chance_() % static_cast<unsigned>(n)); }
    template <class List>
    auto oneOf(const List& list) {
        return list[static_cast<typename List::size_type>(below(static_cast<int>(list.size())))];
    }

  protected:
    // What dialogs are answered with: files of several kinds, folders, words, a refusal.
    Restless() {
        const Straight8 small = test::textured({96, 64});
        given_ = {"",
                  "yes",
                  "A name %1",
                  write("small.png", test::png(small)),
                  write("small.jpg", test::jpeg(small)),
                  write("broken.png", {1, 2, 3}),
                  write("small.svg", test::bytesOf("<svg xmlns='http://www.w3.org/2000/svg' "
                                                   "width='40' height='40'><rect width='30' "
                                                   "height='20' fill='red'/></svg>")),
                  QString::fromStdString((folder / "made.zlkit").string()),
                  QString::fromStdString((folder / "nowhere" / "made.zlkit").string()),
                  QString::fromStdString(folder.path().string())};
    }

    // ZL_RESTLESS_SEED, ZL_RESTLESS_STEPS and ZL_RESTLESS_TELL let it go another way and farther,
    // and write each step.
    void letGo(int seed) {
        const int steps = numberIn("ZL_RESTLESS_STEPS", 120);
        chance_.seed(static_cast<unsigned>(numberIn("ZL_RESTLESS_SEED", seed)));
        // A menu that hangs open may wait for its choice inside the click that opened it.
        QTimer menus;
        QObject::connect(&menus, &QTimer::timeout, window.get(), [this] {
            QWidget* popup = QApplication::activePopupWidget();
            if (auto* menu = qobject_cast<QMenu*>(popup))
                fromMenu(menu);
            else if (popup)
                popup->close();
        });
        menus.start(20);
        for (int i = 0; i < steps && !HasFailure(); ++i) {
            answers = {oneOf(given_)};
            unsaved = {static_cast<Unsaved>(below(3))};
            step();
            QCoreApplication::processEvents();
            if (below(8) == 0) QTest::qWait(below(60));
            if (!window->isVisible()) window->show();
            if (qEnvironmentVariableIsSet("ZL_RESTLESS_TELL")) kitIsWhole();
        }
        closeAll();
        kitIsWhole();
    }

  private:
    void tell(const QString& what) {
        trail_.push_back(what);
        if (qEnvironmentVariableIsSet("ZL_RESTLESS_TELL"))
            fprintf(stderr, "%zu %s\n", trail_.size(), what.toUtf8().constData());
    }
    // What takes the clicks: a menu that hangs open, else a dialog, else the window.
    QWidget* front() const {
        if (QWidget* popup = QApplication::activePopupWidget()) return popup;
        if (QWidget* modal = QApplication::activeModalWidget()) return modal;
        return window.get();
    }
    void step() {
        switch (below(10)) {
            case 0:
            case 1:
            case 2:
                return act();
            case 3:
                return key();
            case 4:
                return drag();
            case 5:
                return type();
            case 6:
                return wait();
            default:
                return clickAnywhere();
        }
    }
    void fromMenu(QMenu* menu) {
        QList<QAction*> on;
        for (QAction* one : menu->actions())
            if (one->isEnabled() && one->isVisible() && !one->isSeparator()) on << one;
        QAction* chosen = on.isEmpty() ? nullptr : oneOf(on);
        tell("menu: " + (chosen ? chosen->text() : QString("nothing")));
        if (chosen && below(5) > 0) {
            menu->setActiveAction(chosen);
            QTest::keyClick(menu, Qt::Key_Return);
        } else {
            menu->close();
        }
    }
    // Whatever the menu bar leads to; `byKey`: only what has a key.
    void act(bool byKey = false) {
        if (front() != window.get()) return;
        QList<QAction*> on;
        for (QAction* menu : window->menuBar()->actions())
            for (QAction* one : menu->menu()->actions())
                if (one->isEnabled() && !one->isSeparator() && !one->menu() &&
                    one->objectName() != "quit" && one->objectName() != "newWindow" &&
                    (!byKey || !one->shortcut().isEmpty()))
                    on << one;
        QAction* chosen = oneOf(on);
        tell("action: " + chosen->objectName());
        chosen->trigger();
    }
    void key() {
        static const std::vector<Qt::Key> keys = {
            Qt::Key_Escape,   Qt::Key_Return, Qt::Key_Tab,    Qt::Key_Left,  Qt::Key_Right,
            Qt::Key_Up,       Qt::Key_Down,   Qt::Key_Delete, Qt::Key_Space, Qt::Key_PageUp,
            Qt::Key_PageDown, Qt::Key_Home,   Qt::Key_End,    Qt::Key_F2,    Qt::Key_A,
            Qt::Key_Z,        Qt::Key_5};
        static const std::vector<Qt::KeyboardModifiers> with = {
            Qt::NoModifier,
            Qt::NoModifier,
            Qt::NoModifier,
            Qt::ControlModifier,
            Qt::ShiftModifier,
            Qt::AltModifier,
            Qt::ControlModifier | Qt::ShiftModifier};
        QWidget* to = front()->focusWidget() ? front()->focusWidget() : front();
        const Qt::Key pressed = oneOf(keys);
        const Qt::KeyboardModifiers held = oneOf(with);
        tell(QString("key: %1 to %2").arg(QKeySequence(pressed | held).toString(), nameOf(to)));
        QTest::keyClick(to, pressed, held);
    }
    template <class Widget>
    QList<Widget*> shown() {
        QList<Widget*> all;
        for (Widget* one : front()->findChildren<Widget*>())
            if (one->isVisible() && one->isEnabled() && one->window() == front()->window() &&
                !one->visibleRegion().isEmpty())
                all << one;
        return all;
    }
    void clickAnywhere() {
        const QList<QWidget*> all = shown<QWidget>();
        if (all.isEmpty()) return;
        QList<QWidget*> answering;  // what takes a hand at all
        for (QWidget* one : all)
            if (one->focusPolicy() != Qt::NoFocus || qobject_cast<QAbstractButton*>(one))
                answering << one;
        QWidget* to = oneOf(all);
        if (below(6) > 0 && !answering.isEmpty()) to = oneOf(answering);
        const QRect seen = to->visibleRegion().boundingRect();
        const QPoint where = seen.topLeft() + QPoint(below(seen.width()), below(seen.height()));
        const auto button = below(8) == 0 ? Qt::RightButton : Qt::LeftButton;
        tell(QString("click: %1 at %2,%3").arg(nameOf(to)).arg(where.x()).arg(where.y()));
        if (below(12) == 0)
            QTest::mouseDClick(to, button, {}, where);
        else
            QTest::mouseClick(to, button, below(6) == 0 ? Qt::ShiftModifier : Qt::NoModifier,
                              where);
        if (auto* box = qobject_cast<QComboBox*>(to)) {
            if (box->count() == 0) return;
            const int row = below(box->count());
            box->hidePopup();
            box->setCurrentIndex(row);
            Q_EMIT box->activated(row);
        }
    }
    void drag() {
        const QList<QWidget*> all = shown<QWidget>();
        if (all.isEmpty()) return;
        QPointer<QWidget> to = oneOf(all);
        if (front() == window.get() && below(2) == 0 && window->canvas().isVisible())
            to = &window->canvas();
        const QRect seen = to->visibleRegion().boundingRect();
        const auto somewhere = [&] {
            return seen.topLeft() + QPoint(below(seen.width()), below(seen.height()));
        };
        const QPoint from = somewhere(), till = somewhere();
        const Qt::KeyboardModifiers held = below(4) == 0   ? Qt::ShiftModifier
                                           : below(6) == 0 ? Qt::AltModifier
                                                           : Qt::NoModifier;
        tell(QString("drag: %1 from %2,%3 to %4,%5")
                 .arg(nameOf(to))
                 .arg(from.x())
                 .arg(from.y())
                 .arg(till.x())
                 .arg(till.y()));
        QTest::mousePress(to, Qt::LeftButton, held, from);
        for (int i = 1; i <= 4 && to; ++i) {
            const QPoint here = from + (till - from) * i / 4;
            QMouseEvent move(QEvent::MouseMove, here, to->mapToGlobal(here), Qt::NoButton,
                             Qt::LeftButton, held);
            QApplication::sendEvent(to, &move);
            if (below(10) == 0 && to) act(true);  // a key pressed in the middle of it
        }
        if (to) QTest::mouseRelease(to, Qt::LeftButton, held, till);
    }
    void type() {
        static const std::vector<QString> words = {
            "0",    "1",   "7",       "120",      "-3",         "1e9",         "640*2",
            "",     "x",   "#ff8800", "0:03",     "A title %1", "<b>bold</b>", "/nowhere/at/all",
            "16:9", "nan", "100 %",   "[A] \\{b}"};
        const QString word = oneOf(words);
        const QList<QLineEdit*> lines = shown<QLineEdit>();
        const QList<QPlainTextEdit*> texts = shown<QPlainTextEdit>();
        if (!texts.isEmpty() && below(4) == 0) {
            tell("text: " + word);
            QTest::keyClicks(oneOf(texts), word);
            return;
        }
        if (lines.isEmpty()) return;
        QPointer<QLineEdit> line = oneOf(lines);
        if (line->isReadOnly()) return;
        tell("type: " + word + " into " + nameOf(line));
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, word);
        if (line && below(3) > 0) QTest::keyClick(line, Qt::Key_Return);
    }
    void wait() {
        tell("wait");
        QTest::qWait(below(200));
    }
    static QString nameOf(QWidget* one) {
        return QString("%1 \"%2\"").arg(one->metaObject()->className(), one->objectName());
    }
    void closeAll() {
        while (QWidget* popup = QApplication::activePopupWidget()) popup->close();
        while (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
            dialog->reject();
            QTest::qWait(10);
        }
    }
    // What would be saved is read back to the same bytes.
    void kitIsWhole() {
        const auto packed = packKit(session().kit());
        ASSERT_TRUE(packed) << packed.error().sentence();
        const auto back = unpackKit(*packed, good(schemaNamed("kit.schema.json")), "kit");
        ASSERT_TRUE(back) << back.error().sentence();
        EXPECT_EQ(good(packKit(*back)), *packed);
    }

    std::mt19937 chance_;
    std::vector<QString> trail_;

  protected:
    std::vector<QString> given_;
};

TEST_F(Restless, InAnEmptyWindow) {
    letGo(1);
}

TEST_F(Restless, InAnEmptyPiece) {
    session().files().openValue(test::kitWith("channel-banner", {2560, 1440}),
                                folder / "made.zlkit");
    letGo(2);
}

// One px, and as wide and as high as a frame may be.
TEST_F(Restless, InPiecesOfStrangeShapes) {
    for (const PixelSize frame : {PixelSize{1, 1}, {20'000, 3}, {2, 20'000}}) {
        session().files().openValue(test::kitWith("video-thumbnail", frame), folder / "made.zlkit");
        letGo(6);
    }
}

TEST_F(Restless, InTheDemoKit) {
    openDemo();
    letGo(3);
}

TEST_F(Restless, InAMovingPiece) {
    const Path clip = folder / "clip.mp4", kit = folder / "made.zlkit";
    test::clipOf(clip, {96, 54}, 25, [](int n) { return test::textured({96, 54}, 3 + n); });
    given_.push_back(QString::fromStdString(clip.string()));
    session().files().openValue(
        good(withClipOf(test::kitWith("moving-card", {320, 180}), "p", clip, kit)), kit);
    letGo(4);
}

TEST_F(Restless, AmongPhotographs) {
    window->showView(MainWindow::stamping);
    window->part<StampingView>()->desk().add({folder.path()}, false);
    letGo(5);
}

}  // namespace
}  // namespace zl::app
