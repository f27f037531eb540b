// SPDX-License-Identifier: GPL-3.0-or-later
// From the start of the process to the first painted frame, with the demo kit, against a window of
// Qt Widgets with menus.
#include <cstdio>
#include <filesystem>
#include <string>

#include "demo/demo_kit.h"
#include "pair.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

// Returns when the program says that it has painted; what it does afterwards is not counted.
void untilPainted(const std::string& command, std::FILE*& pipe) {
    pipe = ::popen(command.c_str(), "r");
    char line[64];
    while (std::fgets(line, sizeof line, pipe) && std::string_view(line) != "painted\n") {
    }
}

void startToFirstPaint(benchmark::State& state) {
    const Path folder = std::filesystem::temp_directory_path() / "zinc-ledge-bench";
    const Path kit = must(demo::writeDemoKit(folder, Replace::yes));
    std::vector<double> mine, theirs;
    for (auto _ : state)
        for (const bool ours : {false, true}) {
            std::FILE* pipe = nullptr;
            const std::string command =
                ours ? "exec '" ZL_PROGRAM "' --first-paint '" + kit.string() + "' 2>/dev/null"
                     : "exec '" ZL_EMPTY_WINDOW "' 2>/dev/null";
            const double ms = milliseconds([&] { untilPainted(command, pipe); });
            ::pclose(pipe);
            (ours ? mine : theirs).push_back(ms);
            if (ours) state.SetIterationTime(ms / 1000);
        }
    state.counters["ours_ms"] = median(mine);
    state.counters["reference_ms"] = median(theirs);
    state.counters["ratio"] = median(mine) / median(theirs);
    std::filesystem::remove_all(folder);
}

BENCHMARK(startToFirstPaint)->UseManualTime()->Iterations(15)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
