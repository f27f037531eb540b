// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the best JPEG under a limit against trying every quality 1..100 in both chroma samplings.
#include "base/data_files.h"
#include "encode/fit.h"
#include "pair.h"
#include "release/table.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

void fitAgainstEveryQuality(benchmark::State& state) {
    const Straight8 picture = demo::duskAtTheBox({640, 360}, 9);
    constexpr long long limit = 60'000;
    int best[2] = {0, 0};
    const auto everyQuality = [&] {
        for (const Chroma chroma : {Chroma::full, Chroma::half})
            for (int q = 1; q <= 100; ++q)
                if (static_cast<long long>(
                        must(encode(picture, {Content::jpeg, q, chroma, Effort::release}))
                            .size()) <= limit)
                    best[static_cast<int>(chroma)] = q;
    };
    Fitted fitted;
    compare(
        state,
        [&] {
            fitted = must(fitToLimit(picture, {{Content::jpeg}, limit, {}, {}, false}));
        },
        everyQuality);
    int most = 0;
    for (const Chroma chroma : {Chroma::full, Chroma::half})
        most = std::max(most, static_cast<int>(std::count_if(
                                  fitted.tried.begin(), fitted.tried.end(),
                                  [&](const Tried& t) { return t.encoding.chroma == chroma; })));
    state.counters["encodes_a_sampling"] = most;
    state.counters["quality"] = fitted.encoding.quality;
    state.counters["best_of_all"] = best[static_cast<int>(fitted.encoding.chroma)];
}

// All of a fit, what fits being held against the picture, too, against its encodes alone, one after
// another.
void fitAgainstItsEncodes(benchmark::State& state) {
    const Straight8 picture = demo::duskAtTheBox({1920, 1080}, 9);
    Fitted fitted;
    compare(
        state,
        [&] {
            fitted = must(fitToLimit(
                picture, {{Content::jpeg, Content::png, Content::gif}, 250'000, {}, {}, false}));
        },
        [&] {
            for (const Tried& t : fitted.tried) must(encode(picture, t.encoding));
        });
    state.counters["encodes"] = static_cast<double>(fitted.tried.size());
}

// The release table of a 1280 x 720 piece against the slowest single encode in it, which has all
// processors to itself.
void releaseTableAgainstItsSlowestRow(benchmark::State& state) {
    const Straight8 picture = demo::duskAtTheBox({1280, 720}, 7);
    const Briefs briefs = must(loadBriefs(must(dataFolder()), "/nowhere"));
    const Brief& brief = *briefs.find("video-thumbnail");
    double first = 0;
    std::vector<double> single, firsts;
    for (const Encoding& encoding : tableOf(brief))
        single.push_back(milliseconds([&] { must(encode(picture, encoding)); }));
    const Encoding slowest = tableOf(brief)[static_cast<std::size_t>(
        std::max_element(single.begin(), single.end()) - single.begin())];
    compare(
        state,
        [&] {
            first = 0;
            const auto start = std::chrono::steady_clock::now();
            must(releaseTable(picture, brief, {}, {}, [&](std::size_t, const TableRow&) {
                if (first == 0)
                    first = std::chrono::duration<double, std::milli>(
                                std::chrono::steady_clock::now() - start)
                                .count();
            }));
            firsts.push_back(first);
        },
        [&] { must(encode(picture, slowest)); });
    state.counters["first_row_ms"] = median(firsts);
}

BENCHMARK(releaseTableAgainstItsSlowestRow)
    ->UseManualTime()
    ->Iterations(25)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(fitAgainstItsEncodes)->UseManualTime()->Iterations(5)->Unit(benchmark::kMillisecond);
BENCHMARK(fitAgainstEveryQuality)->UseManualTime()->Iterations(3)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
