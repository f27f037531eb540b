// SPDX-License-Identifier: GPL-3.0-or-later
// The other process of the recovery test: it opens a kit, keeps a journal, nudges a layer without
// end and says how far it is, until it is killed.
#include <QtTest>
#include <cstdio>

#include "base/data_files.h"
#include "shell/main_window.h"

int editWithoutEnd(const char* folder) {
    using namespace zl;
    const Path kept = folder;
    auto briefs = loadBriefs(dataFolder().value(), kept / "nobody");
    if (!briefs) return 1;
    app::MainWindow window(std::move(*briefs), app::viewRows(kept / "host"), {});
    window.show();
    window.session().journal().keepIn(kept / "journals");
    window.session().files().open(kept / "kit.zlkit");
    while (!window.session().piece()) QTest::qWait(20);
    window.session().choice().chooseLayer(1);
    for (;;) {
        QTest::keyClick(&window.canvas(), Qt::Key_Right);
        std::printf("at %d\n", static_cast<int>(window.session().layer()->lettering()->at.x));
        std::fflush(stdout);
        QTest::qWait(20);
    }
}
