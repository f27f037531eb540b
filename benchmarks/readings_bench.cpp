// SPDX-License-Identifier: GPL-3.0-or-later
// All readings of a 2560 x 1440 PNG against decoding it. `weight` costs nothing on a file: its
// bytes are counted already.
#include "base/data_files.h"
#include "brief/brief.h"
#include "pair.h"
#include "picture/decode.h"
#include "readings/reading.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

void measureFile(benchmark::State& state, const char* briefId) {
    const Briefs briefs = must(loadBriefs(must(dataFolder()), "/nowhere"));
    const Bytes bytes = must(encode(demo::duskAtTheBox(frame, 7), {}));
    const Picture picture = must(decode(bytes, "dusk.png"));
    Subject subject;
    subject.brief = briefs.find(briefId);
    subject.pixels = picture.pixels.get();
    subject.opaque = picture.opaque;
    subject.file.name = "dusk.png";
    subject.file.bytes = static_cast<long long>(bytes.size());
    subject.file.content = Content::png;
    compare(
        state, [&] { benchmark::DoNotOptimize(measureAll(subject)); },
        [&] { benchmark::DoNotOptimize(must(decode(bytes, "dusk.png")).opaque); });
}

void readingsOfAnOpaquePicture(benchmark::State& state) {
    measureFile(state, "video-thumbnail");
}

BENCHMARK(readingsOfAnOpaquePicture)
    ->UseManualTime()
    ->Iterations(20)
    ->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
