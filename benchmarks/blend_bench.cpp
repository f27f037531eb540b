// SPDX-License-Identifier: GPL-3.0-or-later
// The blend of twelve layers against Qt's raster painter on 8-bit premultiplied copies of the same
// layers.
#include <QImage>
#include <QPainter>

#include "pair.h"
#include "render/render.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

void blend(benchmark::State& state, PixelRect damage) {
    const TwelveLayers layers;
    const Kit kit = layers.kit();
    InkStore store;
    Straight8 out = must(render({kit.pieces[0], kit}, store));
    std::vector<QImage> copies;
    for (const Straight8& raster : layers.rasters)
        copies.push_back(QImage(raster.bytes(), raster.width(), raster.height(), raster.width() * 4,
                                QImage::Format_RGBA8888)
                             .convertToFormat(QImage::Format_ARGB32_Premultiplied));
    QImage target(frame.width, frame.height, QImage::Format_ARGB32_Premultiplied);
    compare(
        state,
        [&] {
            benchmark::DoNotOptimize(
                must(renderInto(out, damage, {kit.pieces[0], kit}, store).map([] { return 0; })));
        },
        [&] {
            QPainter painter(&target);
            painter.setClipRect(QRect(damage.left, damage.top, damage.width(), damage.height()));
            painter.setCompositionMode(QPainter::CompositionMode_Source);
            painter.fillRect(target.rect(), Qt::transparent);
            painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
            for (std::size_t i = 0; i < copies.size(); ++i)
                painter.drawImage(layers.places[i].left, layers.places[i].top, copies[i]);
        });
}

void fullFrame(benchmark::State& state) {
    blend(state, PixelRect::of(frame));
}
void damage640x360(benchmark::State& state) {
    blend(state, {600, 400, 1240, 760});
}

BENCHMARK(fullFrame)->UseManualTime()->Iterations(60)->Unit(benchmark::kMillisecond);
BENCHMARK(damage640x360)->UseManualTime()->Iterations(300)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
