// SPDX-License-Identifier: GPL-3.0-or-later
// One edit of a kit of 200 pieces, as a step of a drag makes it, against a copy of all pieces by
// value, as a kit without shared pieces would make it.
#include "edit/edits.h"
#include "pair.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

void editOfAKitOf200Pieces(benchmark::State& state) {
    Kit kit = TwelveLayers().kit();
    const Piece first = kit.pieces[0];
    for (int i = 0; i < 199; ++i) {
        Piece more = first;
        more.id = "piece-" + std::to_string(i);
        kit.pieces.push_back(std::move(more));
    }
    const Kit before = kit;
    std::vector<Piece> byValue;
    for (const Piece& piece : before.pieces) byValue.push_back(piece);
    const Layer layer = first.layers[5];
    double by = 0;
    compare(
        state,
        [&] {
            benchmark::DoNotOptimize(
                must(withChangedLayer(before, first.id, moved(layer, ++by, 0))).pieces.size());
        },
        [&] {
            const std::vector<Piece> copy = byValue;
            benchmark::DoNotOptimize(copy.size());
        });
}

BENCHMARK(editOfAKitOf200Pieces)->UseManualTime()->Iterations(500)->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace zl::bench
