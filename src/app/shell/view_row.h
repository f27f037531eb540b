// SPDX-License-Identifier: GPL-3.0-or-later
// The views of the window, one row a view. CONTRIBUTING.md tells how one is added.
#pragma once

#include <QString>
#include <functional>
#include <vector>

#include "base/file.h"

class QWidget;

namespace zl {
struct PixelRect;
}

namespace zl::app {

class MainWindow;

struct ViewParts {
    QWidget* view = nullptr;                       // in the middle
    QWidget* bench = nullptr;                      // on the right
    QWidget* foot = nullptr;                       // in the ledge's place; nothing: the ledge
    bool ofPiece = true;                           // it shows a piece: the rail stands beside it
    std::function<void()> shown{};                 // it came in front
    std::function<void()> left{};                  // another one is in front
    std::function<void()> worn{};                  // the theme is another
    std::function<void(const PixelRect&)> goTo{};  // shows a place of the piece
};

struct ViewRow {
    const char* id;
    QString title;
    const char* key;
    std::function<ViewParts(MainWindow&)> make;
};

// In the order of their tabs. `hostFolder` is where the stand-in host keeps what it accepts.
std::vector<ViewRow> viewRows(const Path& hostFolder);

}  // namespace zl::app
