// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with the kit as a whole.
#include <QFileInfo>
#include <QInputDialog>
#include <QMenu>
#include <QProcess>

#include "edit/edits.h"
#include "look/theme.h"
#include "shell/actions.h"
#include "shell/main_window.h"

namespace zl::app {
namespace {

void fillRecentKits(MainWindow& window, QMenu& menu) {
    fillRecent(menu, "recentKits", [&window](const QString& file) {
        window.door().whenSafe(
            [&window, file] { window.session().files().open(file.toStdString()); });
    });
}

void openWindow(MainWindow& window) {
    if (!QProcess::startDetached(QCoreApplication::applicationFilePath(), {"--new"}))
        window.tell(Actions::tr("Another window could not be opened."), true);
}

void renameKit(MainWindow& window) {
    Session& session = window.session();
    auto* ask = new QInputDialog(&window);
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle(Actions::tr("Rename the kit"));
    ask->setLabelText(Actions::tr("Name of the channel"));
    ask->setTextValue(QString::fromStdString(session.kit().title));
    QObject::connect(ask, &QInputDialog::textValueSelected, &window,
                     [&session](const QString& name) {
                         if (!name.trimmed().isEmpty())
                             session.apply(withTitle(session.kit(), name.trimmed().toStdString()),
                                           Actions::tr("Rename the kit"));
                     });
    ask->open();
}

}  // namespace

void fillRecent(QMenu& menu, const char* what, const std::function<void(const QString&)>& run) {
    const QStringList files = recentFiles(what);
    for (const QString& file : files) {
        QAction* action = menu.addAction(literally(QFileInfo(file).fileName()), &menu,
                                         [file, run] { run(file); });
        action->setObjectName("recent");
        action->setToolTip(file);
    }
    if (files.isEmpty()) menu.addAction(Actions::tr("Nothing yet"))->setEnabled(false);
}

std::vector<ActionRow> kitActions() {
    const auto newKit = [](MainWindow& w) {
        w.door().whenSafe([&w] { w.session().files().newKit(); });
    };
    return {
        {.id = "newKit", .words = Actions::tr("New kit"), .key = QKeySequence::New, .run = newKit},
        {.id = "openKit",
         .words = Actions::tr("Open …"),
         .key = QKeySequence::Open,
         .run = [](MainWindow& w) { w.door().open(); }},
        {.id = "recentKits", .words = Actions::tr("Open recent"), .fill = fillRecentKits},
        {.id = "newWindow", .words = Actions::tr("New window"), .run = openWindow},
        {},
        {.id = "saveKit",
         .words = Actions::tr("Save"),
         .key = QKeySequence::Save,
         .run = [](MainWindow& w) { w.door().save(); }},
        {.id = "saveKitAs",
         .words = Actions::tr("Save as …"),
         .key = QKeySequence("Ctrl+Shift+S"),
         .run = [](MainWindow& w) { w.door().saveAs(); }},
        {.id = "renameKit", .words = Actions::tr("Rename the kit …"), .run = renameKit},
        {},
        {.id = "quit",
         .words = Actions::tr("Quit"),
         .key = QKeySequence("Ctrl+Q"),
         .run = [](MainWindow& w) { w.close(); }},
    };
}

}  // namespace zl::app
