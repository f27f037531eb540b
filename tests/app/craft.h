// SPDX-License-Identifier: GPL-3.0-or-later
// What the tests of a piece's parts share: a piece with three bars, fields and menus.
#pragma once

#include <QAction>
#include <QComboBox>

#include "render/render.h"
#include "window.h"

namespace zl::app {

class CraftTest : public WindowTest {
  protected:
    void startEmpty(PixelSize frame = {640, 360}) {
        session().files().openValue(test::kitWith("free-frame", frame), folder / "craft.zlkit");
        window->canvas().setFocus();
    }
    // Three bars of 60 x 40.
    void threeBars() {
        startEmpty();
        for (const double x : {20.0, 200.0, 500.0}) {
            trigger("addBarAction");
            type("barColourText", "#336699");
            editPlace({x, x / 4 + 20, 60, 40});
        }
    }
    void editPlace(RealRect place) {
        session().editLayers(session().chosenIds(), "place", {},
                             [&](Layer& one) { test::barOf(one)->place = place; });
    }
    void choose(const char* field, int index) {
        auto* box = child<QComboBox>(field);
        box->setCurrentIndex(index);
        Q_EMIT box->activated(index);
    }
    void pick(const char* action) {
        auto* found = window->findChild<QAction*>(action);
        ASSERT_TRUE(found && found->isEnabled()) << action;
        found->trigger();
    }
    QPoint middleOf(const Layer& one) {
        const RealPoint c = boxOf(one).centre();
        return at(c.x, c.y);
    }
    Straight8 rendered() {
        InkStore store;
        return good(render({piece(), session().kit()}, store));
    }
};

}  // namespace zl::app
