// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>
#include <string_view>

#include "look/theme.h"
#include "watched.h"

int editWithoutEnd(const char* folder);

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", qEnvironmentVariableIsSet("QT_QPA_PLATFORM")
                                   ? qgetenv("QT_QPA_PLATFORM")
                                   : "offscreen");
    const QTemporaryDir caches;  // strips of videos are not left behind
    qputenv("XDG_CACHE_HOME", caches.path().toUtf8());
    zl::app::Watched app(argc, argv);
    QApplication::setOrganizationName("zinc-ledge-tests");
    QSettings::setDefaultFormat(QSettings::IniFormat);
    if (!zl::app::Theme::wear(app, "zinc-sheet")) return 1;
    if (argc == 3 && std::string_view(argv[1]) == "--edit-without-end")
        return editWithoutEnd(argv[2]);
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
