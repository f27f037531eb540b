// SPDX-License-Identifier: GPL-3.0-or-later
// Two ways of doing a thing, timed turn by turn in the same run: machines are noisy, so the ratio
// is what counts.
#pragma once

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <vector>

namespace zl::bench {

template <class Work>
double milliseconds(const Work& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start)
        .count();
}

inline double median(std::vector<double> values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

// Reports ours_ms, reference_ms (medians) and ratio; the benchmark's own time is ours.
template <class Ours, class Reference>
void compare(benchmark::State& state, const Ours& ours, const Reference& reference) {
    ours();
    reference();
    std::vector<double> mine, theirs;
    for (auto _ : state) {
        theirs.push_back(milliseconds(reference));
        mine.push_back(milliseconds(ours));
        state.SetIterationTime(mine.back() / 1000);
    }
    state.counters["ours_ms"] = median(mine);
    state.counters["reference_ms"] = median(theirs);
    state.counters["ratio"] = median(mine) / median(theirs);
}

}  // namespace zl::bench
