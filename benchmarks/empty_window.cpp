// SPDX-License-Identifier: GPL-3.0-or-later
#include <QApplication>
#include <QLabel>
#include <QMainWindow>
#include <QMenuBar>
#include <QTimer>
#include <cstdio>

namespace {

class Window : public QMainWindow {
  public:
    bool event(QEvent* event) override {
        const bool handled = QMainWindow::event(event);
        if (event->type() == QEvent::UpdateRequest) {
            std::puts("painted");
            std::fflush(stdout);
            QTimer::singleShot(0, qApp, &QApplication::quit);
        }
        return handled;
    }
};

}  // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    Window window;
    window.resize(1280, 800);
    for (const char* name : {"Kit", "Piece", "Layer", "View", "Help"}) {
        QMenu* menu = window.menuBar()->addMenu(name);
        for (int i = 0; i < 8; ++i) menu->addAction(QString("%1 %2").arg(name).arg(i));
    }
    window.setCentralWidget(new QLabel("An empty window"));
    window.show();
    return QApplication::exec();
}
