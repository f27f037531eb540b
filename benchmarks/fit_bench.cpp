// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the best JPEG under a limit against trying every quality 1..100 in both chroma samplings.
#include <omp.h>

#include "base/data_files.h"
#include "base/parallel.h"
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
                if (static_cast<long long>(must(encode(picture, {Content::jpeg, q, chroma, Effort::release})).size()) <= limit)
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
        most = std::max(most, static_cast<int>(std::count_if(fitted.tried.begin(), fitted.tried.end(),
                                                             [&](const Tried& t) { return t.encoding.chroma == chroma; })));
    state.counters["encodes_a_sampling"] = most;
    state.counters["quality"] = fitted.encoding.quality;
    state.counters["best_of_all"] = best[static_cast<int>(fitted.encoding.chroma)];
}

// The release table of a 1280 x 720 piece against the slowest single encode in it.
// Against the slowest single encode on one processor, as every row of the table has one; `alone_ratio`: against one that has all of
// them to itself (the palette's library takes threads of its own where they are free).
void releaseTableAgainstItsSlowestRow(benchmark::State& state) {
    const Straight8 picture = demo::duskAtTheBox({1280, 720}, 7);
    const Briefs briefs = must(loadBriefs(must(dataFolder()), "/nowhere"));
    const Brief& brief = *briefs.find("video-thumbnail");
    double first = 0;
    std::vector<double> slowest, firsts, alone, tables;
    for (const Encoding& encoding : tableOf(brief)) slowest.push_back(milliseconds([&] { must(encode(picture, encoding)); }));
    const Encoding worst = tableOf(brief)[static_cast<std::size_t>(std::max_element(slowest.begin(), slowest.end()) - slowest.begin())];
    compare(
        state,
        [&] {
            first = 0;
            const auto start = std::chrono::steady_clock::now();
            const auto since = [&] { return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count(); };
            must(releaseTable(picture, brief, {}, {}, [&](std::size_t, const TableRow&) {
                if (first == 0) first = since();
            }));
            tables.push_back(since());
            firsts.push_back(first);
        },
        [&] {
            omp_set_num_threads(1);
            must(encode(picture, worst));
            omp_set_num_threads(coreCount());
        });
    for (int i = 0; i < 9; ++i) alone.push_back(milliseconds([&] { must(encode(picture, worst)); }));
    state.counters["first_row_ms"] = median(firsts);
    state.counters["alone_ms"] = median(alone);
    state.counters["alone_ratio"] = median(tables) / median(alone);
}

BENCHMARK(releaseTableAgainstItsSlowestRow)->UseManualTime()->Iterations(9)->Unit(benchmark::kMillisecond);
BENCHMARK(fitAgainstEveryQuality)->UseManualTime()->Iterations(3)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
