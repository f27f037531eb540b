// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/drop_door.h"

#include <QDropEvent>
#include <algorithm>

#include "shell/main_window.h"
#include "work/dropped_files.h"

namespace zl::app {

DropDoor::DropDoor(MainWindow& window) : QObject(&window), window_(window) {
    window.setAcceptDrops(true);
    window.installEventFilter(this);
}

bool DropDoor::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::DragEnter && event->type() != QEvent::Drop)
        return QObject::eventFilter(watched, event);
    auto* drag = static_cast<QDropEvent*>(event);
    if (!drag->mimeData()->hasUrls()) return false;
    drag->acceptProposedAction();
    if (event->type() == QEvent::Drop) take(droppedFiles(*drag->mimeData()));
    return true;
}

void DropDoor::take(const std::vector<Path>& files) {
    if (files.empty())
        return window_.session().tell(tr("Only files of this machine come in."), true);
    const auto isKit = [](const Path& file) { return endingOf(file) == ".zlkit"; };
    if (std::none_of(files.begin(), files.end(), isKit)) {
        window_.showView(MainWindow::make);
        return window_.session().intake().bringIn(files);
    }
    if (files.size() > 1)
        return window_.session().tell(tr("A kit is opened by itself; drop nothing else with it."),
                                      true);
    window_.door().whenSafe([this, file = files.front()] { window_.session().files().open(file); });
}

}  // namespace zl::app
