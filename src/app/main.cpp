// SPDX-License-Identifier: GPL-3.0-or-later
// zinc-ledge: the window. Options: a kit to open; --demo FOLDER opens (and makes, when missing) the
// demo kit there;
// --shots FOLDER writes one picture per main view and ends.
#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>
#include <cstdio>
#include <string_view>

#include "base/data_files.h"
#include "demo/demo_kit.h"
#include "look/theme.h"
#include "shell/main_window.h"
#include "shell/shots.h"

namespace {

int complain(const zl::Error& error) {
    std::fprintf(stderr, "zinc-ledge: %s\n", error.sentence().c_str());
    return error.code == zl::Code::unwritable ? 4 : 3;
}

}  // namespace

namespace {

using namespace zl;
using namespace zl::app;

// What it can be told needs no display to be read.
void helpWithoutDisplay(int argc, char** argv) {
    for (int i = 1; i < argc; ++i)
        if (const std::string_view word = argv[i];
            word == "--help" || word == "-h" || word == "--version" || word == "-v")
            qputenv("QT_QPA_PLATFORM", "offscreen");
}

void endAtFirstPaint(QApplication& app, MainWindow& window) {
    QObject::connect(&window, &MainWindow::firstPainted, &app, [] {
        std::puts("painted");
        std::fflush(stdout);
        QTimer::singleShot(0, qApp, &QApplication::quit);
    });
}

void keepJournal(MainWindow& window) {
    window.session().journal().keepIn(personalFolder() / "recovery");
    // After the first frame: nothing is read before it.
    QObject::connect(&window, &MainWindow::firstPainted, &window,
                     [&window] { QTimer::singleShot(200, &window, &MainWindow::offerRecovery); });
}

}  // namespace

int main(int argc, char** argv) {
    using namespace zl;
    using namespace zl::app;
    helpWithoutDisplay(argc, argv);
    QApplication app(argc, argv);
    QApplication::setApplicationName("Zinc Ledge");
    QApplication::setOrganizationName("zinc-ledge");
    QApplication::setApplicationVersion(ZL_VERSION);
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QCommandLineParser words;
    words.addHelpOption();
    words.addVersionOption();
    words.addPositionalArgument("kit", "A kit to open (.zlkit)", "[kit]");
    const QCommandLineOption demo("demo", "Open the demo kit, made in FOLDER when it is not there.",
                                  "FOLDER");
    const QCommandLineOption shots("shots", "Write one picture per main view into FOLDER and end.",
                                   "FOLDER");
    const QCommandLineOption firstPaint(
        "first-paint", "Say when the first frame was painted, and end (for the benchmark).");
    const QCommandLineOption fresh("new",
                                   "Start with an empty kit, not with the one that was open last.");
    words.addOptions({demo, shots, firstPaint, fresh});
    words.process(app);

    const auto data = dataFolder();
    if (!data) return complain(data.error());
    auto briefs = loadBriefs(*data, personalFolder());
    if (!briefs) return complain(briefs.error());
    QString kit = words.positionalArguments().value(0);
    if (words.isSet(demo)) {
        const Path folder = words.value(demo).toStdString();
        const Path file = folder / demo::kitFileName;
        std::error_code none;
        if (!std::filesystem::exists(file, none)) {
            const auto made = demo::writeDemoKit(folder, Replace::yes);
            if (!made) return complain(made.error());
        }
        kit = QString::fromStdString(file.string());
    }
    const bool forShots = words.isSet(shots);
    std::optional<QTemporaryDir> work;  // what pictures for the documents leave behind
    if (forShots)
        QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, work.emplace().path());
    Theme::wear(app, forShots ? QString("zinc-sheet")
                              : QSettings().value("theme", "zinc-sheet").toString()) ||
        Theme::wear(app, "zinc-sheet");
    if (kit.isEmpty() && !words.isSet(fresh)) kit = KitFiles::lastKit();
    if (!kit.isEmpty()) kit = QFileInfo(kit).absoluteFilePath();
    const Path host =
        forShots ? Path(work->path().toStdString()) / "host" : personalFolder() / "host";
    MainWindow window(std::move(*briefs), viewRows(host), realDialogs());
    if (words.isSet(firstPaint))
        endAtFirstPaint(app, window);
    else if (!forShots)
        keepJournal(window);
    if (!kit.isEmpty()) window.session().files().open(kit.toStdString());
    window.show();
    std::unique_ptr<Shots> shooting;
    if (forShots) shooting = std::make_unique<Shots>(window, words.value(shots), work->path());
    return QApplication::exec();
}
