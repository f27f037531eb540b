// SPDX-License-Identifier: GPL-3.0-or-later
// One step of a drag in the real window: from the mouse event to the painted pixels, with the
// readings running along. Reference: Qt's raster painter drawing the whole piece once.
#include <QApplication>
#include <QElapsedTimer>
#include <QPainter>
#include <QtTest>

#include "base/data_files.h"
#include "drag.h"
#include "look/theme.h"
#include "pair.h"
#include "shell/main_window.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

// With finishes: each of the small layers carries an outline, a shadow and a glow.
void dragStep(benchmark::State& state) {
    const bool finishes = state.range(0) != 0;
    app::Theme::wear(*qApp, "zinc-sheet");
    const TwelveLayers layers;
    app::MainWindow window(must(loadBriefs(must(dataFolder()), "/nowhere")),
                           app::viewRows("/nowhere"), {});
    window.resize(1280, 800);
    window.show();
    Kit kit = layers.kit();
    if (finishes) {
        Piece piece = kit.pieces[0];
        for (std::size_t i = 4; i < piece.layers.size(); ++i)
            piece.layers[i].finishes = {outlineOf(6, {}), makeFinish("shadow"), makeFinish("glow")};
        kit = must(withChangedPiece(kit, piece));
    }
    window.session().files().openValue(kit, "twelve.zlkit");
    while (!window.readings().isCurrent("twelve")) QTest::qWait(20);
    std::optional<Drag> drag(std::in_place, window.canvas(), std::set<QWidget*>{&window.canvas()},
                             RealPoint{380, 350});
    std::vector<QImage> copies;
    for (const Straight8& raster : layers.rasters)
        copies.push_back(QImage(raster.bytes(), raster.width(), raster.height(), raster.width() * 4,
                                QImage::Format_RGBA8888)
                             .convertToFormat(QImage::Format_ARGB32_Premultiplied));
    QImage target(frame.width, frame.height, QImage::Format_ARGB32_Premultiplied);
    compare(
        state, [&] { drag->step(); },
        [&] {
            QPainter painter(&target);
            for (std::size_t i = 0; i < copies.size(); ++i)
                painter.drawImage(layers.places[i].left, layers.places[i].top, copies[i]);
        });
    state.counters["frames_a_second"] = drag->framesPerSecond();
    drag.reset();  // lets go
    // After the last edit: how long until every reading but the exact weight is of the new state.
    QElapsedTimer since;
    since.start();
    bool fresh = false;
    QObject::connect(&window.readings(), &app::ReadingsDesk::changed, &window,
                     [&](const QString& id) {
                         const app::PieceState* known = window.readings().state(id.toStdString());
                         fresh = fresh || (known && known->measured == *window.session().piece());
                     });
    Layer layer = window.session().kit().pieces[0].layers[5];
    window.session().apply(withChangedLayer(window.session().kit(), "twelve", moved(layer, 5, 5)),
                           "last edit");
    while (!fresh) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    state.counters["readings_ms"] = static_cast<double>(since.elapsed());
}

BENCHMARK(dragStep)->Arg(0)->Arg(1)->UseManualTime()->Iterations(120)->Unit(
    benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
