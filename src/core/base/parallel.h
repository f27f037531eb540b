// SPDX-License-Identifier: GPL-3.0-or-later
// Work over rows, shared among threads. The outcome must not depend on who does which rows.
#pragma once

#include <algorithm>
#include <atomic>
#include <functional>
#include <thread>
#include <vector>

namespace zl {

inline int coreCount() {
    return std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
}

// Calls work(first, last) for pieces of [0, rows) of at most `step` rows, on up to `threads`
// threads; returns when all are done. One thread, or too few rows to share, runs in the caller.
// `work` must not throw.
template <class Work>
void overRows(int rows, int step, int threads, const Work& work) {
    const int pieces = (rows + step - 1) / step;
    threads = std::min(threads, pieces);
    std::atomic<int> next{0};
    const auto run = [&] {
        for (int piece = next++; piece < pieces; piece = next++)
            work(piece * step, std::min(rows, (piece + 1) * step));
    };
    std::vector<std::jthread> others;
    for (int i = 1; i < threads; ++i) others.emplace_back(run);
    run();
}

}  // namespace zl
