// SPDX-License-Identifier: GPL-3.0-or-later
// Places: a banner's picture dragged with every device window live, the zone reading, the wall of
// the demo kit, a stage that plays.
#include <QApplication>
#include <QElapsedTimer>
#include <QPainter>
#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "base/data_files.h"
#include "demo/demo_kit.h"
#include "drag.h"
#include "look/theme.h"
#include "measure/measure.h"
#include "pair.h"
#include "readings/alpha_sum.h"
#include "rehearse/rehearse_view.h"
#include "rehearse/wall_view.h"
#include "shell/main_window.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

std::unique_ptr<app::MainWindow> windowOf(const Kit& kit, const std::string& piece) {
    app::Theme::wear(*qApp, "zinc-sheet");
    auto window =
        std::make_unique<app::MainWindow>(must(loadBriefs(must(dataFolder()), "/nowhere")),
                                          app::viewRows("/nowhere"), app::Dialogs{});
    window->resize(1280, 800);
    window->show();
    window->session().files().openValue(kit, "demo.zlkit");
    window->session().choice().choosePiece(piece);
    while (!window->readings().isCurrent(piece)) QTest::qWait(20);
    return window;
}

// Reference: Qt's raster painter drawing the same banner once, all layers.
void bannerDrag(benchmark::State& state) {
    const Kit kit = must(demo::makeDemoKit()).kit;
    const auto window = windowOf(kit, "banner");
    std::optional<Drag> drag(
        std::in_place, window->canvas(),
        std::set<QWidget*>{&window->canvas(), window->findChild<QWidget*>("deviceStrip")},
        RealPoint{300, 200});
    InkStore store;
    const Straight8 ground = must(releaseFrame({*kit.piece("banner"), kit}, store));
    const QImage picture = QImage(ground.bytes(), ground.width(), ground.height(),
                                  ground.width() * 4, QImage::Format_RGBA8888)
                               .convertToFormat(QImage::Format_ARGB32_Premultiplied);
    QImage target(ground.width(), ground.height(), QImage::Format_ARGB32_Premultiplied);
    compare(
        state, [&] { drag->step(); },
        [&] {
            QPainter painter(&target);
            for (int i = 0; i < 4; ++i) painter.drawImage(i, i, picture);
        });
    state.counters["frames_a_second"] = drag->framesPerSecond();
    drag.reset();  // lets go
}

// Reference: OpenCV's integral images of the same alphas. `kept`: the layers were measured before
// and did not change.
void zoneReading(benchmark::State& state) {
    const bool kept = state.range(0) != 0;
    const Briefs briefs = must(loadBriefs(must(dataFolder()), "/nowhere"));
    const TwelveLayers layers;
    Kit kit = layers.kit();
    Piece piece = kit.pieces[0];
    piece.brief = "channel-banner";
    InkStore store;
    std::vector<LayerFacts> facts;
    for (const Layer& layer : piece.layers) {
        LayerFacts one;
        one.layer = layer.id;
        one.ink = must(store.ink(layer, kit, piece.frame));
        facts.push_back(one);
    }
    const Straight8 pixels = must(releaseFrame({piece, kit}, store));
    Subject subject;
    subject.brief = briefs.find("channel-banner");
    subject.pixels = &pixels;
    subject.piece = &piece;
    subject.layers = facts;
    if (kept)
        for (LayerFacts& one : facts) one.sum = std::make_shared<const AlphaSum>(*one.ink);
    std::vector<cv::Mat> alphas;
    for (const Straight8& raster : layers.rasters) {
        cv::Mat alpha(raster.height(), raster.width(), CV_8U);
        for (int y = 0; y < raster.height(); ++y)
            for (int x = 0; x < raster.width(); ++x)
                alpha.at<std::uint8_t>(y, x) = static_cast<std::uint8_t>(alphaOf(raster.row(y)[x]));
        alphas.push_back(alpha);
    }
    compare(
        state, [&] { benchmark::DoNotOptimize(measureZones(subject).findings.size()); },
        [&] {
            for (const cv::Mat& alpha : alphas) {
                cv::Mat sum;
                cv::integral(alpha, sum, CV_64F);
                benchmark::DoNotOptimize(sum.data);
            }
        });
}

// From a click on the wall to its last tile; the first one is told, too. Reference: Qt drawing a
// frame of 1280 x 720 for each tile.
void wallOfTheDemo(benchmark::State& state) {
    const auto window = windowOf(must(demo::makeDemoKit()).kit, "thumbnail");
    const auto measured = [&] {
        for (const Piece& piece : window->session().kit().pieces)
            if (!window->readings().isCurrent(piece.id)) return false;
        return true;
    };
    while (!measured()) QTest::qWait(20);
    window->showView(app::MainWindow::rehearse);
    auto* view = window->findChild<app::RehearseView*>();
    QImage source(1280, 720, QImage::Format_ARGB32_Premultiplied),
        target(1280, 720, QImage::Format_ARGB32_Premultiplied);
    source.fill(Qt::gray);
    double first = 0, tiles = 0;
    compare(
        state,
        [&] {
            app::WallView& wall = view->wall();
            wall.forget();
            QElapsedTimer since;
            since.start();
            view->showWall(true);
            while (wall.tiles() == 0) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
            first = static_cast<double>(since.elapsed());
            while (!wall.complete()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
            tiles = wall.tiles();
        },
        [&] {
            QPainter painter(&target);
            for (int i = 0; i < 55; ++i) painter.drawImage(i % 2, 0, source);
        });
    state.counters["first_ms"] = first;
    state.counters["tiles"] = tiles;
}

BENCHMARK(bannerDrag)->UseManualTime()->Iterations(120)->Unit(benchmark::kMillisecond);
BENCHMARK(zoneReading)
    ->Arg(0)
    ->Arg(1)
    ->UseManualTime()
    ->Iterations(20)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(wallOfTheDemo)->UseManualTime()->Iterations(5)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
