// SPDX-License-Identifier: GPL-3.0-or-later
// Work over rows, shared among threads. The outcome must not depend on who does which rows.
#pragma once

#include <algorithm>
#include <atomic>

#include "base/crew.h"

namespace zl {

// Calls work(first, last) for pieces of [0, rows) of at most `step` rows, on up to `threads`
// threads; returns when all are done. One thread, or too few rows to share, runs in the caller.
// What `work` throws is thrown here, when all threads have left it.
template <class Work>
void overRows(int rows, int step, int threads, const Work& work) {
    const int pieces = (rows + step - 1) / step;
    threads = std::min(threads, pieces);
    std::atomic<int> next{0};
    const auto run = [&] {
        for (int piece = next++; piece < pieces; piece = next++)
            work(piece * step, std::min(rows, (piece + 1) * step));
    };
    if (threads <= 1) return run();
    Crew::mine().share(threads - 1, run);
}

}  // namespace zl
